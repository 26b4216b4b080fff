import { boxShape } from '../../testing/fields.ts'
import type { MeshFeature } from './mesh-features.ts'
import { featuresOf } from './mesh-features.ts'
import type { MeshShape } from './mesh-shape.ts'
import { weldShape } from './mesh-shape.ts'

const of = (features: readonly MeshFeature[], kind: MeshFeature['kind']) => features.filter((one) => one.kind === kind)
const counts = (features: readonly MeshFeature[]) => (['corner', 'edge', 'face'] as const).map((kind) => of(features, kind).length)

/** A body of triangles that are given one by one. */
const welded = (positions: readonly number[], indices: readonly number[]) => weldShape(indices.flatMap((i) => positions.slice(3 * i, 3 * i + 3)))

/** A ring of a round section. */
function torus(away: number, radius: number, around: number, across: number): MeshShape {
  const at = (i: number, j: number) => {
    const [u, v] = [(2 * Math.PI * (i % around)) / around, (2 * Math.PI * (j % across)) / across]
    return [(away + radius * Math.cos(v)) * Math.cos(u), radius * Math.sin(v), (away + radius * Math.cos(v)) * Math.sin(u)]
  }
  const corners: number[] = []
  for (let i = 0; i < around; i++)
    for (let j = 0; j < across; j++) for (const [a, b] of [[0, 0], [0, 1], [1, 1], [0, 0], [1, 1], [1, 0]]) corners.push(...at(i + a, j + b))
  return weldShape(corners)
}

/** A sheet of n × n squares of two triangles, each with corners of its own; heights by a function. */
function sheet(n: number, height: (i: number, j: number) => number): MeshShape {
  const positions: number[] = []
  const indices: number[] = []
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const at = positions.length / 3
      for (const [u, v] of [[0, 0], [1, 0], [1, 1], [0, 1]]) positions.push(i + u, height(i + u, j + v), j + v)
      indices.push(at, at + 2, at + 1, at, at + 3, at + 2)
    }
  return welded(positions, indices)
}

describe('what things can be set to on a mesh', () => {
  it('a cuboid has eight corners, twelve edges, six faces, wherever its triangles end', () => {
    const features = featuresOf(boxShape(2, 3, 5))
    expect(counts(features)).toEqual([8, 12, 6])
    for (const { place, normal, direction } of of(features, 'face')) {
      // The centre lies as far out along the normal as the half of its size there; the direction is the longer side's.
      const axis = normal.findIndex((one) => Math.abs(Math.abs(one) - 1) < 1e-9)
      expect(Math.abs(place[axis])).toBeCloseTo([2, 3, 5][axis], 6)
      expect([0, 1, 2].filter((c) => c !== axis).every((c) => Math.abs(place[c]) < 1e-6)).toBe(true)
      expect(Math.abs(direction[axis === 2 ? 1 : 2])).toBeCloseTo(1, 9)
    }
    for (const { normal } of of(features, 'corner')) for (const one of normal) expect(Math.abs(one)).toBeCloseTo(Math.sqrt(1 / 3), 6)
    for (const { place, direction } of of(features, 'edge')) {
      const along = direction.findIndex((one) => Math.abs(Math.abs(one) - 1) < 1e-9)
      expect(Math.abs(place[along])).toBeLessThan(1e-6)
    }
  })

  it('a level sheet of many squares is one face with four edges and four corners', () => {
    const features = featuresOf(sheet(7, () => 0.5))
    expect(counts(features)).toEqual([4, 4, 1])
    expect(of(features, 'face')[0]).toMatchObject({ normal: [0, 1, 0] })
    of(features, 'face')[0].place.forEach((one, c) => expect(one).toBeCloseTo([3.5, 0.5, 3.5][c], 5))
    // A slope is one face as well, on its own normal.
    const [slope] = of(featuresOf(sheet(4, (i) => 0.5 * i)), 'face')
    slope.normal.forEach((one, c) => expect(one).toBeCloseTo([-0.5, 1, 0][c] / Math.hypot(1, 0.5), 5))
    // Folded along its middle, it is two: two corners and an edge more.
    expect(counts(featuresOf(sheet(4, (i) => Math.abs(i - 2))))).toEqual([6, 7, 2])
  })

  it('the centre of a face is that of its area, not of its triangles or corners', () => {
    // An L of three squares, one of them cut up finely.
    const positions = [0, 0, 0, 2, 0, 0, 2, 0, 1, 1, 0, 1, 1, 0, 2, 0, 0, 2, 0.5, 0, 1.5, 0, 0, 1]
    const indices = [0, 7, 3, 0, 3, 2, 0, 2, 1, 7, 5, 6, 5, 4, 6, 4, 3, 6, 3, 7, 6]
    const [face] = of(featuresOf(welded(positions, indices)), 'face')
    face.place.forEach((one, c) => expect(one).toBeCloseTo([5 / 6, 0, 5 / 6][c], 5))
    expect(counts(featuresOf(welded(positions, indices)))[0]).toBe(6)
  })

  it('on a round body every corner is one: Euler’s V − E + F holds of what is found', () => {
    for (const shape of [torus(3, 1, 24, 12), boxShape(1, 1, 1)]) {
      const [corners, edges, faces] = counts(featuresOf(shape))
      expect(corners - edges + faces).toBe(shape.positions.length > 100 ? 0 : 2)
    }
  })

  it('an empty mesh gives nothing', () => {
    expect(featuresOf({ positions: new Float32Array(0), indices: new Uint32Array(0) })).toEqual([])
  })
})
