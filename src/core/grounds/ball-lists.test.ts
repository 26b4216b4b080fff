import fc from 'fast-check'
import { solidOf } from '../../testing/fields.ts'
import { mix } from '../math/random.ts'
import type { MeshShape } from './mesh-shape.ts'
import { treeOf } from './mesh-tree.ts'

const dice = (n: number) => mix(n) / 4294967296

/** Triangles all over a box, each on its own, some of them long. */
function strewn(triangles: number, seed: number): MeshShape {
  const positions = new Float32Array(9 * triangles)
  for (let t = 0; t < triangles; t++) {
    const reach = dice(seed + 7 * t) < 0.1 ? 3 : 0.3
    for (let k = 0; k < 9; k++) positions[9 * t + k] = 10 * dice(seed + 31 * t + (k % 3)) + reach * dice(seed + 17 * t + k + 5)
  }
  return { ...solidOf({ positions, indices: Uint32Array.from({ length: 3 * triangles }, (_, i) => i) } as MeshShape).shape }
}

/** Squared distance of a place to the box around a triangle: less is not told by any tree of boxes. */
function toBox({ positions }: MeshShape, triangle: number, place: readonly number[]): number {
  return place.reduce((sum, at, c) => {
    const along = [0, 1, 2].map((k) => positions[9 * triangle + 3 * k + c])
    const off = Math.max(Math.min(...along) - at, 0, at - Math.max(...along))
    return sum + off * off
  }, 0)
}

describe('triangles around a place', () => {
  const unit = fc.nat(1 << 20).map((n) => n / (1 << 20))

  it('are listed, each once, and few others', () => {
    let listed = 0
    let meant = 0
    fc.assert(
      fc.property(fc.constantFrom(1, 3, 40, 700), fc.nat(50), fc.array(unit, { minLength: 3, maxLength: 3 }), unit, (triangles, seed, at, wide) => {
        const shape = strewn(triangles, seed)
        const place = at.map((share) => 12 * share - 1)
        const radius = 3 * wide ** 2
        const into = new Uint32Array(triangles)
        const found = treeOf(shape).around(place[0], place[1], place[2], radius, into)
        const list = [...into.subarray(0, found)]
        expect(new Set(list).size).toBe(found)
        const near = Array.from({ length: triangles }, (_, t) => t).filter((t) => toBox(shape, t, place) <= radius * radius * (1 - 1e-6))
        for (const triangle of near) expect(list).toContain(triangle)
        if (triangles === 700) {
          listed += found
          meant += near.length
        }
      }),
      { numRuns: 300, seed: 20261126 },
    )
    // Leaves hold up to ten, of which some lie beside the ball.
    expect(listed).toBeLessThan(3 * meant + 300)
    expect(meant).toBeGreaterThan(300)
  })

  it('are not listed where they do not fit', () => {
    const shape = strewn(200, 4)
    const tree = treeOf(shape)
    expect(tree.around(5, 5, 5, 30, new Uint32Array(200))).toBe(200)
    expect(tree.around(5, 5, 5, 30, new Uint32Array(199))).toBe(-1)
    expect(tree.around(500, 5, 5, 30, new Uint32Array(0))).toBe(0)
  })
})
