import type { Block } from '../columns.ts'
import type { Base } from '../grounds/footprint.ts'
import type { Rect } from '../grounds/terrain.ts'
import type { Around, Surroundings } from '../surroundings.ts'
import type { HandNear } from '../hand/held.ts'
import type { Rooms } from './rooms.ts'

/** What growing needs to know of an asset. */
export interface GrowAsset {
  /** Radius of its room at size 1, m. */
  readonly room: number
  readonly base: Base
  /** Bounding box size at size 1, m. */
  readonly size: readonly [number, number, number]
}

export interface GrowContext extends Surroundings {
  /** Assets of the mix, in the order of its shares. */
  readonly assets: readonly GrowAsset[]
  /** Number of each of them; what the block's asset column holds. */
  readonly assetNumbers: readonly number[]
}

/** What is known of other instances near a tile. */
export interface Near {
  /** Rooms that reach into this rectangle are all known, and so is what its sites can ask `around`. */
  readonly known: Rect
  /** Rooms on the same ground. */
  readonly rooms: readonly Rooms[]
  /** Rooms on other grounds, which count straight through space. */
  readonly elsewhere: readonly Rooms[]
  readonly around: Around
  /** What a hand did near; null where it did nothing. */
  readonly hand?: HandNear | null
}

/** Either the instances of a tile, or how far beyond the tile it must know more to be sure. */
export type TileResult =
  | {
      readonly block: Block
      /** Numbers of the touch-ups, among those that were told, whose instances are not there. */
      readonly missing?: readonly number[]
    }
  | { readonly needsReach: number }
