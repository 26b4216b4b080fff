import type { PreparedDrivers } from '../fields/drivers/drive.ts'
import type { Ground } from '../grounds/ground.ts'
import type { Around } from '../surroundings.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import { moveNormal } from '../columns.ts'
import type { Arena } from './arena.ts'
import type { Habitat } from './habitat.ts'
import { takenArea } from './habitat.ts'

/** The stage that weighs sites: landing, conditions, drivers of the density. */
export interface WeighStage {
  /** Weighs the arena's sites on a ground that lies under those listed before it: inside of these nothing grows. Tells whether their heights are known now. */
  weigh(ground: Ground, before: readonly Ground[], around: Around): boolean
  /** Area of a ground that is taken, thinned out where it is thinned out, m². */
  area(ground: Ground): number
}

/** Prepares weighing; `asksHeights` says whether a later stage asks for the heights of sites. */
export function prepareWeigh(arena: Arena, habitat: Habitat, thin: PreparedDrivers['thin'], asksHeights: boolean): WeighStage {
  const heights = habitat.asksHeights || asksHeights
  return {
    weigh(ground, before, around) {
      const { sites } = arena
      const landed = heights || before.length > 0
      ground.land(sites, landed)
      for (const other of before) other.cover(sites)
      habitat(sites, around, arena)
      thin?.(sites, around, arena)
      return landed
    },
    area: (ground) =>
      takenArea((sites) => {
        ground.land(sites, heights)
        habitat(sites, NOTHING_AROUND, arena)
        thin?.(sites, NOTHING_AROUND, arena)
      }, ground.bounds),
  }
}

/**
 * Drops the arena's sites by their own rank and weight; keeps what is needed of the rest, their heights if they
 * are known. Those below `wanted` stay; their key is the share of `limit` that they need, times `scale`.
 */
export function thinByRank(arena: Arena, limit: number, wanted: number, scale: number, landed: boolean): void {
  const { sites, key } = arena
  const { x, y, z, rank, weight, draws, addressLow, addressHigh, normals, count } = sites
  let n = 0
  for (let i = 0; i < count; i++) {
    const r = rank[i]
    const w = weight[i]
    if (!(r < wanted * w)) continue
    key[n] = (scale * r) / (limit * w)
    if (n !== i) {
      x[n] = x[i]
      if (landed) y[n] = y[i]
      z[n] = z[i]
      addressLow[n] = addressLow[i]
      addressHigh[n] = addressHigh[i]
      draws[n] = draws[i]
      if (normals) moveNormal(normals, i, n)
    }
    n++
  }
  sites.count = n
}
