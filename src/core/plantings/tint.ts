import type { Sites } from '../columns.ts'
import { carryNormals, createSites } from '../columns.ts'
import type { Ground } from '../grounds/ground.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import type { ConditionUse, Planting } from '../meadow.ts'
import type { Arena } from '../stages/arena.ts'
import { prepareHabitat, weighOn } from '../stages/habitat.ts'
import { paintedStep } from '../stages/painted.ts'
import { PLANTINGS } from './index.ts'
import type { Around, Surroundings } from '../surroundings.ts'

/** The conditions to be shown: one of a planting's, or all that are switched on, in their combination. */
function shown(planting: Planting, use: string | null): Pick<Planting, 'habitat' | 'combine' | 'seed'> {
  if (use === null) return planting
  // One that is switched off is shown all the same: it was asked for.
  const one = planting.habitat.filter(({ id }) => id === use).map((found): ConditionUse => ({ ...found, on: true }))
  return { habitat: one, combine: 'all', seed: planting.seed }
}

/** Weights 0…255 of the conditions over a ground's lattice of `side` × `side` places. */
export function tintGround(planting: Planting, use: string | null, surroundings: Surroundings, around: Around, ground: Ground, side: number, arena: Arena): Uint8Array<ArrayBuffer> {
  const sites = ground.lattice(side)
  const all = sites.count
  weighOn(ground, prepareHabitat(shown(planting, use), surroundings), sites, around, arena)
  if (use === null) paintedStep({ planting: planting.id, base: PLANTINGS.get(planting.kind).base }).weigh(sites, around, arena)
  return bytesOf(sites, all)
}

/** Numbers of a place that is asked about: x y z, and the unit direction that it faces, which the terrain knows itself. */
export const ASKED = 6

/** Weights 0…255 of the conditions at places of a ground, {@link ASKED} numbers each. */
export function tintPlaces(planting: Planting, use: string | null, surroundings: Surroundings, around: Around, ground: Ground, places: Float64Array, arena: Arena): Uint8Array<ArrayBuffer> {
  const all = places.length / ASKED
  const sites = createSites(Math.max(all, 1))
  sites.count = all
  const normals = ground.id === TERRAIN_ID ? null : carryNormals(sites)
  for (let i = 0; i < all; i++) {
    const at = ASKED * i
    sites.x[i] = places[at]
    sites.y[i] = places[at + 1]
    sites.z[i] = places[at + 2]
    sites.weight[i] = 1
    sites.addressLow[i] = i
    if (!normals) continue
    normals.x[i] = places[at + 3]
    normals.y[i] = places[at + 4]
    normals.z[i] = places[at + 5]
  }
  weighOn(ground, prepareHabitat(shown(planting, use), surroundings), sites, around, arena)
  return bytesOf(sites, all)
}

function bytesOf({ count, addressLow, weight }: Sites, all: number): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(all)
  for (let i = 0; i < count; i++) bytes[addressLow[i]] = Math.floor(255 * weight[i] + 0.5)
  return bytes
}
