import type { Place } from '../fields/conditions/define.ts'
import type { Reading } from '../fields/drivers/drive.ts'
import { readDrivers } from '../fields/drivers/drive.ts'
import type { Solid } from '../grounds/solid.ts'
import { faceNormal, toOwn } from '../grounds/solid.ts'
import { pickTerrain } from '../grounds/pick.ts'
import type { Planting } from '../meadow.ts'
import type { Around, Surroundings } from '../surroundings.ts'
import type { Verdict } from '../stages/habitat.ts'
import { judgePlace, placeOnTerrain, siteAt } from '../stages/habitat.ts'

/** A line of sight, m; its direction is of length 1. */
export interface Sight {
  readonly origin: readonly [number, number, number]
  readonly direction: readonly [number, number, number]
  readonly reach: number
}

/** Why here, why not here: what all that a planting goes by says to one place. */
export interface Answer {
  readonly place: Place
  readonly verdicts: readonly Verdict[]
  readonly readings: readonly Reading[]
}

/** Where a line of sight first meets what a planting grows on: the terrain, or the meshes it names; null when it does not. */
export function placeSeen({ grounds }: Pick<Planting, 'grounds'>, { terrain, solids }: Surroundings, sight: Sight): Place | null {
  if (grounds.length === 0) {
    const hit = pickTerrain(terrain, sight.origin, sight.direction, sight.reach)
    return hit && placeOnTerrain(terrain, hit[0], hit[2])
  }
  let nearest: Place | null = null
  let best = sight.reach
  for (const solid of solids) {
    if (!grounds.includes(solid.placed.id)) continue
    const hit = firstHit(solid, sight)
    if (!hit || hit.away >= best) continue
    best = hit.away
    nearest = hit.place
  }
  return nearest
}

function firstHit(solid: Solid, { origin: [x, y, z], direction: [dx, dy, dz] }: Sight): { away: number; place: Place } | null {
  const from = new Float64Array(3)
  const ahead = new Float64Array(3)
  toOwn(solid, x, y, z, from)
  toOwn(solid, x + dx, y + dy, z + dz, ahead)
  const own = ahead.map((value, c) => value - from[c])
  const length = Math.sqrt(own[0] * own[0] + own[1] * own[1] + own[2] * own[2])
  const tree = solid.tree()
  if (tree.hits(from[0], from[1], from[2], own[0] / length, own[1] / length, own[2] / length) === 0) return null
  const away = tree.hitDistance[0] / length
  const normal = new Float64Array(3)
  faceNormal(solid, tree.hitTriangle[0], normal)
  return { away, place: { x: x + dx * away, y: y + dy * away, z: z + dz * away, normal: [normal[0], normal[1], normal[2]] } }
}

/** What a planting's conditions and drivers say to a place. */
export function askPlace(planting: Planting, surroundings: Surroundings, around: Around, place: Place): Answer {
  return {
    place,
    verdicts: judgePlace(planting, surroundings, around, place),
    readings: readDrivers(planting.drivers, surroundings, planting.seed >>> 0, siteAt(place), around),
  }
}
