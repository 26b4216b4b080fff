import type { Outline, Planting } from '../meadow.ts'
import { alongOutline, alongPolyline } from '../outlines/along.ts'
import { polylines } from '../outlines/outline.ts'
import { newOutline } from '../../document/new-planting.ts'
import { assetOf, growAll, hilly, paintedOf, rowsOf, spreadOf, surroundingsOf } from '../../testing/fields.ts'
import { createCoverage } from '../fields/coverage.ts'
import { PLANTINGS } from './index.ts'

const terrain = hilly(200, 201)
const path = (id: string, line: number[], rest: Partial<Outline> = {}): Outline => ({ ...newOutline({ kind: 'path', name: id, colour: '#000000', lines: [line], id }), ...rest })

function planting(lines: readonly Outline[], params: Planting['params']): Planting {
  return spreadOf({ every: 1, toSides: 2, turn: { from: 0, to: 0 }, size: { from: 1, to: 1 }, ...params }, { kind: 'strewn', along: lines.map(({ id }) => id) })
}

const strew = (lines: readonly Outline[], params: Planting['params'] = {}, rest: Parameters<typeof growAll>[2] = {}) =>
  rowsOf(growAll(planting(lines, params), terrain, { assets: [assetOf('a', 0.2)], outlines: lines, ...rest }))

/** From the west to the east, two stretches long. */
const STRAIGHT = path('straight', [-64, 5, 64, 5])

describe('what lies along a line', () => {
  it('has one for every so many metres, evenly: one in each of as many equal parts', () => {
    for (const every of [0.25, 1, 4]) {
      const rows = strew([STRAIGHT], { every })
      expect(rows.length).toBe(128 / every)
      const parts = new Set(rows.map(({ x }) => Math.floor((x + 64) / every)))
      expect(parts.size).toBe(rows.length)
    }
    // By chance alone, some parts stay empty: e⁻¹ of them.
    const random = strew([STRAIGHT], { every: 0.25, placing: 'random' })
    const parts = new Set(random.map(({ x }) => Math.floor((x + 64) / 0.25)))
    expect(random.length).toBe(512)
    expect(Math.abs(parts.size / 512 - (1 - Math.exp(-1)))).toBeLessThan(4 * Math.sqrt(0.1 / 512))
  })

  it.each([
    ['even', (u: number) => u],
    ['middle', (u: number) => 1 - (1 - u) ** 2],
  ] as const)('spreads to the sides as its profile says (%s): Kolmogorov–Smirnov against the closed form', (profile, cumulative) => {
    const rows = strew([STRAIGHT], { every: 0.02, toSides: 3, profile })
    const offs = rows.map(({ z }) => Math.abs(z - 5) / 3).sort((a, b) => a - b)
    const farthest = offs.reduce((most, off, k) => Math.max(most, Math.abs(cumulative(off) - k / offs.length), Math.abs(cumulative(off) - (k + 1) / offs.length)), 0)
    // α = 0.001
    expect(farthest).toBeLessThan(1.95 / Math.sqrt(offs.length))
    expect(offs.at(-1)).toBeLessThanOrEqual(1)
    const left = rows.filter(({ z }) => z < 5).length
    expect(Math.abs(left / rows.length - 0.5)).toBeLessThan(3.3 * Math.sqrt(0.25 / rows.length))
  })

  it('keeps to one side where asked: left is to the north of one who goes east', () => {
    for (const { z } of strew([STRAIGHT], { sides: 'left' })) expect(z).toBeLessThanOrEqual(5)
    for (const { z } of strew([STRAIGHT], { sides: 'right' })) expect(z).toBeGreaterThanOrEqual(5)
    for (const { z } of strew([STRAIGHT], { toSides: 0 })) expect(z).toBeCloseTo(5, 5)
  })

  it('only gains by more, however the ground is cut up, and each line is its own', () => {
    const bent = path('bent', [-60, -60, -20, 40, 10, -50, 70, 60], { smooth: true })
    const wide = strew([bent, STRAIGHT], { every: 1.3 })
    const close = new Map(strew([bent, STRAIGHT], { every: 0.4 }).map((row) => [row.id, row]))
    expect(wide.length).toBeGreaterThan(250)
    for (const { id, x, y, z } of wide) expect(close.get(id)).toMatchObject({ x, y, z })
    for (const side of [8, 64]) expect(strew([STRAIGHT, bent], { every: 1.3 }, { side, reverse: true })).toEqual(wide)
    const alone = strew([bent], { every: 1.3 })
    const other = new Set(strew([STRAIGHT], { every: 1.3 }).map(({ id }) => id))
    expect(alone).toEqual(wide.filter(({ id }) => !other.has(id)))
    const coarse = strew([bent, STRAIGHT], { every: 1.3 }, { part: 0.3 })
    expect(coarse.length).toBeGreaterThan(30)
    expect(coarse.every(({ id }) => wide.some((row) => row.id === id))).toBe(true)
  })

  it('never lies farther from a curved line than its spread, and fills all of its length', () => {
    const curved = path('curved', [-60, 0, -20, 30, 20, -30, 60, 0], { smooth: true })
    const rows = strew([curved], { every: 0.2, toSides: 1.5 })
    const [line] = polylines(curved)
    const nearest = ({ x, z }: { x: number; z: number }) => {
      let [best, at, gone] = [Infinity, 0, 0]
      for (let k = 0; k + 3 < line.length; k += 2) {
        const [ax, az, bx, bz] = line.slice(k, k + 4)
        const long = Math.hypot(bx - ax, bz - az)
        const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (z - az) * (bz - az)) / (long * long)))
        const off = Math.hypot(x - ax - t * (bx - ax), z - az - t * (bz - az))
        if (off < best) [best, at] = [off, gone + t * long]
        gone += long
      }
      return { off: best, at }
    }
    const { length } = alongOutline(curved)[0]
    const along = rows.map((row) => nearest(row))
    for (const { off } of along) expect(off).toBeLessThanOrEqual(1.5 + 1e-4)
    const bins = new Array<number>(20).fill(0)
    for (const { at } of along) bins[Math.min(19, Math.floor((20 * at) / length))]++
    // On bends the nearest place is a little off: within a quarter.
    for (const n of bins) expect(Math.abs(n / (rows.length / 20) - 1)).toBeLessThan(0.25)
  })

  it('is cleared by a brush, and tells why nothing lies elsewhere', () => {
    const all = strew([STRAIGHT], { every: 0.5 })
    const near = { known: { x0: -1e9, z0: -1e9, x1: 1e9, z1: 1e9 }, rooms: [], elsewhere: [], around: { plantings: new Map(), painted: new Map([['spread', createCoverage([paintedOf('clear', [0, 5], { radius: 10 })])]]) } }
    expect(strew([STRAIGHT], { every: 0.5 }, { near })).toEqual(all.filter(({ x, z }) => Math.hypot(x, z - 5) >= 10))
    const { bars, needs } = PLANTINGS.get('strewn')
    const own = planting([STRAIGHT], {})
    const at = (x: number, z: number) => bars(own, surroundingsOf(terrain, { outlines: [STRAIGHT] }), { ground: 'terrain', place: { x, y: 0, z, normal: null } })
    expect(at(0, 6)).toBeNull()
    expect(at(0, 9)).toBe('This place is 4 m from the nearest of its lines; things lie up to 2 m from them.')
    expect(needs({ ...own, along: [] })).toContain('draw a line')
    expect(needs(own)).toBeNull()
  })

  it('takes lines of no length, doubled points and closed ones', () => {
    expect(strew([path('dot', [3, 3])])).toEqual([])
    expect(strew([path('twice', [3, 3, 3, 3])])).toEqual([])
    const ring = path('ring', [-16, -16, 16, -16, 16, 16, -16, 16], { closed: true })
    expect(strew([ring], { toSides: 0, every: 2 }).length).toBe(64)
    const gone = { ...planting([], {}), along: ['gone'] }
    expect(rowsOf(growAll(gone, terrain))).toEqual([])
  })
})

describe('a line by the length that is gone along it', () => {
  it('is where a walk along its pieces comes to', () => {
    const [line] = polylines(path('walk', [0, 0, 30, 10, 40, -20, 90, 0], { smooth: true }))
    const along = alongPolyline(line)
    const on = { x: 0, z: 0, wayX: 0, wayZ: 0 }
    let gone = 0
    let k = 0
    const marks = Array.from({ length: 50 }, (_, n) => (along.length * n) / 50)
    for (let p = 0; p + 3 < line.length; p += 2) {
      const [ax, az, bx, bz] = line.slice(p, p + 4)
      const long = Math.hypot(bx - ax, bz - az)
      while (k < marks.length && marks[k] <= gone + long) {
        const t = (marks[k] - gone) / long
        along.at(marks[k++], on)
        expect(Math.hypot(on.x - ax - t * (bx - ax), on.z - az - t * (bz - az))).toBeLessThan(1e-9)
        expect(on.wayX * (bx - ax) + on.wayZ * (bz - az)).toBeCloseTo(long, 9)
      }
      gone += long
    }
    expect(k).toBe(50)
    along.at(-5, on)
    expect([on.x, on.z]).toEqual([0, 0])
    along.at(1e9, on)
    expect([on.x, on.z]).toEqual([90, 0])
  })
})
