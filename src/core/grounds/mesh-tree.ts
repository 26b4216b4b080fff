import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three'
import type { HitPointInfo, MeshBVHOptions } from 'three-mesh-bvh'
import { MeshBVH } from 'three-mesh-bvh'
import type { BallLists, TreeWalk } from './ball-lists.ts'
import { ballLists } from './ball-lists.ts'
import type { MeshShape } from './mesh-shape.ts'
import type { MeshTree } from './solid.ts'

/** Indirect, so that the order of triangles, which ids hang on, stays as it is; the typings do not know of it yet. */
const TREE_OPTIONS: MeshBVHOptions & { indirect: boolean } = { indirect: true }
type IndirectBVH = MeshBVH & TreeWalk
const MOST_HITS = 64
const trees = new WeakMap<MeshShape, MeshTree>()

/** The tree of a shape, built on first use. */
export function treeOf(shape: MeshShape): MeshTree {
  const found = trees.get(shape)
  if (found) return found
  const made = createTree(shape)
  trees.set(shape, made)
  return made
}

// No axis of a model is likely to be parallel to one of these.
const DIRECTIONS = [
  [0.08, 0.99, 0.115],
  [0.93, 0.21, -0.302],
  [-0.27, -0.36, 0.893],
].map(([x, y, z]) => {
  const length = Math.sqrt(x * x + y * y + z * z)
  return [x / length, y / length, z / length] as const
})

function createTree({ positions, indices }: MeshShape): MeshTree {
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(positions, 3))
  geometry.setIndex(new BufferAttribute(indices, 1))
  const bvh = new MeshBVH(geometry, TREE_OPTIONS) as IndirectBVH
  const ray = new Ray()
  const point = new Vector3()
  const target: HitPointInfo = { point: new Vector3(), distance: 0, faceIndex: 0 }
  const hitDistance = new Float64Array(MOST_HITS)
  const hitTriangle = new Uint32Array(MOST_HITS)

  let lists: BallLists | null = null

  function allHits(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number): number {
    ray.origin.set(ox, oy, oz)
    ray.direction.set(dx, dy, dz)
    const found = bvh.raycast(ray, DoubleSide)
    found.sort((a, b) => a.distance - b.distance || (a.faceIndex ?? 0) - (b.faceIndex ?? 0))
    let count = 0
    let last = -Infinity
    for (const { distance, faceIndex } of found) {
      // A ray through a shared edge hits both sides of it: one crossing.
      if (distance - last < 1e-6 * (1 + distance) || count === MOST_HITS) continue
      last = distance
      hitDistance[count] = distance
      hitTriangle[count++] = faceIndex ?? 0
    }
    return count
  }

  return {
    hitDistance,
    hitTriangle,
    distance(x, y, z, limit) {
      point.set(x, y, z)
      const found = bvh.closestPointToPoint(point, target, 0, limit)
      return found && found.distance <= limit ? found.distance : Infinity
    },
    inside(x, y, z) {
      let odd = 0
      for (const [dx, dy, dz] of DIRECTIONS) odd += allHits(x, y, z, dx, dy, dz) & 1
      return odd >= 2
    },
    first(ox, oy, oz, dx, dy, dz) {
      ray.origin.set(ox, oy, oz)
      ray.direction.set(dx, dy, dz)
      return bvh.raycastFirst(ray, DoubleSide)?.distance ?? Infinity
    },
    hits: allHits,
    around: (x, y, z, radius, into) => (lists ??= ballLists(bvh, indices.length / 3))(x, y, z, radius, into),
  }
}
