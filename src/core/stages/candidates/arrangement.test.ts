import type { Share } from '../../meadow.ts'
import { assetOf, growAll, rowsOf, spreadOf, terrainOf } from '../../../testing/fields.ts'
import { clarkEvans } from '../../../testing/estimators.ts'
import { mix } from '../../math/random.ts'
import { evenShareOf, gatheringOf, indexOfGathering } from './arrangement.ts'

const SIDE = 200
const flat = terrainOf(() => 0, SIDE, 11)
const bare = { room: 0, size: { from: 1, to: 1 } }

const places = (params: Record<string, unknown>, seed = 7): [number, number][] =>
  rowsOf(growAll(spreadOf({ ...bare, by: 'density', placing: 'natural', ...params } as never, { seed }), flat)).map(({ x, z }) => [x, z])

describe('the estimator', () => {
  it('gives 2.149 for a hexagonal grid and 1 for random places, as published', () => {
    const grid: [number, number][] = []
    for (let j = -70; j <= 70; j++) for (let i = -70; i <= 70; i++) grid.push([i + (j & 1) / 2, (j * Math.sqrt(3)) / 2].map((v) => v * 1.2) as [number, number])
    const inside = grid.filter(([x, z]) => Math.abs(x) <= 50 && Math.abs(z) <= 50)
    expect(clarkEvans(inside, 100, 5)).toBeCloseTo(2.149, 1)
    const random = Array.from({ length: 20000 }, (_, i): [number, number] => [100 * (mix(2 * i) / 2 ** 32 - 0.5), 100 * (mix(2 * i + 1) / 2 ** 32 - 0.5)])
    // Standard error 0.26 % (0.5227 / √n).
    expect(Math.abs(clarkEvans(random, 100, 3) - 1)).toBeLessThan(0.015)
  })
})

describe('the dial of arrangement', () => {
  it.each([
    [0.7, 1, 6, 0.2],
    [0.7, 1, 6, 0.9],
    [0.75, 0.6, 9, 0],
    [0.8, 2, 5, 0.5],
    [0.9, 1, 4, 1],
    [0.97, 0.4, 8, 0.4],
    [1, 1, 6, 0.4],
    [1.1, 1, 6, 0.4],
    [1.2, 2.3, 6, 0.4],
    [1.29, 0.5, 6, 0.4],
    [1.45, 1.7, 6, 0.4],
    [1.6, 1, 6, 0.4],
  ])('R = %d is true to 0.05, at %d per m², clumps of %d m, looseness %d', (arrangement, density, clump, looseness) => {
    const points = places({ arrangement, density, clump, looseness })
    expect(Math.abs(points.length / (SIDE * SIDE * density) - 1)).toBeLessThan(0.08)
    expect(Math.abs(clarkEvans(points, SIDE, 12) - arrangement)).toBeLessThan(0.05)
  })

  it('more density only adds, and those that stay do not move, where they gather and where they keep apart', () => {
    for (const arrangement of [0.8, 1.3]) {
      const grow = (density: number) => new Map(rowsOf(growAll(spreadOf({ ...bare, by: 'density', placing: 'natural', arrangement, density, clump: 8 }), flat)).map((row) => [row.id, row]))
      const few = grow(1.05)
      const many = grow(1.9)
      const moved = [...few].filter(([id, { x, z }]) => many.get(id)?.x !== x || many.get(id)?.z !== z)
      expect(moved).toEqual([])
      expect(many.size).toBeGreaterThan(few.size)
    }
  })

  it('tiles cut otherwise hold the same instances, and no id is given twice', () => {
    const planting = spreadOf({ ...bare, by: 'density', placing: 'natural', arrangement: 0.75, density: 0.5 })
    const whole = rowsOf(growAll(planting, flat))
    expect(new Set(whole.map(({ id }) => id)).size).toBe(whole.length)
    expect(rowsOf(growAll(planting, flat, { side: 16, reverse: true }))).toEqual(whole)
  })

  it('the share of even candidates rises with the index, from none to all', () => {
    const shares = [1, 1.05, 1.2, 1.5, 1.9].map(evenShareOf)
    expect(shares[0]).toBe(0)
    expect(shares[4]).toBe(1)
    shares.forEach((share, i) => i > 0 && expect(share).toBeGreaterThan(shares[i - 1]))
  })

  it('a gathering of nobody is random, and the sum of both parts grows with the density', () => {
    expect(indexOfGathering(0, 3, 0.05)).toBeCloseTo(1, 2)
    let before = { gathered: 0, random: 0 }
    for (const density of [0.5, 0.7, 1, 1.4, 2]) {
      const { share } = gatheringOf(0.85, density, 6, 0.4)
      const now = { gathered: share * density, random: (1 - share) * density }
      expect(now.gathered).toBeGreaterThan(before.gathered)
      expect(now.random).toBeGreaterThan(before.random)
      before = now
    }
  })
})

describe('mixes', () => {
  const assets = ['a', 'b', 'c'].map((id) => assetOf(id, 0.1, []))
  const mixOf = [{ asset: 'a', share: 5 }, { asset: 'b', share: 3 }, { asset: 'c', share: 2 }]

  /** Share of nearest neighbours that are of the same kind. */
  function alike(rows: ReturnType<typeof rowsOf>): number {
    const sorted = [...rows].sort((p, q) => p.x - q.x)
    let same = 0
    sorted.forEach((row, i) => {
      let best = Infinity
      let kind = -1
      for (const step of [-1, 1])
        for (let k = i + step; k >= 0 && k < sorted.length && Math.abs(sorted[k].x - row.x) < best; k += step) {
          const d = Math.hypot(sorted[k].x - row.x, sorted[k].z - row.z)
          if (d < best) {
            best = d
            kind = sorted[k].asset
          }
        }
      if (kind === row.asset) same++
    })
    return same / rows.length
  }

  it('gather with their own kind as far as asked, and the shares stay true within 2 %', () => {
    const grow = (ownKind: number) => rowsOf(growAll(spreadOf({ ...bare, spacing: 1.2, ownKind, grove: 12 }, { mix: mixOf }), flat, { assets }))
    const [mingled, half, own] = [0, 0.5, 1].map(grow)
    for (const rows of [mingled, half, own])
      [0.5, 0.3, 0.2].forEach((share, asset) => expect(Math.abs(rows.filter((row) => row.asset === asset).length / rows.length - share)).toBeLessThan(0.02))
    // Mingled: the chance of meeting one's own kind is the sum of squared shares.
    expect(alike(mingled)).toBeCloseTo(0.38, 1)
    expect(alike(half)).toBeGreaterThan(alike(mingled) + 0.04)
    expect(alike(own)).toBeGreaterThan(0.7)
  })

  it('each prefers its own conditions: one planting grades from one kind to another', () => {
    const where = (text: string) => ({ id: text, kind: 'formula', on: true, invert: false, params: { text, size: 20 } })
    const rows = rowsOf(growAll(spreadOf({ ...bare, spacing: 1.2 }, { mix: [{ asset: 'a', share: 1, where: where('ramp(60, -60, x)') }, { asset: 'b', share: 1, where: where('ramp(-60, 60, x)') }] }), flat, { assets }))
    for (let x = -55; x <= 55; x += 10) {
      const band = rows.filter((row) => Math.abs(row.x - x) < 5)
      // Some 1,900 a band: three standard errors are 3.5 %.
      expect(Math.abs(band.filter((row) => row.asset === 1).length / band.length - (x + 60) / 120)).toBeLessThan(0.05)
    }
    expect(rows.every((row) => row.asset < 2)).toBe(true)
  })

  it('a preference shifts shares and empties nothing: as many stand as without it', () => {
    // Holds west of the middle.
    const where = { id: 'w', kind: 'formula', on: true, invert: false, params: { text: 'x < 0', size: 20 } }
    const grow = (mix: Share[]) => rowsOf(growAll(spreadOf({ ...bare, spacing: 1.2 }, { mix }), flat, { assets }))
    const plain = grow([{ asset: 'a', share: 60 }, { asset: 'b', share: 40 }])
    for (const elsewhere of [0, 0.1, 0.5, 1]) {
      const rows = grow([{ asset: 'a', share: 60 }, { asset: 'b', share: 40, where, elsewhere }])
      expect(rows.map(({ id }) => id).sort()).toEqual(plain.map(({ id }) => id).sort())
      const shareOf = (side: typeof rows) => side.filter(({ asset }) => asset === 1).length / side.length
      const [west, east] = [rows.filter(({ x }) => x < 0), rows.filter(({ x }) => x >= 0)]
      const wanted = (40 * elsewhere) / (60 + 40 * elsewhere)
      // Some 11,000 a side: four standard errors are 1.9 %.
      expect(Math.abs(shareOf(west) - 0.4)).toBeLessThan(0.02)
      expect(Math.abs(shareOf(east) - wanted)).toBeLessThan(0.02)
    }
  })

  it('only where nobody of the mix wants to be at all, nothing stands', () => {
    const holds = (text: string) => ({ id: text, kind: 'formula', on: true, invert: false, params: { text, size: 20 } })
    const rows = rowsOf(
      growAll(spreadOf({ ...bare, spacing: 1.2 }, { mix: [{ asset: 'a', share: 1, where: holds('x < -20'), elsewhere: 0 }, { asset: 'b', share: 1, where: holds('x > 20'), elsewhere: 0 }] }), flat, { assets }),
    )
    expect(rows.length).toBeGreaterThan(3000)
    for (const { x, asset } of rows) expect(asset === 0 ? x < -20 : x > 20).toBe(true)
  })
})
