import fc from 'fast-check'
import { outlineOf } from '../../testing/fields.ts'
import type { Bed } from './bed.ts'
import { framesOfBed, mostInBeds } from './bed.ts'

const BED: Bed = { every: 1, rowsApart: 1, staggered: 0, runs: 90, inset: 0, facing: 'ahead', level: 'mean' }
const flat = () => 0

/** Whether a place lies within rings by the even–odd rule: by crossings of a ray. */
function within(lines: readonly (readonly number[])[], x: number, z: number): boolean {
  let odd = false
  for (const line of lines)
    for (let i = 0, j = line.length - 2; i < line.length; j = i, i += 2) {
      const [ax, az, bx, bz] = [line[i], line[i + 1], line[j], line[j + 1]]
      if (az > z !== bz > z && x < ((bx - ax) * (z - az)) / (bz - az) + ax) odd = !odd
    }
  return odd
}

/** Distance to the nearest side, by trying all. */
function rimAway(lines: readonly (readonly number[])[], x: number, z: number): number {
  let least = Infinity
  for (const line of lines)
    for (let i = 0, j = line.length - 2; i < line.length; j = i, i += 2) {
      const [ax, az, dx, dz] = [line[j], line[j + 1], line[i] - line[j], line[i + 1] - line[j + 1]]
      const t = Math.max(0, Math.min(1, ((x - ax) * dx + (z - az) * dz) / (dx * dx + dz * dz || 1)))
      least = Math.min(least, Math.hypot(x - ax - t * dx, z - az - t * dz))
    }
  return least
}

describe('rows within a patch', () => {
  it('fill a rectangle, its rim too, as counted', () => {
    const patch = outlineOf('patch', [[2, 3, 14, 3, 14, 11, 2, 11]])
    const frames = framesOfBed([patch], { ...BED, every: 2, rowsApart: 4 }, flat)
    // Seven along 12 m, three rows over 8 m.
    expect(frames.count).toBe(21)
    const places = Array.from({ length: 21 }, (_, k) => `${frames.place[3 * k].toFixed(6)} ${frames.place[3 * k + 2].toFixed(6)}`)
    expect(new Set(places)).toEqual(new Set([3, 7, 11].flatMap((z) => [2, 4, 6, 8, 10, 12, 14].map((x) => `${x.toFixed(6)} ${z.toFixed(6)}`))))
    // The first of each row is number 0, the last number 6 of 7.
    expect([...frames.index].sort((a, b) => a - b)).toEqual([0, 1, 2, 3, 4, 5, 6].flatMap((k) => [k, k, k]))
    expect([...new Set(frames.of)]).toEqual([7])
  })

  it('are all the places of a turned, staggered lattice within the patch and so far from its rim, holes free: by brute force', () => {
    const star = Array.from({ length: 14 }, (_, k) => [Math.round(100 * (k % 2 ? 9 : 20) * Math.cos((k * Math.PI) / 7)) / 100, Math.round(100 * (k % 2 ? 9 : 20) * Math.sin((k * Math.PI) / 7)) / 100]).flat()
    const lines = [star, [-3, -3, 4, -2, 3, 3, -2, 4]]
    const patch = outlineOf('patch', lines)
    fc.assert(
      fc.property(fc.double({ min: 0.6, max: 4, noNaN: true }), fc.double({ min: 0.6, max: 4, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 360, noNaN: true }), fc.double({ min: 0, max: 2, noNaN: true }), (every, rowsApart, staggered, runs, inset) => {
        const frames = framesOfBed([patch], { ...BED, every, rowsApart, staggered, runs, inset }, flat)
        const angle = (runs * Math.PI) / 180
        const wanted = new Set<string>()
        const close = new Set<string>()
        for (let row = -80; row <= 80; row++)
          for (let k = -80; k <= 80; k++) {
            const along = (k + (row % 2 === 0 ? 0 : staggered)) * every
            const [x, z] = [star[0] + along * Math.sin(angle) + row * rowsApart * Math.cos(angle), star[1] - along * Math.cos(angle) + row * rowsApart * Math.sin(angle)]
            const away = rimAway(lines, x, z)
            const name = `${k} ${row}`
            if (Math.abs(away - inset) < 1e-5) close.add(name)
            else if (within(lines, x, z) && away > inset) wanted.add(name)
          }
        const got = new Set(Array.from(frames.low, (low) => `${(low & 0xffff) - 32768} ${(low >>> 16) - 32768}`))
        for (const name of wanted) expect(got.has(name)).toBe(true)
        for (const name of got) expect(wanted.has(name) || close.has(name)).toBe(true)
        expect(frames.count).toBe(got.size)
        expect(mostInBeds([patch], { every, rowsApart })).toBeGreaterThanOrEqual(0.4 * frames.count)
      }),
      { numRuns: 25 },
    )
  })

  it('keep their members where the rim is changed elsewhere, and look where they are to', () => {
    const of = (line: number[]) => framesOfBed([outlineOf('patch', [line], { id: 'bed' })], { ...BED, runs: 30, facing: 'right' }, flat)
    const few = of([0, 0, 12, 2, 9, 11])
    const many = of([0, 0, 12, 2, 20, 20, 9, 11])
    const places = new Map(Array.from(many.low, (low, k) => [`${low} ${many.high[k]}`, [many.place[3 * k], many.place[3 * k + 2]]]))
    for (let k = 0; k < few.count; k++) expect(places.get(`${few.low[k]} ${few.high[k]}`)).toEqual([few.place[3 * k], few.place[3 * k + 2]])
    expect(many.count).toBeGreaterThan(few.count)
    // A front that looks south is turned to 120° of the compass: by 60° against the clock.
    const half = 2 * Math.atan2(few.turn[1], few.turn[3])
    expect(Math.abs(half)).toBeCloseTo(Math.PI / 3, 9)
  })

  it('stand as high as the highest, the mean or the lowest of the rim', () => {
    const height = (x: number, z: number) => x + 2 * z
    const patch = outlineOf('patch', [[0, 0, 6, 0, 6, 6, 0, 6]])
    for (const [level, wanted] of [['high', 18], ['mean', 9], ['low', 0]] as const) expect(framesOfBed([patch], { ...BED, level }, height).place[1]).toBe(wanted)
  })

  it('are none without a patch, and too many are refused', () => {
    expect(framesOfBed([outlineOf('path', [[0, 0, 9, 9]])], BED, flat).count).toBe(0)
    expect(() => framesOfBed([outlineOf('patch', [[0, 0, 900, 0, 900, 900, 0, 900]])], BED, flat)).toThrow('at most')
  })
})
