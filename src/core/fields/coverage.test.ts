import fc from 'fast-check'
import { createSites } from '../columns.ts'
import type { Sites } from '../columns.ts'
import { paintedOf } from '../../testing/fields.ts'
import type { PaintedStroke } from './coverage.ts'
import { createCoverage, POINT } from './coverage.ts'

function sitesAt(places: readonly (readonly [number, number])[]): Sites {
  const sites = createSites(places.length)
  sites.count = places.length
  places.forEach(([x, z], i) => {
    sites.x[i] = x
    sites.z[i] = z
    sites.weight[i] = 1
  })
  return sites
}

/** Distance from a place to a line through points, by golden-section search along each piece: no projection is worked out. */
function awayFrom(points: Float64Array, x: number, z: number): number {
  let least = Infinity
  for (let k = 0; k < Math.max(1, points.length / POINT - 1); k++) {
    const [ax, az] = [points[POINT * k], points[POINT * k + 2]]
    const [bx, bz] = POINT * (k + 1) < points.length ? [points[POINT * (k + 1)], points[POINT * (k + 1) + 2]] : [ax, az]
    const at = (t: number) => Math.hypot(ax + t * (bx - ax) - x, az + t * (bz - az) - z)
    let [low, high] = [0, 1]
    for (let n = 0; n < 60; n++) {
      const [one, other] = [low + 0.382 * (high - low), low + 0.618 * (high - low)]
      if (at(one) < at(other)) high = other
      else low = one
    }
    least = Math.min(least, at(low), at(0), at(1))
  }
  return least
}

/** What strokes make of a coverage at a place, as the promise words it. */
function told(strokes: readonly PaintedStroke[], base: number, x: number, z: number, asset: number): number {
  return strokes.reduce((covered, { act, radius, soft, strength, assets, points }) => {
    if (assets.length > 0 && !assets.includes(asset)) return covered
    const into = (radius - awayFrom(points, x, z)) / (soft * radius || 1e-12)
    const t = Math.max(0, Math.min(1, into))
    const effect = into <= 0 ? 0 : strength * (3 * t * t - 2 * t * t * t)
    if (effect === 0) return covered
    return act === 'sow' ? Math.max(covered, effect) : act === 'clear' ? Math.min(covered, 1 - effect) : covered * (1 - effect)
  }, base)
}

const unit = fc.double({ min: 0, max: 1, noNaN: true })
const place = fc.tuple(unit, unit).map(([a, b]) => [60 * a - 30, 60 * b - 30] as const)
const stroke = fc
  .record({ act: fc.constantFrom('sow' as const, 'clear' as const, 'thin' as const), plan: fc.array(place, { minLength: 1, maxLength: 5 }), radius: unit, soft: unit, strength: unit, some: fc.boolean() })
  .map(({ act, plan, radius, soft, strength, some }) => paintedOf(act, plan.flat(), { radius: 1 + 12 * radius, soft: 0.1 + 0.9 * soft, strength, assets: some && act !== 'sow' ? [3] : [] }))

describe('coverage', () => {
  it('is what its strokes do one after the other, each by its distance alone', () => {
    fc.assert(
      fc.property(fc.array(stroke, { minLength: 1, maxLength: 7 }), fc.constantFrom(0, 1), fc.array(place, { minLength: 20, maxLength: 20 }), fc.constantFrom(-1, 3, 4), (strokes, base, places, asset) => {
        const sites = sitesAt(places)
        const coverage = createCoverage(strokes)
        places.forEach(([x, z], i) => expect(coverage.at(sites, i, base, asset)).toBeCloseTo(told(strokes, base, x, z, asset), 6))
      }),
      { numRuns: 300, seed: 11 },
    )
  })

  it('never piles up: a stroke drawn again, or across itself, does what it did', () => {
    fc.assert(
      fc.property(stroke.filter(({ act }) => act !== 'thin'), place, fc.constantFrom(0, 1), (one, [x, z], base) => {
        const sites = sitesAt([[x, z]])
        const once = createCoverage([one]).at(sites, 0, base, 3)
        expect(createCoverage([one, one, one]).at(sites, 0, base, 3)).toBe(once)
        const back = { ...one, points: Float64Array.of(...one.points, ...one.points) }
        if (one.points.length === POINT) expect(createCoverage([back]).at(sites, 0, base, 3)).toBe(once)
      }),
      { numRuns: 200, seed: 12 },
    )
  })

  it('is never less for all assets than for some, so that those can be dropped later', () => {
    fc.assert(
      fc.property(fc.array(stroke, { minLength: 1, maxLength: 8 }), place, fc.constantFrom(0, 1), (strokes, at, base) => {
        const sites = sitesAt([at])
        const coverage = createCoverage(strokes)
        expect(coverage.at(sites, 0, base, 3)).toBeLessThanOrEqual(coverage.at(sites, 0, base, -1))
      }),
      { numRuns: 300, seed: 13 },
    )
  })

  it('goes by the pressure along a stroke', () => {
    const pressed = paintedOf('sow', [0, 0, 10, 0], { radius: 2 })
    pressed.points[POINT + 6] = 0
    const sites = sitesAt([[0, 0], [5, 1], [10, 0]])
    const coverage = createCoverage([pressed])
    expect([0, 1, 2].map((i) => coverage.at(sites, i, 0, -1))).toEqual([1, 0.5, 0])
  })

  it('on a mesh reaches straight through space to what faces its own way, and not to the terrain', () => {
    const solid = { ...paintedOf('sow', [0, 0], { radius: 3 }), solid: true }
    solid.points.set([0, 5, 0, 0, 1, 0, 1])
    const sites = sitesAt([[0, 0], [0, 0], [0, 0], [2, 2]])
    sites.y.set([5, 4, 1, 5])
    expect(createCoverage([solid]).at(sites, 0, 0, -1)).toBe(0)
    sites.normals = { x: Float64Array.of(0, 0, 0, 0.9), y: Float64Array.of(1, -1, 1, 0.4), z: Float64Array.of(0, 0, 0, 0) }
    // Above, on the other side of a board a metre thick, four metres below, and beside it on a slope.
    expect([0, 1, 2, 3].map((i) => createCoverage([solid]).at(sites, i, 0, -1))).toEqual([1, 0, 0, 1])
  })
})
