import fc from 'fast-check'
import { boxShape } from '../../../testing/fields.ts'
import type { MeshShape } from '../../grounds/mesh-shape.ts'
import { evenOnSurface } from './even-order.ts'
import type { SurfacePlaces } from './surface.ts'
import { areaSums } from './surface.ts'

/** The same triangles as another shape, of which nothing is kept. */
const fresh = (shape: MeshShape): MeshShape => ({ positions: shape.positions.slice(), indices: shape.indices.slice() })
const listed = ({ count, places, triangle, number, level, rank }: SurfacePlaces) =>
  Array.from({ length: count }, (_, k) => [...places.subarray(3 * k, 3 * k + 3), triangle[k], number[k], level[k], rank[k]])

/** Nearest of any two, by looking at all pairs. */
function leastApart({ count, places }: SurfacePlaces): number {
  let least = Infinity
  for (let a = 0; a < count; a++)
    for (let b = 0; b < a; b++) least = Math.min(least, Math.hypot(places[3 * a] - places[3 * b], places[3 * a + 1] - places[3 * b + 1], places[3 * a + 2] - places[3 * b + 2]))
  return least
}

describe('the order of evenly spaced places over a surface', () => {
  it('is read off the same whatever was asked for before', () => {
    const box = boxShape(3, 2, 4)
    const kept = fresh(box)
    // Spacings of two octaves, in any order, now and then of another throw.
    const asked = fc.record({ seed: fc.integer({ min: 1, max: 3 }), spacing: fc.integer({ min: 26, max: 99 }).map((n) => n / 100) })
    fc.assert(
      fc.property(asked, ({ seed, spacing }) => {
        expect(listed(evenOnSurface(kept, seed, spacing))).toEqual(listed(evenOnSurface(fresh(box), seed, spacing)))
      }),
      { numRuns: 40, seed: 20261126 },
    )
  })

  it('keeps every spacing, and begins with what wider ones of the octave take', () => {
    const shape = boxShape(3, 2, 4)
    let wider: unknown[][] = []
    for (let spacing = 0.98; spacing > 0.5; spacing -= 0.04) {
      const places = evenOnSurface(shape, 7, spacing)
      expect(leastApart(places)).toBeGreaterThanOrEqual(spacing)
      // All but their rank, which is their share of all.
      const rows = listed(places).map((row) => row.slice(0, 6))
      expect(rows.slice(0, wider.length)).toEqual(wider)
      wider = rows
    }
    expect(wider.length).toBeGreaterThan(200)
  })

  it('lets two sides of a sheet that lie nearer than the spacing share what one of them would have', () => {
    const perSquare = (thick: number) => {
      const shape = boxShape(6, thick / 2, 6)
      const spacing = 0.4
      const area = areaSums(shape).at(-1)!
      return (evenOnSurface(shape, 3, spacing).count * spacing * spacing) / area
    }
    expect(perSquare(2)).toBeGreaterThan(0.52)
    expect(perSquare(2)).toBeLessThan(0.68)
    const thin = perSquare(0.04)
    expect(thin).toBeGreaterThan(0.3)
    expect(thin).toBeLessThan(0.38)
  })
})
