import type { StrokeAct } from './fields/stroke-acts.ts'
import { TERRAIN_ID } from './grounds/ground.ts'
import type { ParamValue } from './kinds.ts'
import type { NumberList } from './long-list.ts'
import type { PatternBase, Ridden } from './order/pattern-base.ts'
import type { OpenedPosy, Part } from './posy/part.ts'

export type { OpenedPosy, Part, PatternBase, Ridden }

/** The version of the document that this code writes; see `document/migrations.ts`. */
export const MEADOW_VERSION = 13

/** Name of an immutable blob: hex SHA-256 of its bytes. */
export type BlobHash = string

export interface Meadow {
  version: typeof MEADOW_VERSION
  id: string
  name: string
  ground: TerrainGround
  water: Water
  assets: Asset[]
  /** The number that the next asset gets. */
  nextAsset: number
  /** The posy whose parts lie open to change; null when none does. */
  opened: OpenedPosy | null
  /** In order of claim: the first takes its room first. */
  plantings: Planting[]
  outlines: Outline[]
  /** Pictures laid over the ground, for conditions and drivers. */
  images: GroundImage[]
  beacons: Beacon[]
  /** Meshes that stand in the meadow. */
  meshes: PlacedMesh[]
  /** Habitats kept for reuse. */
  habitats: SavedHabitat[]
  views: View[]
  /** What was painted by hand, in the order in which it was. */
  strokes: Stroke[]
  /** What a hand did to single instances, by plantings. */
  hands: HandWork[]
  /** Choices that were kept under names. */
  selections: KeptSelection[]
  groups: Group[]
  runs: SpacedRun[]
  pegs: Peg[]
}

/** A height field centred on the origin; +X east, +Z south, rows run from −Z to +Z. */
export interface TerrainGround {
  kind: 'terrain'
  name: string
  /** Heights as stored: `columns × rows` little-endian Float32, metres, row by row; NaN where there is no ground. */
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
  /** Where it lies in the coordinates of its file; null when the file does not say. */
  georeference: GeoReference | null
}

/** Where the middle of a ground lies in the coordinates of a reference system. */
export interface GeoReference {
  /** Name of the system as files give it, such as EPSG:3067; empty when it is not known. */
  system: string
  /** Whether coordinates are longitude and latitude. */
  degrees: boolean
  /** Easting or longitude, northing or latitude of the middle. */
  x: number
  y: number
  /** Metres to a unit along x and y. */
  metresX: number
  metresY: number
}

export interface Water {
  shown: boolean
  /** Height of the surface, m. */
  level: number
}

export interface Asset {
  id: string
  /** What instances name it by; no other asset of the meadow ever gets it. */
  number: number
  name: string
  category: string
  tags: string[]
  licence: string
  /** The full form, a repaired GLB: metres, Y up, base on y = 0, pivot at the origin. Empty of a posy. */
  blob: BlobHash | ''
  /** What a posy is made of; a model has none. */
  parts: Part[]
  /** Whether the parts of a posy follow the terrain each by itself, wherever the posy stands on it. */
  drapes: boolean
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

/** The assets of a meadow by the numbers that instances name them by. */
export function assetsByNumber(assets: readonly Asset[]): ReadonlyMap<number, Asset> {
  return new Map(assets.map((asset) => [asset.number, asset]))
}

export interface Share {
  asset: string
  /** Any positive weight; shares are proportions. */
  share: number
  /** Where this one of the mix prefers to be. */
  where?: ConditionUse
  /** How much of its share counts where that condition refuses, 0…1: at 0 it grows there only. Always beside `where`. */
  elsewhere?: number
}

export interface ConditionUse {
  id: string
  kind: string
  on: boolean
  /** Whether it takes what it would refuse, and the other way round. */
  invert: boolean
  params: Record<string, ParamValue>
}

/** Whether all conditions of a habitat must hold, or one is enough. */
export type Combine = 'all' | 'any'

export interface SavedHabitat {
  id: string
  name: string
  combine: Combine
  uses: ConditionUse[]
}

/** Whether two plantings grow on a ground that both name: only then can their rooms meet. */
export function shareGround(a: { readonly grounds: readonly string[] }, b: { readonly grounds: readonly string[] }): boolean {
  return a.grounds.some((id) => b.grounds.includes(id))
}

/** Whether a planting grows on the terrain, on its own or beside meshes. */
export function growsOnTerrain({ grounds }: { readonly grounds: readonly string[] }): boolean {
  return grounds.includes(TERRAIN_ID)
}

/** The meshes that a planting grows on. */
export function meshGroundsOf({ grounds }: { readonly grounds: readonly string[] }): string[] {
  return grounds.filter((id) => id !== TERRAIN_ID)
}

/** What a driver can change. */
export const DRIVER_TARGETS = ['density', 'size', 'height', 'girth', 'turn', 'lift', 'lean', 'tint'] as const
export type DriverTarget = (typeof DRIVER_TARGETS)[number]

/** A field that changes the density or how instances stand. */
export interface DriverUse {
  id: string
  /** Which field. */
  kind: string
  on: boolean
  /** The field's own settings. */
  params: Record<string, ParamValue>
  target: DriverTarget
  /** Values of the field, in its unit, that count as 0 and as 1. */
  over: { from: number; to: number }
  /** Bends the way from 0 to 1: x y x y …, x rising from 0 to 1, straight in between. */
  curve: number[]
  /** What the target gets where the bent value is 0 and where it is 1: factors, degrees or metres; #rrggbb for tint. */
  low: number | string
  high: number | string
}

export interface Planting {
  id: string
  kind: string
  name: string
  /** Colour of its mark on the card, #rrggbb. */
  colour: string
  visible: boolean
  locked: boolean
  /** Whether others may grow in its room while it is hidden. */
  freeWhileHidden: boolean
  /** The throw: all dice of this planting start here. */
  seed: number
  mix: Share[]
  habitat: ConditionUse[]
  combine: Combine
  drivers: DriverUse[]
  /** What it grows on: the terrain (`TERRAIN_ID`), meshes by their ids. Where two overlap, the first of them holds. */
  grounds: string[]
  /** Paths that it lies along, by their ids; only kinds that lie along lines have any. */
  along: string[]
  /** What a pattern stands on; null of kinds that stand on none. */
  base: PatternBase | null
  params: Record<string, ParamValue>
}

/** A picture laid over the ground. */
export interface GroundImage {
  id: string
  name: string
  /** Pixels as stored: 8-bit R G B A, row by row from the north. */
  blob: BlobHash
  columns: number
  rows: number
  /** Its middle on the ground and its size, m. */
  x: number
  z: number
  sizeX: number
  sizeZ: number
  /** Degrees clockwise seen from above. */
  turn: number
}

/** A point whose nearness drives something. */
export interface Beacon {
  id: string
  name: string
  /** #rrggbb */
  colour: string
  visible: boolean
  locked: boolean
  /** Where it stands, m; `above` counts from the ground. */
  x: number
  z: number
  above: number
  /** Distance at which it ends, m. */
  reach: number
  /** What it gives at its own place, 0…1. */
  strength: number
  falloff: 'straight' | 'steep' | 'round'
}

/** A mesh that stands in the meadow: something to grow on, to keep out of, or only to be seen. */
export interface PlacedMesh {
  id: string
  name: string
  role: 'ground' | 'obstacle' | 'scenery'
  /** A repaired GLB: metres, Y up. */
  blob: BlobHash
  /** Its triangles alone, as `core/grounds/mesh-shape.ts` packs them. */
  shape: BlobHash
  triangles: number
  visible: boolean
  locked: boolean
  /** Where its origin stands, m. */
  position: [number, number, number]
  /** Turns about X, then Y, then Z of the world, degrees. */
  turn: [number, number, number]
  /** Factor on its own size. */
  size: number
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
  lines: NumberList[]
  /** How high its points lie over the ground, m, one number to each point of each line; missing where all lie on it. */
  above?: NumberList[]
}

/** Singles that a hand placed in a planting, and its touch-ups of what grows there by rule; see `hand/layout.ts`. */
export interface HandWork {
  /** The planting's. */
  id: string
  name: string
  /** Grounds that the numbers below name by their places here. */
  grounds: string[]
  singles: NumberList[]
  touched: NumberList[]
}

/** Instances by their ids: they are named whatever becomes of them. */
export interface Members {
  /** Plantings that the numbers below name by their places here. */
  plantings: string[]
  /** One list: planting, id (low, high) of each. */
  members: NumberList[]
}

/** Chosen instances that are kept under a name. */
export interface KeptSelection extends Members {
  id: string
  name: string
}

/** Instances, and other groups, that are chosen and moved as one. */
export interface Group extends Members {
  id: string
  name: string
  /** Groups in it, by their ids. */
  groups: string[]
}

/** Instances spaced out along a straight line, round a ring or along a path, in their order. */
export interface SpacedRun extends Members {
  id: string
  name: string
  kind: 'line' | 'ring' | 'path'
  /** The ground in whose frame the places below are kept: of the terrain with heights above it, of a mesh its own. */
  ground: string
  /** Where a line begins; the middle of a ring. */
  from: [number, number, number]
  /** A place that a line leads towards; where a ring begins. Paths ignore both. */
  to: [number, number, number]
  /** Metres from one to the next along a line or a path. */
  spacing: number
  /** Degrees that a ring goes round, seen from above with the clock above 0; 360 and −360 are all round. */
  arc: number
  /** The path, by its id; else empty. */
  path: string
}

/** A helper point that things are set to. */
export interface Peg {
  id: string
  name: string
  /** The ground in whose frame its place is kept, as of runs. */
  ground: string
  place: [number, number, number]
}

/** One pass of the brush over a ground. */
export interface Stroke {
  id: string
  name: string
  /** The planting whose coverage it changes. */
  planting: string
  act: StrokeAct
  /** What it lies on: the terrain (`TERRAIN_ID`), or a mesh, in whose own frame all its lengths then are. */
  ground: string
  /** m */
  width: number
  /** Share of its radius over which it fades out, 0…1. */
  soft: number
  /** How much it does in its middle, 0…1: of thinning, the share that it takes away. */
  strength: number
  /** The assets that it acts on, by their ids; none means all. Strokes that sow act on all. */
  only: string[]
  /** Its points in one list: place x y z, unit normal x y z, pressure 0…1 of each. */
  lines: NumberList[]
}

export interface View {
  id: string
  name: string
  position: [number, number, number]
  target: [number, number, number]
}
