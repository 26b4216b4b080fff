import type { Block, Sites } from '../columns.ts'
import type { StanceStage } from '../kernels/kernels.ts'
import type { Base } from './footprint.ts'
import type { GroundBlock } from './blocks.ts'
import type { Rect } from './terrain.ts'

/** What the terrain is named by among the grounds of a planting; meshes are named by their ids. */
export const TERRAIN_ID = 'terrain'

/** A line of sight, m; its direction is of length 1. */
export interface Sight {
  readonly origin: readonly [number, number, number]
  readonly direction: readonly [number, number, number]
  readonly reach: number
}

/** A place on the ground, m, with its unit normal; null where the ground knows it by the plan position. */
export interface Place {
  readonly x: number
  readonly y: number
  readonly z: number
  readonly normal: readonly [number, number, number] | null
}

/** Something that things stand on. */
export interface Ground {
  /** {@link TERRAIN_ID}, or the id of a mesh. */
  readonly id: string
  /** What it covers in plan, m. */
  readonly bounds: Rect
  /** Drops sites where there is no ground. */
  land(sites: Sites): void
  /** Fills in the heights of sites, where the ground knows them by the plan position. */
  raise(sites: Sites): void
  /** Takes the weight from sites that lie inside its body: below a terrain, within a closed mesh. */
  cover(sites: Sites): void
  /** Where a line of sight first meets it, and how far away; null when it does not. */
  pick(sight: Sight): { readonly away: number; readonly place: Place } | null
  /** Places all over it, numbered by their addresses: of a mesh its corners, of a terrain the middles of `side` × `side` cells. */
  lattice(side: number): Sites
  readonly footing: Footing
  /** What can be said of a rectangle of it as a whole; missing where nothing can. */
  block?(rect: Rect): GroundBlock
}

/** How things come to stand on a ground. `order` lists the sites in hand. */
export interface Footing {
  /** Lays out heights for the kernels, and normals where they are wanted. */
  lay(sites: Sites, order: Uint32Array, stage: StanceStage, wants: { readonly normals: boolean }): void
  /** Writes to the stage how far each must sink for its whole base to stand on the ground, m; what {@link settle} does later is left at 0. */
  sink(sites: Sites, order: Uint32Array, pick: Uint16Array, bases: readonly Base[], stage: StanceStage): void
  /** Seats bases of instances that are written; `seat` is a site's row of the block. */
  settle(rows: Uint32Array, seat: Uint32Array, size: Float64Array, pick: Uint16Array, bases: readonly Base[], block: Block): void
}
