import type { Vector } from '../hand/frames.ts'
import { atan2, cos, sin } from '../math/portable.ts'
import type { Sight } from './ground.ts'
import type { MeshFeature } from './mesh-features.ts'
import { featuresOf } from './mesh-features.ts'
import type { Solid } from './solid.ts'
import { toOwn, toWorld } from './solid.ts'

/** What is looked for along a line of sight. */
export interface SnapWish {
  readonly kinds: readonly MeshFeature['kind'][]
  /** How far beside the line it may be seen, radians. */
  readonly within: number
  /** The face under the line itself, wherever its centre is seen. */
  readonly face?: boolean
}

/** A feature of a mesh in the world, and how far beside the line of sight it is seen, radians. */
export interface SeenFeature extends MeshFeature {
  readonly off: number
}

/** A feature may lie so much farther than what is seen before it, as a share of its distance, and still be seen. */
const HIDDEN = 1e-4
/** So many of the nearest are asked whether anything of their mesh hides them. */
const ASKED = 16

/** The feature of a mesh that is seen nearest to a line of sight, and not hidden by the mesh itself; null when none is near, or nearer than `limit` m. */
export function featureSeen(solid: Solid, { origin, direction }: Pick<Sight, 'origin' | 'direction'>, { kinds, within }: SnapWish, limit: number): SeenFeature | null {
  const [eye, ahead] = [new Float64Array(3), new Float64Array(3)]
  toOwn(solid, origin[0], origin[1], origin[2], eye)
  toOwn(solid, origin[0] + direction[0], origin[1] + direction[1], origin[2] + direction[2], ahead)
  const { size } = solid.placed
  const way = [0, 1, 2].map((c) => (ahead[c] - eye[c]) * size)
  const found: { readonly feature: MeshFeature; readonly off: number; readonly away: number }[] = []
  const tangent = sin(within) / cos(within)
  for (const feature of featuresOf(solid.shape)) {
    const { kind, place } = feature
    const [x, y, z] = [place[0] - eye[0], place[1] - eye[1], place[2] - eye[2]]
    const along = x * way[0] + y * way[1] + z * way[2]
    if (!(along > 0) || !kinds.includes(kind)) continue
    const away2 = x * x + y * y + z * z
    const beside2 = Math.max(0, away2 - along * along)
    if (beside2 > along * along * tangent * tangent) continue
    const away = Math.sqrt(away2)
    if (away * size > limit * (1 + HIDDEN)) continue
    found.push({ feature, off: atan2(Math.sqrt(beside2), along), away })
  }
  found.sort((a, b) => a.off - b.off || a.away - b.away)
  const tree = solid.tree()
  const seen = found.slice(0, ASKED).find(({ feature: { place }, away }) => {
    const [dx, dy, dz] = [0, 1, 2].map((c) => (place[c] - eye[c]) / away)
    return tree.first(eye[0], eye[1], eye[2], dx, dy, dz) >= away * (1 - HIDDEN)
  })
  return seen ? { ...inWorld(solid, seen.feature), off: seen.off } : null
}

/** How far from the plane of a face a place on it may seem to lie, as a share of the mesh's size. */
const IN_PLANE = 1e-4

/** The flat face of a mesh that a place lies on, with a normal; of several in one plane that with the nearest centre. */
export function faceAt(solid: Solid, place: Vector, normal: Vector): MeshFeature | null {
  const reach = IN_PLANE * Math.max(solid.bounds[3] - solid.bounds[0], solid.bounds[4] - solid.bounds[1], solid.bounds[5] - solid.bounds[2])
  let best: MeshFeature | null = null
  let least = Infinity
  for (const feature of featuresOf(solid.shape)) {
    if (feature.kind !== 'face') continue
    const face = inWorld(solid, feature)
    const [x, y, z] = [0, 1, 2].map((c) => place[c] - face.place[c])
    const [u, v, w] = face.normal
    const agrees = u * normal[0] + v * normal[1] + w * normal[2]
    const away = x * x + y * y + z * z
    if (agrees < 1 - IN_PLANE || Math.abs(x * u + y * v + z * w) > reach || away >= least) continue
    least = away
    best = face
  }
  return best
}

/** A feature where its mesh stands. */
export function inWorld(solid: Solid, { kind, place, normal, direction }: MeshFeature): MeshFeature {
  const out = new Float64Array(3)
  const { position, size } = solid.placed
  const at = (of: Vector): Vector => {
    toWorld(solid, of[0], of[1], of[2], out)
    return [out[0], out[1], out[2]]
  }
  const way = (of: Vector): Vector => {
    const [x, y, z] = at(of)
    return [(x - position[0]) / size, (y - position[1]) / size, (z - position[2]) / size]
  }
  return { kind, place: at(place), normal: way(normal), direction: way(direction) }
}
