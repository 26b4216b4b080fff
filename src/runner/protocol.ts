import type { Sight } from '../core/grounds/ground.ts'
import type { SnapWish } from '../core/grounds/snap.ts'
import type { Emptied } from '../core/stages/habitat.ts'
import type { MixAsset } from '../core/grow.ts'
import type { PaintedStroke } from '../core/fields/coverage.ts'
import type { HandNear } from '../core/hand/held.ts'
import type { Planting } from '../core/meadow.ts'
import type { Thing } from '../core/things/define.ts'
import type { TileOf } from '../core/plantings/define.ts'
import type { Plot } from '../core/stages/plot.ts'
import type { Rooms } from '../core/stages/rooms.ts'
import type { Rect } from '../core/grounds/terrain.ts'

/** What the threads say to each other: one union each way, an id on every request. */

/** What surrounds a planting, as it travels: large things by the names they were shared under. */
export interface SurroundingsData {
  readonly terrain: string
  readonly waterLevel: number
  readonly things: readonly ThingData[]
}

/** A thing as it travels: as it is, or by the name that it was shared under. */
export type ThingData = {
  readonly kind: string
  /** What the person calls it, for sentences. */
  readonly called: string
} & ({ readonly thing: Thing } | { readonly name: string })

/** A planting with all that its growing depends on, save its earlier neighbours. */
export interface GrowSetup {
  /** Names the content of this setup; a worker prepares each once. */
  readonly key: string
  /** The same without the things it looks at, which only concern the tiles in their reach. */
  readonly tileKey: string
  readonly planting: Planting
  readonly assets: readonly MixAsset[]
  readonly surroundings: SurroundingsData
  readonly finer: number
}

export interface PreparedFacts {
  readonly plots: readonly Plot[]
  readonly largestRoom: number
  readonly exactCount: number | null
  readonly expected: number
  /** Why it cannot grow as it is set, which is known only with what surrounds it; null when it can. */
  readonly refusal: string | null
  /** What leaves it no ground, when nothing is to be expected. */
  readonly emptied: Emptied | null
  /** What should be known of its conditions. */
  readonly warnings: readonly string[]
  /** What things cover in plan whose bytes alone tell it, by their ids. */
  readonly extents: Readonly<Record<string, Rect>>
}

/** Earlier plantings near a tile as they travel. */
export interface PackedNear {
  readonly known: Rect
  /** Rooms on the same ground, and on others. */
  readonly rooms: readonly Rooms[]
  readonly elsewhere: readonly Rooms[]
  /** Instances of the plantings that are named: x, z columns in one buffer, and how far will be asked, m. */
  readonly places: readonly { readonly planting: string; readonly reach: number; readonly columns: Float32Array<ArrayBuffer> }[]
  /** Strokes of the brush by the plantings they belong to, in their order; null where no planting asks for any. */
  readonly painted: readonly { readonly planting: string; readonly strokes: readonly PaintedStroke[] }[] | null
  /** What a hand did near; null where it did nothing. */
  readonly hand: HandNear | null
}

export interface GrowTileInput {
  /** The name that a setup was shared under. */
  readonly setup: string
  readonly tile: TileOf
  readonly near: PackedNear | null
  readonly part: number
}

export interface TintInput {
  readonly setup: string
  readonly near: PackedNear
  /** One condition, or all. */
  readonly use: string | null
  /** Cells along the terrain. */
  readonly side: number
}

export interface HoldsInput {
  readonly setup: string
  readonly near: PackedNear
  /** One condition, or all. */
  readonly use: string | null
  /** A ground of the planting, and places on it as `core/plantings/tint.ts` lays them out. */
  readonly ground: string
  readonly places: Float64Array<ArrayBuffer>
}

/** Weights 0…255 over the lattice of each ground that the planting grows on: of the terrain `side` × `side` cells, of a mesh its corners. */
export interface TintOutput {
  readonly side: number
  readonly grounds: readonly { readonly id: string; readonly weights: Uint8Array<ArrayBuffer> }[]
}

export interface SeeInput {
  /** What may be met: the terrain, and meshes. */
  readonly surroundings: SurroundingsData
  /** Which of them are looked at. */
  readonly grounds: readonly string[]
  readonly sights: readonly Sight[]
  /** Corners, edges and faces of meshes that places are to be set to; null for the places themselves. */
  readonly snap: SnapWish | null
}

export interface ProbeInput {
  readonly setup: string
  readonly near: PackedNear
  /** The line of sight that leads to the place asked about. */
  readonly sight: Sight
  /** What the things are called that answers may quote, by their ids: setups know no names, as nothing grows by them. */
  readonly names: Readonly<Record<string, string>>
}

export type GrowTileOutput =
  /** `missing`: numbers of the touch-ups, among those that were sent along, whose instances are not there. */
  | { readonly count: number; readonly buffer: ArrayBuffer; readonly missing: readonly number[] }
  | { readonly needsReach: number }

/** A thing handed to a worker once, under the name that setups and messages use. */
export type Shared = SharedTerrain | SharedBytes | SharedThing | SharedSetup

export interface SharedThing {
  readonly type: 'thing'
  readonly name: string
  readonly thing: Thing
}

export interface SharedSetup {
  readonly type: 'setup'
  readonly name: string
  readonly setup: GrowSetup
}

export interface SharedBytes {
  readonly type: 'bytes'
  readonly name: string
  readonly bytes: Uint8Array<ArrayBuffer>
}

export interface SharedTerrain {
  readonly type: 'terrain'
  readonly name: string
  readonly heights: Float32Array
  readonly columns: number
  readonly rows: number
  readonly sizeX: number
  readonly sizeZ: number
}

export type ToWorker =
  | { readonly type: 'share'; readonly shared: Shared }
  | { readonly type: 'forget'; readonly name: string }
  | { readonly type: 'run'; readonly id: number; readonly task: string; readonly input: unknown }

/** An error as it travels: what lies behind a sentence, for the log. */
export interface WorkerError {
  readonly name: string
  readonly message: string
  readonly stack: string
}

export type FromWorker =
  /** Sent when work is begun: a worker that says nothing is dead. */
  | { readonly type: 'begun'; readonly id: number }
  | { readonly type: 'done'; readonly id: number; readonly output: unknown }
  | { readonly type: 'failed'; readonly id: number; readonly sentence: string; readonly cause: WorkerError | null }
  | { readonly type: 'progress'; readonly id: number; readonly share: number; readonly note: string }
