import type { Ground, Place } from '../grounds/ground.ts'
import type { Rect } from '../grounds/terrain.ts'
import type { Near, TileResult } from './context.ts'
import type { SpreadValues } from '../plantings/spread-params.ts'
import type { Stages } from './stages.ts'
import type { TileAddress } from './tiles.ts'

/** What a planting grows on one of its grounds: in square tiles, or as a whole. */
export interface Plot {
  readonly ground: string
  /** What it covers in plan, m. */
  readonly bounds: Rect
  /** Side of the tiles it is grown in, m, a power of two; 0 where it grows as a whole. */
  readonly tileSide: number
  /** Those of its tiles in which anything can stand, row by row; none where it grows as a whole. */
  readonly tiles: readonly TileAddress[]
  /** How far beyond a tile rooms of others are needed at first, m. */
  readonly reach: number
  /** Names the candidates that are looked through: an exact count's follow all of the ground, beyond any tile. */
  readonly candidates: string
}

/** A plot made ready to be grown. */
export interface PreparedPlot extends Plot {
  /** Candidates per m². */
  readonly density: number
  /** Grows one tile, or the whole plot. For `part` and `keyScale` see {@link Wanted}. */
  grow(tile: Rect, near: Near | null, part: number, keyScale: number): TileResult
}

/** How a planting grows on one of its grounds, wherever its candidates come from. */
export interface PlotOver {
  /** Candidates per m² to look through. */
  readonly density: number
  /** Instances per m² that are meant where all conditions are met. */
  readonly meant: number
  readonly stages: Stages
  /** About how much of the ground the conditions take, m². */
  readonly taken: () => number
  /** Whether it keeps out of rooms of earlier plantings. */
  readonly yields: boolean
  /** Grounds of the planting that come before this one: where two overlap, the first holds. */
  readonly before: readonly Ground[]
}

/** What is to be spread over a ground. */
export interface SpreadOver extends PlotOver {
  readonly values: SpreadValues
  readonly seed: number
}

/** How much of a ground there is to spread over, m². */
export interface GroundArea {
  /** All of it. */
  readonly whole: number
  /** What the conditions take, as far as that can be told beforehand. */
  readonly taken: number
  /** Candidates that an exact count looks through here for each that it wants. */
  readonly spare: number
}

/** A ground that plantings can spread over. */
export interface SpreadGround extends Ground {
  /** `about`: as near as is quickly told. */
  area(values: SpreadValues, stages: Stages, about: boolean): GroundArea
  plot(over: SpreadOver): PreparedPlot
  /** Why nothing comes to lie at a place of it, whatever the conditions say; null when something can. Missing where all of it is reached. */
  misses?(values: SpreadValues, place: Place): string | null
}

/** Whether rooms of others have to be known where a plot grows: of earlier plantings, or of the same one on grounds before. */
export function looksAtRooms({ stages, yields, before }: PlotOver): boolean {
  return stages.largestRoom > 0 && (yields || before.length > 0)
}
