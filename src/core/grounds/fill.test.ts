import { fillNearest, fillSmooth } from './fill.ts'

const known = (values: Float32Array) => [...values].flatMap((v, i) => (v === v ? [i] : []))

/** A made-up grid with a round gap in it. */
function gappy(columns: number, rows: number, height: (i: number, j: number) => number): Float32Array {
  return Float32Array.from({ length: columns * rows }, (_, at) => {
    const [i, j] = [at % columns, Math.floor(at / columns)]
    return (i - columns / 2) ** 2 + (j - rows / 2) ** 2 < (Math.min(columns, rows) / 3) ** 2 ? NaN : height(i, j)
  })
}

describe('filling gaps', () => {
  const grid = gappy(41, 30, (i, j) => i * 3 - j)

  it('takes a value that is as near as any, by steps over sides', () => {
    const filled = fillNearest(grid, 41, 30)
    for (let at = 0; at < grid.length; at++) {
      const [i, j] = [at % 41, Math.floor(at / 41)]
      const steps = known(grid).map((k) => [Math.abs((k % 41) - i) + Math.abs(Math.floor(k / 41) - j), grid[k]])
      const least = Math.min(...steps.map(([n]) => n))
      expect(steps.some(([n, value]) => n === least && value === filled[at])).toBe(true)
    }
  })

  it('stretches an incline over a gap as the incline it is: the solution of Laplace’s equation', () => {
    const filled = fillSmooth(grid, 41, 30)
    let worst = 0
    for (let at = 0; at < grid.length; at++) worst = Math.max(worst, Math.abs(filled[at] - ((at % 41) * 3 - Math.floor(at / 41))))
    expect(worst).toBeLessThan(2)
    for (const k of known(grid)) expect(filled[k]).toBe(grid[k])
  })

  it('stays within what is there', () => {
    const rough = gappy(64, 64, (i, j) => 10 * Math.sin(i * 12.9898 + j * 78.233))
    const there = known(rough).map((k) => rough[k])
    for (const v of fillSmooth(rough, 64, 64)) expect(v >= Math.min(...there) && v <= Math.max(...there)).toBe(true)
  })
})
