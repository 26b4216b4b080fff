import type { Block } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'

/** What is known of one planting in the picture. */
export interface PlantingState {
  readonly phase: 'growing' | 'ready' | 'failed'
  readonly count: number
  readonly done: number
  readonly total: number
  /** Why it failed, or what to know of its result. */
  readonly sentence: string | null
  /** How many touch-ups stand by what is there, how many are attached anew, and the numbers of those that are loose. */
  readonly touched: { readonly there: number; readonly anew: number; readonly loose: readonly number[] } | null
}

export interface GrowerEvents {
  /** A tile has a new block; null when the tile is gone. Tile names are unique within a planting. */
  onTile(planting: string, tile: string, block: Block | null, rect: Rect): void
  onState(planting: string, state: PlantingState): void
  /** A planting is gone with all its tiles. */
  onGone(planting: string): void
  /** All is grown; ms since it was asked for, and how many tiles had to be grown. */
  onDone(milliseconds: number, tiles: number): void
}
