import type { Asset } from '../core/meadow.ts'
import type { AssetMeasures } from '../core/asset/measure.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import type { ParamValue } from '../core/kinds.ts'
import type { Meadow } from '../core/meadow.ts'
import type { Repair } from '../formats/repair.ts'
import type { HeightGrid } from '../formats/height-grid.ts'
import type { HeightSettings } from '../formats/height-settle.ts'
import type { ReadImage } from '../formats/images.ts'
import type { ReadOutlines } from '../formats/outline-format.ts'
import { taskRef } from './tasks.ts'

/** Patience with work on whole files, which gives no sign of life in between, ms. */
export const FILE_PATIENCE = 180000

type Bytes = Uint8Array<ArrayBuffer>

export interface FileInput {
  readonly name: string
  readonly bytes: Bytes
}

export interface ReadAssetInput extends FileInput {
  /** Materials and textures chosen with it. */
  readonly beside: readonly FileInput[]
  /** Null takes the reader's own guess; of what is settled already, how it is. */
  readonly repair: Repair | null
  /** Whether it is a model that was put right before: of metres, with a pivot of its own. */
  readonly settled?: boolean
}

export interface ReadAssetOutput {
  readonly repair: Repair
  readonly rawSize: [number, number, number]
  readonly notes: readonly string[]
  readonly glb: Bytes
  /** A lighter form of a heavy model, for pictures of it; the same bytes where it is light. */
  readonly picture: Bytes
  /** Names of the blobs that it is kept as. */
  readonly hashes: { readonly glb: string; readonly shape: string; readonly standIns: readonly string[] }
  readonly standIns: readonly { readonly glb: Bytes; readonly triangles: number }[]
  readonly measures: AssetMeasures
  readonly triangles: number
  /** Faces that were turned to look outwards; whether no edge is open. */
  readonly turned: number
  readonly watertight: boolean
  /** Its triangles packed as a mesh, how many have area, and what is odd about them. */
  readonly shape: Bytes
  readonly shapeTriangles: number
  readonly shapeNotes: readonly string[]
}

/** Heights to settle; they come back with the result, so that they can be settled in another way. */
export interface SettleInput {
  readonly grid: Pick<HeightGrid, 'values' | 'columns' | 'rows' | 'metres' | 'missing'>
  readonly settings: HeightSettings
}

/** What came of it, or why nothing can. */
export interface SettleOutput {
  readonly values: Float32Array<ArrayBuffer>
  readonly result: SettledGround | { readonly refused: string }
}

/** Heights as a blob, with their range, m. */
export interface SettledGround {
  readonly blob: string
  readonly bytes: Bytes
  readonly lowest: number
  readonly highest: number
}

export interface HandoffTaskInput {
  readonly form: string
  readonly values: Readonly<Record<string, ParamValue>>
  readonly meadow: Meadow
  /** Blocks as count and buffer, and the ground that each stands on. */
  readonly plantings: readonly { readonly id: string; readonly grounds: readonly string[]; readonly blocks: readonly { count: number; buffer: ArrayBuffer }[] }[]
  readonly assets: readonly (readonly [string, Bytes])[]
  readonly heights: Float32Array<ArrayBuffer>
}

/** A meadow to start from, in words. */
export interface StarterWords {
  readonly kind: string
  readonly name: string
  readonly is: string
  readonly shows: string
}

export interface PackedMeadow {
  readonly meadow: Meadow
  readonly blobs: readonly (readonly [string, Bytes])[]
}

/** A meadow out of a file. */
export interface UnpackedMeadow extends PackedMeadow {
  /** What stands elsewhere since the version that wrote it, in words. */
  readonly thrownAnew: string | null
}

/** Counts over equal classes of a value on the ground. */
export interface Histogram {
  readonly low: number
  readonly high: number
  readonly counts: readonly number[]
}

export interface GroundFacts {
  readonly heights: Histogram
  readonly slopes: Histogram
}

/** A ground's blob, as it is stored. */
export interface TerrainInput {
  readonly bytes: Bytes
  readonly columns: number
  readonly rows: number
  readonly sizeX: number
  readonly sizeZ: number
}

export const MAKE_TERRAIN = taskRef<TerrainInput, Terrain>('make-terrain')
export const READ_OUTLINES = taskRef<FileInput, ReadOutlines>('read-outlines')
export const READ_HEIGHTS = taskRef<FileInput, HeightGrid>('read-heights')
export const SETTLE_HEIGHTS = taskRef<SettleInput, SettleOutput>('settle-heights')
export const READ_IMAGE = taskRef<FileInput, ReadImage>('read-image')
export const READ_ASSET = taskRef<ReadAssetInput, ReadAssetOutput>('read-asset')
export const HANDOFF = taskRef<HandoffTaskInput, readonly Bytes[]>('handoff')
/** What there is to start from, in words. */
export const LIST_STARTERS = taskRef<null, readonly StarterWords[]>('list-starters')
/** Makes a meadow to start from, by its kind. */
export const MAKE_STARTER = taskRef<string, PackedMeadow>('make-starter')
/** The made-up assets that a new meadow has on its shelf. */
export const MAKE_SHELF = taskRef<null, { readonly assets: readonly Asset[]; readonly blobs: PackedMeadow['blobs'] }>('make-shelf')
export const PACK_MEADOW = taskRef<PackedMeadow, Bytes>('pack-meadow')
export const PACK_ORIGINAL = taskRef<{ readonly document: unknown; readonly blobs: PackedMeadow['blobs'] }, Bytes>('pack-original')
export const UNPACK_MEADOW = taskRef<FileInput, UnpackedMeadow>('unpack-meadow')
export const GROUND_FACTS = taskRef<string, GroundFacts>('ground-facts')
