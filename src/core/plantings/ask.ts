import { NO_STROKES } from '../fields/coverage.ts'
import { coverageWords } from '../fields/conditions/painted.ts'
import type { Reading } from '../fields/drivers/drive.ts'
import { readDrivers } from '../fields/drivers/drive.ts'
import type { Place, Sight } from '../grounds/ground.ts'
import { groundsOf } from '../grounds/index.ts'
import type { MeshFeature } from '../grounds/mesh-features.ts'
import type { SnapWish } from '../grounds/snap.ts'
import { faceAt, featureSeen } from '../grounds/snap.ts'
import type { Planting } from '../meadow.ts'
import type { Around, Surroundings } from '../surroundings.ts'
import type { Verdict } from '../stages/habitat.ts'
import { judgePlace } from '../stages/habitat.ts'
import { siteAt } from '../stages/site.ts'
import { thingOf, thingsOf } from '../things/define.ts'
import { MESH } from '../things/mesh.ts'
import { PLANTINGS } from './index.ts'

/** Why here, why not here: what all that a planting goes by says to one place. */
export interface Answer {
  /** The ground that the place lies on. */
  readonly ground: string
  readonly place: Place
  readonly verdicts: readonly Verdict[]
  readonly readings: readonly Reading[]
  /** Why nothing comes there, whatever the conditions say; null when something can. */
  readonly barred: string | null
}

/** A place and the ground that it lies on. */
export interface Seen extends Pick<Answer, 'ground' | 'place'> {
  /** What the place was set to; missing where it is the ground itself that is seen. */
  readonly on?: SnappedTo
}

/** A corner, edge or face of a mesh, a peg, another thing or the grid, that a place was set to. */
export interface SnappedTo {
  readonly kind: MeshFeature['kind'] | 'peg' | 'pivot' | 'box' | 'grid'
  /** Along an edge, or the longest edge of a face; null where there is none. */
  readonly direction: readonly [number, number, number] | null
}

/** Where a line of sight first meets what things are set on, or the corner, edge or face of a mesh that is seen near it; null when it meets none. */
export function snapSeen(of: Pick<Planting, 'grounds'>, surroundings: Surroundings, sight: Sight, wish: SnapWish): Seen | null {
  const seen = placeSeen(of, surroundings, sight)
  if (wish.face) return seen && onFace(seen, surroundings)
  // What stands a little behind the place that is seen is meant as well: the far corner of a sill.
  const reach = (seen?.away ?? sight.reach) * (1 + wish.within) + BEHIND
  const features = thingsOf(surroundings.things, MESH).flatMap((solid) => {
    const feature = of.grounds.includes(solid.placed.id) ? featureSeen(solid, sight, wish, reach) : null
    return feature ? [{ feature, ground: solid.placed.id }] : []
  })
  if (features.length === 0) return seen
  const { feature: { kind, place: [x, y, z], normal, direction }, ground } = features.reduce((best, one) => (one.feature.off < best.feature.off ? one : best))
  return { ground, place: { x, y, z, normal }, on: { kind, direction } }
}

/** The face of a mesh that is seen, as its centre; the place itself on the terrain. */
function onFace(seen: Seen, { things }: Surroundings): Seen {
  const { x, y, z, normal } = seen.place
  const solid = thingOf(things, MESH, seen.ground)
  const face = solid && normal ? faceAt(solid, [x, y, z], normal) : null
  if (!face) return seen
  const [px, py, pz] = face.place
  return { ground: seen.ground, place: { x: px, y: py, z: pz, normal: face.normal }, on: { kind: 'face', direction: face.direction } }
}

/** How far behind what is seen before them features may lie, m. */
const BEHIND = 0.05

/** Where a line of sight first meets what a planting grows on, and how far away, m; null when it does not. */
export function placeSeen({ grounds }: Pick<Planting, 'grounds'>, surroundings: Surroundings, sight: Sight): (Seen & { readonly away: number }) | null {
  const hits = groundsOf(grounds, surroundings).flatMap((ground) => {
    const hit = ground.pick(sight)
    return hit ? [{ ground: ground.id, ...hit }] : []
  })
  return hits.length === 0 ? null : hits.reduce((nearest, hit) => (hit.away < nearest.away ? hit : nearest))
}

/** What the planting's own strokes say to a place; nothing where it has none and needs none. */
function paintedVerdict({ id, kind }: Planting, { painted }: Around, place: Place): Verdict[] {
  const { base } = PLANTINGS.get(kind)
  const strokes = painted?.get(id)
  if (!strokes && base === 1) return []
  const weight = (strokes ?? NO_STROKES).at(siteAt(place), 0, base, -1)
  return [{ use: STROKES, label: 'Strokes of the brush', finding: coverageWords(weight, base), weight }]
}

/** What a verdict of a planting's own strokes is told by; no condition has such an id. */
export const STROKES = 'strokes'

/** What a planting's conditions and drivers say to a place. */
export function askPlace(planting: Planting, surroundings: Surroundings, around: Around, { ground, place }: Seen): Answer {
  return {
    ground,
    place,
    verdicts: [...paintedVerdict(planting, around, place), ...judgePlace(planting, surroundings, around, place)].sort((a, b) => a.weight - b.weight),
    barred: PLANTINGS.get(planting.kind).bars(planting, surroundings, { ground, place }),
    readings: readDrivers(planting.drivers, surroundings, planting.seed >>> 0, siteAt(place), around),
  }
}
