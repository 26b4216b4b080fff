import type { Coverage } from './fields/coverage.ts'
import type { Terrain } from './grounds/terrain.ts'
import type { ThingsAround } from './things/define.ts'

/** All of a meadow that growing a planting can look at, beside the planting itself and its assets. */
export interface Surroundings {
  readonly terrain: Terrain
  /** Height of the water surface, m. */
  readonly waterLevel: number
  /** Things that are named: by conditions, drivers, or as grounds. */
  readonly things: ThingsAround
}

/** A terrain with nothing else around. */
export function bareSurroundings(terrain: Terrain, waterLevel = -1e9): Surroundings {
  return { terrain, waterLevel, things: new Map() }
}

/** Instances of an earlier planting near a tile. */
export interface Places {
  readonly count: number
  /** Distance of a place in plan to the nearest of them, m; infinite when none is within `limit`. */
  nearest(x: number, z: number, limit: number): number
}

/** What a tile's conditions and drivers can look at that is known only when it grows. */
export interface Around {
  /** The earlier plantings that they name, by id; a planting that is not there is unknown. */
  readonly plantings: ReadonlyMap<string, Places>
  /** What was painted by hand near it: of the planting itself, and of those whose strokes its conditions name. Null as long as it is not known. */
  readonly painted: ReadonlyMap<string, Coverage> | null
  /** Where its sites are members of a pattern, how those lie in their runs; else missing. */
  readonly runs?: Runs
}

/** Members of a pattern in the runs that they are of, by the low halves of their sites' addresses. */
export interface Runs {
  /** The number of each in its run: 0 is the first. */
  readonly index: Float64Array
  /** How many its run has. */
  readonly of: Float64Array
  /** How far along its run each is, 0…1. */
  readonly along: Float64Array
  /** Where each stands round a ring, degrees; null where they stand round none. */
  readonly angle: Float64Array | null
}

export const NOTHING_AROUND: Around = { plantings: new Map(), painted: null }

/** Where only so many earlier plantings are known. */
export function plantingsAround(plantings: ReadonlyMap<string, Places>): Around {
  return { plantings, painted: null }
}
