import fc from 'fast-check'
import type { Beside } from '../../../testing/fields.ts'
import { boxShape, condition, hilly, imageOf, placesAt, solidOf, terrainOf, weighOnTerrain, surroundingsOf } from '../../../testing/fields.ts'
import { createSites } from '../../columns.ts'
import { slopeAt } from '../../grounds/pick.ts'
import type { Terrain } from '../../grounds/terrain.ts'
import { heightAt } from '../../grounds/terrain.ts'
import type { ParamValue } from '../../kinds.ts'
import { fractal2 } from '../../math/noise.ts'
import type { Combine, ConditionUse } from '../../meadow.ts'
import { groundOfSolid } from '../../grounds/mesh-ground.ts'
import { groundOfTerrain, placeOnTerrain } from '../../grounds/terrain-ground.ts'
import { createArena } from '../../stages/arena.ts'
import { anyOf, emptiedBy, judgePlace, prepareUse, turnedRound, warningsOf } from '../../stages/habitat.ts'
import type { Around } from '../../surroundings.ts'
import { bareSurroundings, NOTHING_AROUND, plantingsAround } from '../../surroundings.ts'

const SIDE = 50

/** Weights of a lattice of sites over a ground. */
function weighAll(terrain: Terrain, habitat: ConditionUse[], rest: Beside = {}, around: Around = NOTHING_AROUND, combine: Combine = 'all') {
  const sites = createSites(SIDE * SIDE)
  sites.count = SIDE * SIDE
  const places: [number, number][] = []
  for (let i = 0; i < sites.count; i++) {
    const x = terrain.bounds.x0 + (((i % SIDE) + 0.43) / SIDE) * terrain.sizeX
    const z = terrain.bounds.z0 + ((Math.floor(i / SIDE) + 0.57) / SIDE) * terrain.sizeZ
    places.push([x, z])
    sites.x[i] = x
    sites.z[i] = z
    sites.weight[i] = 1
    sites.addressLow[i] = i
  }
  weighOnTerrain({ habitat, combine, seed: 11 }, surroundingsOf(terrain, rest, 0), sites, around)
  const weights = new Float64Array(SIDE * SIDE)
  for (let i = 0; i < sites.count; i++) weights[sites.addressLow[i]] = sites.weight[i]
  return places.map(([x, z], i) => ({ x, z, weight: weights[i] }))
}

const smooth = (t: number) => (t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t))
const flat = terrainOf(() => 0)
const hills = hilly()
const only = (kind: string, params: Record<string, ParamValue>, how: Partial<ConditionUse> = {}) => [{ ...condition(kind, params), ...how }]

describe('image', () => {
  it.each([
    ['brightness', (r: number, g: number) => (0.2126 * r + 0.7152 * g + 0.0722 * 40) / 255],
    ['red', (r: number) => r / 255],
    ['green', (_r: number, g: number) => g / 255],
  ] as const)('%s of a picture of two slanting ramps weighs by the ramps, placed and turned', (channel, of) => {
    // Ramps are linear, so that blending between pixel centres gives them back exactly.
    const turn = 30
    const image = imageOf(64, 64, (i, j) => [3 * i, 2 * j, 40, 255], { x: 6, z: -9, sizeX: 40, sizeZ: 40, turn })
    const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
    let inside = 0
    for (const { x, z, weight } of weighAll(flat, only('image', { image: 'image', channel, value: { from: 0, to: null }, soft: 1 }), { images: [image] })) {
      const [dx, dz] = [x - 6, z + 9]
      const [u, v] = [(c * dx + s * dz) / 40 + 0.5, (-s * dx + c * dz) / 40 + 0.5]
      if (u < 0 || v < 0 || u > 1 || v > 1) {
        expect(weight).toBe(0)
        continue
      }
      inside++
      const [i, j] = [u, v].map((w) => Math.min(63, Math.max(0, w * 64 - 0.5)))
      expect(weight).toBeCloseTo(smooth(of(3 * i, 2 * j)), 6)
    }
    expect(inside).toBeGreaterThan(300)
  })

  it('beyond the picture is taken when asked', () => {
    const image = imageOf(4, 4, () => [0, 0, 0, 255], { sizeX: 20, sizeZ: 20 })
    for (const { x, z, weight } of weighAll(flat, only('image', { image: 'image', outside: 'take' }), { images: [image] }))
      expect(weight).toBe(Math.abs(x) <= 10 && Math.abs(z) <= 10 ? 0 : 1)
  })
})

describe('another planting', () => {
  const points = fc.array(fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true })), { minLength: 1, maxLength: 60 })

  it('keeps away or gathers by the distance to the nearest, against all pairs', () => {
    fc.assert(
      fc.property(points, fc.double({ min: 0.3, max: 40, noNaN: true }), (some, distance) => {
        const around: Around = plantingsAround(new Map([['other', placesAt(some, distance)]]))
        const near = weighAll(flat, only('planting', { planting: 'other', manner: 'near', distance, profile: 'straight' }), {}, around)
        const away = weighAll(flat, only('planting', { planting: 'other', manner: 'away', distance, profile: 'straight' }), {}, around)
        near.forEach(({ x, z, weight }, i) => {
          const nearest = Math.min(...some.map(([a, b]) => Math.hypot(Math.fround(a) - x, Math.fround(b) - z)))
          const wanted = Math.max(0, 1 - nearest / distance)
          expect(weight).toBeCloseTo(wanted, 6)
          expect(away[i].weight).toBeCloseTo(1 - wanted, 6)
        })
      }),
      { numRuns: 25 },
    )
  })

  it('a planting that is not known refuses nobody, not even the other way round', () => {
    for (const invert of [false, true])
      for (const { weight } of weighAll(flat, only('planting', { planting: 'other' }, { invert }))) expect(weight).toBe(1)
  })
})

describe('obstacle', () => {
  const box = { half: [4, 3, 2] as const, turn: 25, position: [7, 1, -6] as [number, number, number] }
  const solid = solidOf(boxShape(...box.half), { position: box.position, turn: [0, box.turn, 0] })
  const [c, s] = [Math.cos((box.turn * Math.PI) / 180), Math.sin((box.turn * Math.PI) / 180)]

  /** Distance from a line upright on the ground to the box, by closed form; the line is parallel to one of its axes. */
  function clear(x: number, y: number, z: number, tall: number): number {
    const [dx, dz] = [x - box.position[0], z - box.position[2]]
    // Turned back about Y.
    const [u, w] = [c * dx - s * dz, s * dx + c * dz]
    const out = (v: number, half: number) => Math.max(0, Math.abs(v) - half)
    const low = box.position[1] - box.half[1]
    const high = box.position[1] + box.half[1]
    const over = Math.max(0, y - high, low - (y + tall))
    return Math.hypot(out(u, box.half[0]), over, out(w, box.half[2]))
  }

  it.each(['shape', 'box'] as const)('judged by its %s keeps the margin on all sides of a turned box, in three dimensions', (precision) => {
    const [margin, soft, tall] = [0.8, 3, 1.2]
    let near = 0
    for (const { x, z, weight } of weighAll(hills, only('obstacle', { mesh: 'mesh', margin, soft, tall, precision }), { solids: [solid] })) {
      const away = clear(x, heightAt(hills, x, z), z, tall)
      const wanted = away < margin ? 0 : smooth((away - margin) / soft)
      if (wanted < 1) near++
      // The line is looked at in places: never nearer than it is, and 3 % of the reach too far at most.
      expect(Math.abs(weight - wanted)).toBeLessThan(0.09)
    }
    expect(near).toBeGreaterThan(40)
  })

  it('lets things stand under a raised deck and on none of it, but not by its footprint', () => {
    const deck = solidOf(boxShape(10, 0.2, 10), { position: [0, 3, 0] })
    const at = (precision: string, tall: number) =>
      weighAll(flat, only('obstacle', { mesh: 'mesh', margin: 0.3, tall, precision }), { solids: [deck] })
        .filter(({ x, z }) => Math.abs(x) < 9 && Math.abs(z) < 9)
        .map(({ weight }) => weight)
    expect(new Set(at('shape', 1))).toEqual(new Set([1]))
    expect(new Set(at('shape', 2.7))).toEqual(new Set([0]))
    expect(new Set(at('footprint', 1))).toEqual(new Set([0]))
  })

  it('nothing stands inside a closed body, however far its walls are', () => {
    const hall = solidOf(boxShape(20, 20, 20))
    for (const { x, z, weight } of weighAll(flat, only('obstacle', { mesh: 'mesh', margin: 0 }), { solids: [hall] }))
      expect(weight).toBe(Math.abs(x) < 20 && Math.abs(z) < 20 ? 0 : 1)
  })
})

describe('view', () => {
  const view = { id: 'view', name: 'View', position: [4, 20, 45] as [number, number, number], target: [0, 0, 5] as [number, number, number] }

  it('takes what falls inside the widened picture, by projecting every place', () => {
    const [margin, wide] = [3, 1.5]
    const tan = (deg: number) => Math.tan((deg * Math.PI) / 180)
    const high = Math.tan((21 * Math.PI) / 180 + (margin * Math.PI) / 180)
    const broad = Math.tan(Math.atan(tan(21) * wide) + (margin * Math.PI) / 180)
    const sub = (a: readonly number[], b: readonly number[]) => a.map((v, i) => v - b[i])
    const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, v, i) => sum + v * b[i], 0)
    const cross = (a: readonly number[], b: readonly number[]) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
    const norm = (a: readonly number[]) => a.map((v) => v / Math.hypot(...a))
    const ahead = norm(sub(view.target, view.position))
    const right = norm(cross(ahead, [0, 1, 0]))
    const up = cross(right, ahead)
    let seen = 0
    for (const { x, z, weight } of weighAll(flat, only('view', { view: 'view', margin, wide }), { views: [view] })) {
      const d = sub([x, 0, z], view.position)
      const depth = dot(d, ahead)
      const [h, v] = [Math.abs(dot(d, right)) / depth, Math.abs(dot(d, up)) / depth]
      if (Math.abs(h - broad) < 1e-6 || Math.abs(v - high) < 1e-6) continue
      expect(weight).toBe(depth > 0 && h < broad && v < high ? 1 : 0)
      seen += weight
    }
    expect(seen).toBeGreaterThan(200)
  })

  it('leaves out what lies behind a hill, unless it is asked for', () => {
    const wall = terrainOf((_x, z) => (Math.abs(z) < 3 ? 15 : 0))
    const low = { id: 'view', name: 'View', position: [0, 6, 48] as [number, number, number], target: [0, 4, 0] as [number, number, number] }
    const at = (hidden: boolean) => weighAll(wall, only('view', { view: 'view', hidden }), { views: [low] }).filter(({ x, z }) => z < -10 && Math.abs(x) < 8)
    expect(at(false).every(({ weight }) => weight === 0)).toBe(true)
    expect(at(true).filter(({ weight }) => weight === 1).length).toBeGreaterThan(50)
  })
})

describe('formula', () => {
  it.each([
    ['slope < 20', (x: number, z: number) => (slopeAt(hills, x, z) < 20 ? 1 : 0)],
    ['ramp(-2, 3, height) * 0.5', (x: number, z: number) => 0.5 * Math.min(1, Math.max(0, (heightAt(hills, x, z) + 2) / 5))],
    ['abs(x) > 10 && z <= 4 ? 1 : 0.25', (x: number, z: number) => (Math.abs(x) > 10 && z <= 4 ? 1 : 0.25)],
    ['0.5 + 0.5 * sin(x * 9) * cos(z * 7)', (x: number, z: number) => 0.5 + 0.5 * Math.sin((x * Math.PI) / 20) * Math.cos((z * 7 * Math.PI) / 180)],
    ['2 ^ -((x / 20) ^ 2 + (z / 20) ^ 2)', (x: number, z: number) => 2 ** -((x / 20) ** 2 + (z / 20) ** 2)],
    ['water > 0 || x % 7 < 2', (x: number, z: number) => (heightAt(hills, x, z) > 0 || x - 7 * Math.floor(x / 7) < 2 ? 1 : 0)],
  ] as const)('%s is worked out as it reads', (text, of) => {
    for (const { x, z, weight } of weighAll(hills, only('formula', { text }))) expect(weight).toBeCloseTo(Math.min(1, Math.max(0, of(x, z))), 8)
  })

  it('noise lies between 0 and 1 and is the noise that plantings use', () => {
    const weights = weighAll(flat, only('formula', { text: 'noise', size: 9 })).map(({ weight }) => weight)
    expect(Math.min(...weights)).toBeLessThan(0.3)
    expect(Math.max(...weights)).toBeGreaterThan(0.7)
    expect(new Set(weights.map((weight) => weight.toFixed(6))).size).toBeGreaterThan(1000)
    expect(Math.abs(fractal2(1, 0.3, 0.4, 2))).toBeLessThan(1)
  })

  it('that divides by zero takes nothing there and says so, with its share of the ground', () => {
    const surroundings = bareSurroundings(flat, 0)
    const planting = { habitat: only('formula', { text: '1 / max(x, 0)' }), combine: 'all' as const, seed: 1 }
    expect(warningsOf(planting, surroundings)[0]).toMatch(/gives no number on 5\d % of the ground.*max\(a, 0\.01\)/)
    expect(warningsOf({ ...planting, habitat: only('formula', { text: '1 / (1 + x * x)' }) }, surroundings)).toEqual([])
    expect(judgePlace({ ...planting, habitat: only('formula', { text: 'x / 0 - x / 0' }) }, surroundings, NOTHING_AROUND, placeOnTerrain(surroundings.terrain, 3, 3))[0]).toMatchObject({ weight: 0, finding: expect.stringContaining('no number') })
  })
})

describe('conditions together', () => {
  const left = condition('formula', { text: 'x < 10' }, 'left')
  const right = condition('formula', { text: 'ramp(0, 50, z)' }, 'right')

  it('all multiply, any takes the best, and inverting takes what was refused', () => {
    const all = weighAll(flat, [left, right])
    const any = weighAll(flat, [left, right], {}, NOTHING_AROUND, 'any')
    const inverted = weighAll(flat, [{ ...right, invert: true }])
    all.forEach(({ x, z, weight }, i) => {
      const [a, b] = [x < 10 ? 1 : 0, Math.min(1, Math.max(0, z / 50))]
      expect(weight).toBeCloseTo(a * b, 9)
      expect(any[i].weight).toBeCloseTo(Math.max(a, b), 9)
      expect(inverted[i].weight).toBeCloseTo(1 - b, 9)
    })
  })

  it('what leaves no ground is named', () => {
    const uses = [condition('height', { height: { from: 90, to: null } }), right]
    const arena = createArena()
    expect(emptiedBy({ habitat: uses, combine: 'all', seed: 1 }, bareSurroundings(flat, 0), [groundOfTerrain(flat)], arena)).toEqual({ label: 'Height', alone: true })
    // A mesh that reaches up there is left, and with it there is some ground.
    const tower = groundOfSolid(solidOf(boxShape(3, 100, 3), { position: [0, 0, 0] }))
    expect(emptiedBy({ habitat: uses.slice(0, 1), combine: 'all', seed: 1 }, bareSurroundings(flat, 0), [groundOfTerrain(flat), tower], arena)).toBeNull()
    expect(emptiedBy({ habitat: [condition('height', { height: { from: 101, to: null } })], combine: 'all', seed: 1 }, bareSurroundings(flat, 0), [tower], arena)).toEqual({ label: 'Height', alone: true })
  })

  it('conditions in conditions: each level has working columns of its own', () => {
    const surroundings = bareSurroundings(hilly(100, 101), 0)
    const [low, gentle, east] = [condition('height', { height: { from: null, to: 2 }, soft: 3 }), condition('slope', { slope: { from: null, to: 12 }, soft: 8 }), condition('facing', { towards: 90 })].map((use) => prepareUse(use, surroundings, 5))
    const arena = createArena()
    const ground = groundOfTerrain(surroundings.terrain)
    const weights = (weigh: typeof low) => {
      const sites = ground.lattice(40)
      ground.raise(sites)
      for (let i = 0; i < sites.count; i++) sites.weight[i] = 0.5 + 0.5 * ((i % 7) / 7)
      weigh(sites, NOTHING_AROUND, arena)
      return Float64Array.from(sites.weight.subarray(0, sites.count))
    }
    // Not (low or (gentle and not (east or low))), written out once more from the bare weights.
    const both: typeof low = (sites, around, lent) => {
      gentle(sites, around, lent)
      turnedRound(anyOf([east, low]))(sites, around, lent)
    }
    const nested = weights(turnedRound(anyOf([low, both])))
    const [l, g, e, one] = [low, gentle, east, () => undefined].map(weights)
    nested.forEach((weight, i) => {
      const [a, b, c] = [l[i] / one[i], g[i] / one[i], e[i] / one[i]]
      expect(weight).toBeCloseTo(one[i] * (1 - Math.max(a, b * (1 - Math.max(c, a)))), 9)
    })
    expect(new Set(nested).size).toBeGreaterThan(100)
  })
})
