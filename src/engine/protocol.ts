import type { Emptied } from '../core/plantings/habitat.ts'
import type { MixAsset } from '../core/grow.ts'
import type { Outline, Planting } from '../core/meadow.ts'
import type { Rect } from '../core/ground/terrain.ts'

/** What the threads say to each other: one union each way, an id on every request. */

/** A planting with all that its growing depends on, save its earlier neighbours. */
export interface GrowSetup {
  /** Names the content of this setup; a worker prepares each once. */
  readonly key: string
  readonly planting: Planting
  readonly assets: readonly MixAsset[]
  readonly terrain: string
  readonly waterLevel: number
  readonly outlines: readonly Outline[]
  readonly finer: number
}

export interface PreparedFacts {
  readonly tileSide: number
  readonly reach: number
  readonly largestRoom: number
  readonly exactCount: number | null
  readonly expected: number
  /** What leaves it no ground, when nothing is to be expected. */
  readonly emptied: Emptied | null
}

/** Rooms of earlier plantings as they travel: x, z, radius columns in one buffer. */
export interface PackedRooms {
  readonly known: Rect
  readonly columns: Float32Array<ArrayBuffer>
}

export interface GrowTileInput {
  readonly setup: GrowSetup
  readonly tile: Rect
  readonly earlier: PackedRooms | null
  readonly part: number
}

export type GrowTileOutput =
  | { readonly count: number; readonly buffer: ArrayBuffer }
  | { readonly needsReach: number }

/** Heights handed to a worker once, under the name that setups use. */
export interface SharedTerrain {
  readonly name: string
  readonly heights: Float32Array<ArrayBuffer>
  readonly columns: number
  readonly rows: number
  readonly sizeX: number
  readonly sizeZ: number
}

export type ToWorker =
  | { readonly type: 'terrain'; readonly terrain: SharedTerrain }
  | { readonly type: 'forget'; readonly name: string }
  | { readonly type: 'run'; readonly id: number; readonly task: string; readonly input: unknown }

export type FromWorker =
  | { readonly type: 'done'; readonly id: number; readonly output: unknown }
  | { readonly type: 'failed'; readonly id: number; readonly sentence: string }
  | { readonly type: 'progress'; readonly id: number; readonly share: number; readonly note: string }
