import type { FeatureKind } from '../grounds/mesh-features.ts'
import { featureColumns } from '../grounds/mesh-features.ts'
import type { Solid } from '../grounds/solid.ts'
import { toWorld, turnMatrix } from '../grounds/solid.ts'
import { multiply, ofAxes, ofMatrix } from '../math/quaternion.ts'
import type { Frames } from './frames.ts'
import { framesOf, MOST_MEMBERS, setInRun, setPlace, setTurn } from './frames.ts'

/** How many perches of a kind a mesh has. */
export function countOfPerches({ shape }: Solid, at: FeatureKind, progress?: (share: number) => void): number {
  return featureColumns(shape, progress).of(at).count
}

/**
 * Frames at all features of a kind of a mesh where it stands: up is the normal there, east the direction of the longest
 * edge. Of closed meshes normals look out. Throws RangeError where they are too many.
 */
export function framesOfPerches(solid: Solid, at: FeatureKind): Frames {
  const { count, place, normal, direction } = featureColumns(solid.shape).of(at)
  if (count > MOST_MEMBERS) throw new RangeError(`framesOfPerches: ${count} perches, at most ${MOST_MEMBERS}`)
  const frames = framesOf(count)
  const turn = ofMatrix(turnMatrix(solid.placed.turn))
  const world = new Float64Array(3)
  const vector = (column: Float64Array, k: number) => [column[3 * k], column[3 * k + 1], column[3 * k + 2]] as const
  for (let k = 0; k < count; k++) {
    toWorld(solid, place[3 * k], place[3 * k + 1], place[3 * k + 2], world)
    setPlace(frames, k, world[0], world[1], world[2])
    // A direction along the normal is none: any other will do.
    const own = ofAxes(vector(direction, k), vector(normal, k)) ?? ofAxes([1, 0, 0], vector(normal, k)) ?? ofAxes([0, 0, 1], vector(normal, k))
    if (own) setTurn(frames, k, multiply(turn, own))
    setInRun(frames, k, k, count, count > 1 ? k / (count - 1) : 0)
  }
  return frames
}
