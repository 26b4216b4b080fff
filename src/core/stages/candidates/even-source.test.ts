import fc from 'fast-check'
import type { Rect } from '../../grounds/terrain.ts'
import { drawKey, unitOf } from '../../math/random.ts'
import { createSites } from '../../columns.ts'
import { evenPattern, evenScaleOfSpacing, powerOfTwo } from './even-pattern.ts'
import { evenSource } from './even-source.ts'

function candidates(source: ReturnType<typeof evenSource>, rects: readonly Rect[], below: number): string[] {
  const sites = createSites(64)
  for (const rect of rects) source.fill(rect, sites, below)
  return Array.from({ length: sites.count }, (_, i) => [sites.addressHigh[i], sites.addressLow[i], sites.x[i], sites.z[i], sites.rank[i], sites.draws[i], sites.weight[i]].join(' ')).sort()
}

/** A rectangle cut into so small ones that each is filled by the plain loop. */
function cutUp({ x0, z0, x1, z1 }: Rect, side: number): Rect[] {
  const rects: Rect[] = []
  for (let x = x0; x < x1; x += side) for (let z = z0; z < z1; z += side) rects.push({ x0: x, z0: z, x1: Math.min(x + side, x1), z1: Math.min(z + side, z1) })
  return rects
}

describe('candidates of the even pattern', () => {
  it('are the same ones by the kernel and by the plain loop, for any symmetry, limit and place', () => {
    let most = 0
    fc.assert(
      fc.property(fc.integer(), fc.constantFrom(0.2, 0.35, 1.3, 7), fc.integer({ min: -300, max: 300 }), fc.integer({ min: -300, max: 300 }), fc.constantFrom(1, 0.37), (seed, spacing, x, z, share) => {
        const scale = evenScaleOfSpacing(spacing)
        const source = evenSource(seed, scale)
        const side = 24 * spacing
        const rect = { x0: 1.7 * x, z0: 0.3 * z, x1: 1.7 * x + side, z1: 0.3 * z + 0.8 * side }
        // Sides of less than a bucket, so that no piece meets more than a few.
        const pieces = cutUp(rect, 0.7 * (powerOfTwo(scale.octave) / 32))
        const whole = candidates(source, [rect], share * source.limit)
        expect(candidates(source, pieces, share * source.limit)).toEqual(whole)
        most = Math.max(most, whole.length)
      }),
      { seed: 20261126, numRuns: 60 },
    )
    expect(most).toBeGreaterThan(250)
  })

  it('are the points of the pattern with keys and ranks of their own', () => {
    const source = evenSource(77, evenScaleOfSpacing(1))
    const sites = createSites(64)
    source.fill({ x0: -40, z0: 10, x1: 30, z1: 60 }, sites, source.limit)
    expect(sites.count).toBeGreaterThan(1500)
    for (let i = 0; i < sites.count; i++) {
      expect(sites.draws[i]).toBe(drawKey(77, sites.addressLow[i], sites.addressHigh[i]))
      expect(sites.rank[i]).toBe((sites.addressHigh[i] & 0xffffff) + unitOf(sites.draws[i]))
      expect(sites.rank[i]).toBeLessThan(source.limit)
      expect(sites.addressHigh[i] & 0xffffff).toBeLessThan(evenPattern().count)
    }
  })
})
