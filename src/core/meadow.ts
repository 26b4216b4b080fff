import type { ParamValue } from './kinds.ts'

/** The version of the document that this code writes; see `document/migrations.ts`. */
export const MEADOW_VERSION = 2

/** Name of an immutable blob: hex SHA-256 of its bytes. */
export type BlobHash = string

export interface Meadow {
  version: typeof MEADOW_VERSION
  id: string
  name: string
  ground: TerrainGround
  water: Water
  assets: Asset[]
  /** In order of claim: the first takes its room first. */
  plantings: Planting[]
  outlines: Outline[]
  views: View[]
}

/** A height field centred on the origin; +X east, +Z south, rows run from −Z to +Z. */
export interface TerrainGround {
  kind: 'terrain'
  name: string
  /** Heights as stored: `columns × rows` little-endian Float32, metres, row by row. */
  blob: BlobHash
  columns: number
  rows: number
  /** Plan size, m. */
  sizeX: number
  sizeZ: number
  /** Lowest and highest stored height, m. */
  lowest: number
  highest: number
  /** Where the heights come from, to be named wherever they are shown; empty when own work. */
  source: string
}

export interface Water {
  shown: boolean
  /** Height of the surface, m. */
  level: number
}

export interface Asset {
  id: string
  name: string
  category: string
  tags: string[]
  licence: string
  /** The full form, a repaired GLB: metres, Y up, base on y = 0, pivot at the origin. */
  blob: BlobHash
  /** Lighter forms for display, nearest first; never exported. */
  standIns: BlobHash[]
  /** Bounding box size, m. */
  size: [number, number, number]
  /** Outline of the base in plan, m, counter-clockwise seen from above: x0 z0 x1 z1 … */
  base: number[]
  /** Radius that one instance of natural size wants to itself, m. */
  room: number
  /** Triangles of the full form and of each stand-in. */
  triangles: number[]
}

export interface Share {
  asset: string
  /** Any positive weight; shares are proportions. */
  share: number
}

export interface ConditionUse {
  id: string
  kind: string
  on: boolean
  params: Record<string, ParamValue>
}

export interface Planting {
  id: string
  kind: string
  name: string
  /** Colour of its mark on the card, #rrggbb. */
  colour: string
  visible: boolean
  locked: boolean
  /** The throw: all dice of this planting start here. */
  seed: number
  mix: Share[]
  habitat: ConditionUse[]
  params: Record<string, ParamValue>
}

/** A line drawn on the ground: a patch encloses ground, a path runs over it. */
export interface Outline {
  id: string
  kind: 'patch' | 'path'
  name: string
  /** #rrggbb */
  colour: string
  visible: boolean
  locked: boolean
  /** Whether a curve runs through the points, not straight pieces. */
  smooth: boolean
  /** Whether a path's ends are joined; a patch's always are. */
  closed: boolean
  /** How wide a path is, m; patches ignore it. */
  width: number
  /** Points x z x z … of each line, m. A path has one line; a patch encloses by the even–odd rule, so further lines are holes and islands. */
  lines: number[][]
}

export interface View {
  id: string
  name: string
  position: [number, number, number]
  target: [number, number, number]
}
