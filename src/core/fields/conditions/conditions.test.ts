import fc from 'fast-check'
import type { Beside } from '../../../testing/fields.ts'
import { boxShape, condition, hilly, imageOf, outlineOf, placesAt, solidOf, terrainOf, weighOnTerrain, surroundingsOf, paintedOf } from '../../../testing/fields.ts'
import { createSites } from '../../columns.ts'
import { meanHeightAt, meanHeights } from '../../grounds/relief.ts'
import { slopeAt } from '../../grounds/pick.ts'
import type { Terrain } from '../../grounds/terrain.ts'
import { heightAt, landHeights } from '../../grounds/terrain.ts'
import { defaultsOf } from '../../kinds.ts'
import type { ParamValue } from '../../kinds.ts'
import type { Combine, ConditionUse, Outline } from '../../meadow.ts'
import { placeOnTerrain } from '../../grounds/terrain-ground.ts'
import { createArena } from '../../stages/arena.ts'
import { judgePlace } from '../../stages/habitat.ts'
import type { Around } from '../../surroundings.ts'
import { createCoverage } from '../coverage.ts'
import { bareSurroundings, NOTHING_AROUND, plantingsAround } from '../../surroundings.ts'
import { within } from './define.ts'
import { CONDITIONS } from './index.ts'

const SIDE = 60

const habitatOf = (habitat: ConditionUse[], seed: number, combine: Combine = 'all') => ({ habitat, combine, seed })

/** Weights of a lattice of sites over a ground, by place; those that were dropped weigh 0. */
function weigh(terrain: Terrain, kind: string, params: Record<string, ParamValue>, water = 0, outlines: readonly Outline[] = [], rest: Beside = {}, around: Around = NOTHING_AROUND, how: Partial<ConditionUse> = {}) {
  const sites = createSites(SIDE * SIDE)
  const places: [number, number][] = []
  for (let i = 0; i < SIDE * SIDE; i++) {
    const x = terrain.bounds.x0 + (((i % SIDE) + 0.37) / SIDE) * terrain.sizeX
    const z = terrain.bounds.z0 + ((Math.floor(i / SIDE) + 0.61) / SIDE) * terrain.sizeZ
    places.push([x, z])
    sites.x[i] = x
    sites.z[i] = z
    sites.weight[i] = 1
    sites.addressLow[i] = i
  }
  sites.count = SIDE * SIDE
  weighOnTerrain(habitatOf([{ ...condition(kind, params), ...how }], 11), surroundingsOf(terrain, { outlines, ...rest }, water), sites, around)
  const weights = new Float64Array(SIDE * SIDE)
  for (let i = 0; i < sites.count; i++) weights[sites.addressLow[i]] = sites.weight[i]
  return places.map(([x, z], i) => ({ x, z, weight: weights[i] }))
}

/** Smoothstep ramps just inside both ends, written out once more. */
function expected(value: number, from: number, to: number, soft: number): number {
  if (value < from || value > to) return 0
  const ramp = (t: number) => (soft > 0 && t < 1 ? 3 * t * t - 2 * t * t * t : 1)
  return ramp((value - from) / soft) * ramp((to - value) / soft)
}

const span = fc.tuple(fc.double({ min: -8, max: 8, noNaN: true }), fc.double({ min: 0, max: 8, noNaN: true }))

describe('conditions of height and slope', () => {
  const ground = hilly(200, 201)

  it('height weighs by the height of the ground', () => {
    fc.assert(
      fc.property(span, fc.double({ min: 0, max: 3, noNaN: true }), ([from, more], soft) => {
        const off = weigh(ground, 'height', { height: { from, to: from + more }, soft }).map(({ x, z, weight }) =>
          Math.abs(weight - expected(heightAt(ground, x, z), from, from + more, soft)),
        )
        expect(Math.max(...off)).toBeLessThan(1e-9)
      }),
      { numRuns: 20 },
    )
  })

  it('height above water weighs by the height over the water’s level', () => {
    const { soft } = defaultsOf(CONDITIONS.get('above-water').params)
    for (const water of [-3, 0, 2.5])
      for (const { x, z, weight } of weigh(ground, 'above-water', { above: { from: 0.4, to: 3 } }, water))
        expect(weight).toBeCloseTo(expected(heightAt(ground, x, z) - water, 0.4, 3, Number(soft)), 9)
  })

  // The second ground is flat but for one steep corner: most blocks are settled without a look.
  const corner = terrainOf((x, z) => (x > 55 && z > 60 ? 1.4 * (x - 55) : 0.01 * x), 200, 321)
  for (const [name, terrain] of [['hills', ground], ['a steep corner', corner]] as const)
    for (const [from, to] of [[null, 20], [8, null], [5, 30], [null, null], [0, 45]] as const)
      it(`slope ${from}° to ${to}° weighs by Horn’s slope, on ${name}`, () => {
        for (const { x, z, weight } of weigh(terrain, 'slope', { slope: { from, to }, soft: 6 })) {
          const low = from === null || from === 0 ? -Infinity : from
          expect(weight).toBeCloseTo(expected(slopeAt(terrain, x, z), low, to ?? Infinity, 6), 8)
        }
      })

  it('a weight inside a span is 1, outside 0, and narrowing never raises it', () => {
    fc.assert(
      fc.property(span, fc.double({ min: -9, max: 17, noNaN: true }), fc.double({ min: 0, max: 4, noNaN: true }), ([from, more], value, soft) => {
        const wide = within(value, from, from + more, soft)
        const narrow = within(value, from + 0.2 * more, from + 0.9 * more, soft)
        expect(narrow).toBeLessThanOrEqual(wide + 1e-12)
        expect(wide).toBeCloseTo(expected(value, from, from + more, soft), 9)
      }),
    )
  })
})

describe('patchiness', () => {
  const flat = terrainOf(() => 0, 300, 31)

  it.each([3, 9, 40])('patches of %d m cover their share within 1 %%, however soft their rims', (size) => {
    const side = 400
    const sites = createSites(side * side)
    for (const coverage of [0.1, 0.3, 0.8])
      for (const contrast of [1, 0.6, 0])
        for (const octaves of [1, 3]) {
          sites.count = side * side
          for (let i = 0; i < sites.count; i++) {
            sites.x[i] = ((i % side) + 0.5) * 0.75 - 150
            sites.z[i] = (Math.floor(i / side) + 0.5) * 0.75 - 150
            sites.weight[i] = 1
          }
          const { prepare, params } = CONDITIONS.get('patchiness')
          prepare({ ...defaultsOf(params), size, coverage, contrast, octaves }, { ...bareSurroundings(flat), seed: 77 })(sites, NOTHING_AROUND, createArena())
          const mean = sites.weight.reduce((sum, weight) => sum + weight, 0) / (side * side)
          expect(Math.abs(mean - coverage)).toBeLessThan(0.01)
        }
  })

  it('more coverage only adds ground', () => {
    const at = (coverage: number) => weigh(flat, 'patchiness', { size: 9, coverage, contrast: 1 })
    const shares = [0.1, 0.35, 0.6, 0.9].map((coverage) => at(coverage))
    shares.forEach((sites, k) => {
      if (k > 0) sites.forEach(({ weight }, i) => expect(weight).toBeGreaterThanOrEqual(shares[k - 1][i].weight - 1e-9))
    })
  })

  it('0 % covers nothing, 100 % everything', () => {
    expect(weigh(flat, 'patchiness', { coverage: 0 }).every(({ weight }) => weight === 0)).toBe(true)
    expect(weigh(flat, 'patchiness', { coverage: 1 }).every(({ weight }) => weight === 1)).toBe(true)
  })

  it('other patches are other ones, and not less of them', () => {
    const [a, b] = [0, 1].map((shift) => weigh(flat, 'patchiness', { size: 9, coverage: 0.5, contrast: 1, shift }))
    const same = a.filter(({ weight }, i) => weight > 0.5 === b[i].weight > 0.5).length / a.length
    expect(same).toBeGreaterThan(0.3)
    expect(same).toBeLessThan(0.7)
  })

  it('patches are about as wide as asked: crossings along a line grow with 1 / size', () => {
    const crossings = (size: number) => {
      const weights = weigh(flat, 'patchiness', { size, coverage: 0.5, contrast: 1, octaves: 1 })
      let count = 0
      for (let i = 1; i < weights.length; i++)
        if (i % SIDE !== 0 && weights[i].weight > 0.5 !== weights[i - 1].weight > 0.5) count++
      return count
    }
    const ratio = crossings(20) / crossings(40)
    expect(ratio).toBeGreaterThan(1.5)
    expect(ratio).toBeLessThan(2.7)
  })
})

describe('a habitat of several conditions', () => {
  it('multiplies them, whatever their order, and leaves out those switched off', () => {
    const terrain = hilly(120, 121)
    const all = [
      condition('height', { height: { from: -2, to: 5 }, soft: 2 }),
      condition('slope', { slope: { from: null, to: 25 }, soft: 8 }),
      { ...condition('above-water', { height: { from: 100, to: null } }), on: false },
    ]
    const weightsOf = (uses: typeof all) => {
      const sites = createSites(400)
      for (let i = 0; i < 400; i++) {
        sites.x[i] = (i % 20) * 5 - 48
        sites.z[i] = Math.floor(i / 20) * 5 - 48
        sites.weight[i] = 1
        sites.addressLow[i] = i
      }
      sites.count = 400
      weighOnTerrain(habitatOf(uses, 1), bareSurroundings(terrain, 0), sites)
      const weights = new Float64Array(400)
      for (let i = 0; i < sites.count; i++) weights[sites.addressLow[i]] = sites.weight[i]
      return weights
    }
    const forwards = weightsOf(all)
    expect(Array.from(weightsOf([...all].reverse()))).toEqual(Array.from(forwards))
    const sites = createSites(1)
    sites.count = 1
    let some = 0
    forwards.forEach((weight, i) => {
      sites.x[0] = (i % 20) * 5 - 48
      sites.z[0] = Math.floor(i / 20) * 5 - 48
      landHeights(terrain, sites)
      const slope = slopeAt(terrain, sites.x[0], sites.z[0])
      const product = expected(sites.y[0], -2, 5, 2) * expected(slope, -Infinity, 25, 8)
      expect(weight).toBeCloseTo(product, 8)
      if (product > 0 && product < 1) some++
    })
    expect(some).toBeGreaterThan(20)
  })
})

describe('patch', () => {
  // A square of 40 m with a hole of 10 m, so that distances to the rim have a closed form.
  const square = (half: number) => [-half, -half, half, -half, half, half, -half, half]
  const field = outlineOf('patch', [square(20), square(5)])
  const toSquare = (x: number, z: number, half: number) => {
    const dx = Math.abs(x) - half
    const dz = Math.abs(z) - half
    return dx <= 0 && dz <= 0 ? Math.max(dx, dz) : Math.hypot(Math.max(dx, 0), Math.max(dz, 0))
  }
  const depth = (x: number, z: number) => -Math.max(toSquare(x, z, 20), -toSquare(x, z, 5))
  const ramp = (t: number) => (t <= 0 ? 0 : t >= 1 ? 1 : 3 * t * t - 2 * t * t * t)

  it.each([0, 3])('grows inside only, or outside only, with a soft edge of %d m', (soft) => {
    for (const side of ['inside', 'outside'])
      for (const { x, z, weight } of weigh(terrainOf(() => 0), 'patch', { patch: 'patch', side, soft }, 0, [field])) {
        const inwards = side === 'inside' ? depth(x, z) : -depth(x, z)
        expect(weight).toBeCloseTo(soft > 0 ? ramp(inwards / soft) : inwards >= 0 ? 1 : 0, 9)
      }
  })

  it('limits nothing as long as no patch is chosen', () => {
    for (const { weight } of weigh(terrainOf(() => 0), 'patch', {}, 0, [field])) expect(weight).toBe(1)
  })
})

describe('distance to a path', () => {
  it('counts from the sides of the path', () => {
    const straight = outlineOf('path', [[-30, 5, 30, 5]], { width: 4 })
    for (const { x, z, weight } of weigh(terrainOf(() => 0), 'path', { path: 'path', away: { from: 1, to: 12 }, soft: 2 }, 0, [straight])) {
      const centre = Math.hypot(Math.max(0, Math.abs(x) - 30), z - 5)
      expect(weight).toBeCloseTo(expected(centre - 2, 1, 12, 2), 9)
    }
  })

  it.each(['straight', 'steep'] as const)('thins out all the way to its farthest distance (%s), the path itself taken in or not', (thins) => {
    const straight = outlineOf('path', [[-30, 5, 30, 5]], { width: 4 })
    for (const from of [null, 0, 2, -1])
      for (const { x, z, weight } of weigh(terrainOf(() => 0), 'path', { path: 'path', away: { from, to: 9 }, thins, soft: 3 }, 0, [straight])) {
        const away = Math.hypot(Math.max(0, Math.abs(x) - 30), z - 5) - 2
        // On the path itself it is as dense as at its edge.
        const start = Math.max(from ?? 0, 0)
        const t = Math.min(1, Math.max(0, (away - start) / (9 - start)))
        const wanted = away > 9 || (from !== null && away < from) ? 0 : thins === 'straight' ? 1 - t : (1 - t) ** 2
        // On the border itself sums round either way.
        if (Math.abs(away - 9) > 1e-9 && (from === null || Math.abs(away - from) > 1e-9)) expect(weight).toBeCloseTo(wanted, 9)
      }
  })

  it('has only its soft edge where there is no farthest distance', () => {
    const straight = outlineOf('path', [[-30, 5, 30, 5]], { width: 4 })
    const far = (thins: string) => weigh(terrainOf(() => 0), 'path', { path: 'path', away: { from: 3, to: null }, thins, soft: 2 }, 0, [straight])
    expect(far('straight')).toEqual(far('edge'))
  })

  it('sees a smooth closed path as a curve', () => {
    const corners = Array.from({ length: 16 }, (_, i) => [25 * Math.cos((i * Math.PI) / 8), 25 * Math.sin((i * Math.PI) / 8)]).flat()
    const round = outlineOf('path', [corners], { width: 0, closed: true, smooth: true })
    for (const { x, z, weight } of weigh(terrainOf(() => 0), 'path', { path: 'path', away: { from: null, to: 6 }, soft: 0 }, 0, [round])) {
      const off = Math.abs(Math.hypot(x, z) - 25)
      // The curve strays from the circle by centimetres.
      if (Math.abs(off - 6) > 0.1) expect(weight).toBe(off < 6 ? 1 : 0)
    }
  })
})

describe('facing', () => {
  // A cone looks away from its top everywhere.
  const cone = terrainOf((x, z) => -0.5 * Math.hypot(x, z), 100, 401)
  const apart = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180)

  it.each([0, 90, 200, 359])('keeps to slopes that look towards %d°, thinning out to either side', (towards) => {
    for (const { x, z, weight } of weigh(cone, 'facing', { towards, either: 70, soft: 25 })) {
      if (Math.hypot(x, z) < 8) continue
      const looks = (Math.atan2(x, -z) * 180) / Math.PI
      expect(Math.abs(weight - expected(apart(looks, towards), -Infinity, 70, 25))).toBeLessThan(0.03)
    }
  })

  it('takes level ground only when told, and all of the compass at 180°', () => {
    const flat = terrainOf(() => 3)
    for (const { weight } of weigh(flat, 'facing', {})) expect(weight).toBe(0)
    for (const { weight } of weigh(flat, 'facing', { level: true })) expect(weight).toBe(1)
    for (const { x, z, weight } of weigh(cone, 'facing', { either: 180, soft: 0 })) if (Math.hypot(x, z) > 2) expect(weight).toBe(1)
  })
})

describe('hollow or ridge', () => {
  it('knows a bowl: the mean within R lies a R² / 2 above a point of a (x² + z²)', () => {
    const bowl = terrainOf((x, z) => 0.02 * (x * x + z * z), 100, 201)
    for (const radius of [3, 10, 20]) {
      const means = meanHeights(bowl, radius)
      for (const [x, z] of [[0, 0], [12, -7], [-20, 15]])
        expect(meanHeightAt(means, x, z) - 0.02 * (x * x + z * z)).toBeCloseTo(0.01 * radius * radius, radius > 5 ? 1 : 2)
    }
    for (const { x, z, weight } of weigh(bowl, 'hollow', { over: { from: null, to: -0.5 }, radius: 10, soft: 0 }))
      if (Math.hypot(x, z) < 38) expect(weight).toBe(1)
  })

  it('is the height over the mean of a scan of the surroundings, at the rim of what is ground', () => {
    const terrain = hilly()
    const radius = 9
    const means = meanHeights(terrain, radius)
    for (const [x, z] of [[0, 0], [-31, 22], [48, -49], [-50, 3]]) {
      let sum = 0
      let count = 0
      for (let dx = -radius; dx <= radius; dx += 0.25)
        for (let dz = -radius; dz <= radius; dz += 0.25) {
          if (dx * dx + dz * dz > radius * radius || Math.abs(x + dx) > 50 || Math.abs(z + dz) > 50) continue
          sum += heightAt(terrain, x + dx, z + dz)
          count++
        }
      // The hills are 6 m high.
      expect(Math.abs(meanHeightAt(means, x, z) - sum / count)).toBeLessThan(0.15)
    }
  })
})

describe('distance to water', () => {
  it('counts from a straight shore, land above and water below 0', () => {
    const beach = terrainOf((x) => 0.1 * x)
    for (const { x, weight } of weigh(beach, 'from-water', { away: { from: -4, to: 15 }, soft: 3 }, 1))
      expect(weight).toBeCloseTo(expected(x - 10, -4, 15, 3), 4)
  })

  it('counts from the round shore of an island', () => {
    const island = terrainOf((x, z) => 20 - Math.hypot(x, z), 100, 401)
    for (const { x, z, weight } of weigh(island, 'from-water', { away: { from: 2, to: 6 }, soft: 1 }, 0))
      expect(Math.abs(weight - expected(20 - Math.hypot(x, z), 2, 6, 1))).toBeLessThan(0.02)
  })

  it('is beyond all limits where there is no water', () => {
    for (const { weight } of weigh(terrainOf(() => 1), 'from-water', {})) expect(weight).toBe(0)
    for (const { weight } of weigh(terrainOf(() => 1), 'from-water', { away: { from: 3, to: null } })) expect(weight).toBe(1)
  })
})

describe('every condition', () => {
  const terrain = hilly()
  const outlines = [outlineOf('patch', [[-20, -20, 15, -18, 22, 19, -17, 21]]), outlineOf('path', [[-40, 0, 0, 10, 40, -5]])]
  const rest: Beside = {
    images: [imageOf(16, 16, (i, j) => [16 * i, 16 * j, 128, 255])],
    views: [{ id: 'view', name: 'View', position: [0, 12, 60], target: [0, 0, 0] }],
    solids: [solidOf(boxShape(8, 6, 5), { position: [5, 2, -4], turn: [0, 30, 0] })],
  }
  const around: Around = {
    ...plantingsAround(new Map([['planting', placesAt([[3, 4], [-20, 11], [18, -30], [40, 22]], 60)]])),
    painted: new Map([['painter', createCoverage([paintedOf('sow', [0, 0], { radius: 60, soft: 1 })])]]),
  }
  const CHOSEN: Readonly<Record<string, Record<string, ParamValue>>> = {
    patch: { patch: 'patch' },
    path: { path: 'path' },
    image: { image: 'image' },
    view: { view: 'view' },
    obstacle: { mesh: 'mesh', soft: 30 },
    planting: { planting: 'planting', distance: 60 },
    painted: { planting: 'painter' },
  }
  const chosen = (kind: string) => CHOSEN[kind] ?? {}

  it.each(CONDITIONS.all.map(({ kind }) => kind))('%s says what it finds, with a number, and weighs a place alone as among others', (kind) => {
    const params = chosen(kind)
    const findings = new Set<string>()
    for (const { x, z, weight } of weigh(terrain, kind, params, 0.5, outlines, rest, around).filter((_, i) => i % 97 === 0)) {
      const [verdict] = judgePlace(habitatOf([condition(kind, params)], 11), surroundingsOf(terrain, { outlines, ...rest }, 0.5), around, placeOnTerrain(terrain, x, z))
      expect(verdict.weight).toBe(weight)
      expect(verdict.finding).toMatch(/\d/)
      expect(verdict.use).toBe(kind)
      findings.add(verdict.finding)
    }
    expect(findings.size).toBeGreaterThan(10)
  })

  it('that refuses most is named first, and those switched off are not asked', () => {
    const uses = [condition('height', { height: { from: null, to: null } }), condition('slope', { slope: { from: 80, to: 90 } }), { ...condition('patch', {}), on: false }]
    expect(judgePlace(habitatOf(uses, 1), bareSurroundings(terrain, 0), NOTHING_AROUND, placeOnTerrain(terrain, 3, 4)).map(({ use }) => use)).toEqual(['slope', 'height'])
  })
})
