import type { Place } from '../grounds/ground.ts'
import type { Rect } from '../grounds/terrain.ts'
import type { ParamSet, ParamValue, Phrase, ValuesOf } from '../kinds.ts'
import type { Outline, Planting } from '../meadow.ts'
import type { Arena } from '../stages/arena.ts'
import type { GrowContext, Near, TileResult } from '../stages/context.ts'
import type { Plot } from '../stages/plot.ts'
import type { Surroundings } from '../surroundings.ts'

/** A piece of what a planting grows: a tile of a plot, or a plot that grows as a whole. */
export interface TileOf {
  /** Which of its plots. */
  readonly plot: number
  readonly rect: Rect
}

/** A planting made ready to grow any tile of it, in any order; a tile that has to know of rooms on plots before it, after those. */
export interface PreparedPlanting {
  /** What it grows on each of its grounds, in their order. */
  readonly plots: readonly Plot[]
  /** Largest radius of room an instance can want, m. */
  readonly largestRoom: number
  /** Why it cannot grow as it is set, which is known only with what surrounds it; missing when it can. */
  readonly refusal?: string | null
  /** Just so many instances are wanted over all tiles: the lowest keys stay. */
  readonly exactCount: number | null
  /** Instances to expect in all, before room is settled; the conditions are asked at some ten thousand places for it. */
  expected(): number
  /** Grows one tile. `part` 0…1 grows only the lowest keys: a coarse look, a subset of the whole. */
  grow(tile: TileOf, near: Near | null, part: number): TileResult
}

/** Told how far long work has come, 0…1, and what is done, in words. */
export type Progress = (share: number, doing: string) => void

export interface PrepareOptions {
  /** Hears of work that takes longer than a moment. */
  readonly progress?: Progress
  /** For exact counts: how many octaves finer than estimated to look for candidates. */
  readonly finer?: number
  /** What it works in: the thread's own, or a new one. */
  readonly arena?: Arena
}

export interface PlantingKind {
  readonly kind: string
  readonly label: string
  readonly help: string
  readonly params: ParamSet
  /** Coverage where no stroke of a brush lies: 1 of what grows by rule, 0 of what is sown by hand. */
  readonly base: number
  /** How far from the lines that a planting lies along they matter, m; null of kinds that lie along none. */
  readonly lineReach: ((values: Readonly<Record<string, ParamValue>>) => number) | null
  /** Whether the lines that it lies along are patches, which it fills. */
  readonly within: boolean
  /** Whether it stands on a base: a frame of its own, on the terrain or on a mesh. */
  readonly based: boolean
  /** Whether it stands on meshes only. */
  readonly meshesOnly: boolean
  /** Whether it stands in order, so that one that is missing is seen. */
  readonly inOrder: boolean
  /** What has to be done first for anything to grow; null when nothing has. */
  needs(planting: Planting): string | null
  /** Why it cannot be as it is set, and what to do; null when it can. */
  problem(planting: Planting, outlines: readonly Outline[]): string | null
  /** Settings that change along with one of them, as they say the same in other words. */
  alongWith(values: Readonly<Record<string, ParamValue>>, param: string, value: ParamValue): Record<string, ParamValue>
  /** Settings of a new one, where neighbours are to stand about so far apart, m. */
  atFirst(spacing: number): Record<string, ParamValue>
  /** The pieces of its sentence before and after the habitat. */
  howMany(values: Readonly<Record<string, ParamValue>>): Phrase
  howItStands(values: Readonly<Record<string, ParamValue>>): Phrase
  /** Whether its instances depend on the room that earlier plantings take. */
  yieldsToEarlier(values: Readonly<Record<string, ParamValue>>): boolean
  /** Smallest radius of room that any of its instances wants, m; `rooms` are those of its mix at size 1. */
  leastRoom(values: Readonly<Record<string, ParamValue>>, rooms: readonly number[]): number
  /** How far neighbours stand apart, m, about; `area` is what it covers, m². */
  apart(values: Readonly<Record<string, ParamValue>>, area: number): number
  /** Why nothing comes to a place of its grounds, whatever its conditions say; null when something can. */
  bars(planting: Planting, surroundings: Surroundings, seen: { readonly ground: string; readonly place: Place }): string | null
  prepare(planting: Planting, context: GrowContext, options: PrepareOptions): PreparedPlanting
}

interface PlantingKindOf<S extends ParamSet> {
  readonly kind: string
  readonly label: string
  readonly help: string
  readonly params: S
  readonly base: number
  readonly lineReach: ((values: ValuesOf<S>) => number) | null
  readonly based: boolean
  readonly within?: true
  readonly meshesOnly?: true
  readonly inOrder?: true
  needs(planting: Planting): string | null
  problem(values: ValuesOf<S>, planting: Planting, outlines: readonly Outline[]): string | null
  /** Missing where no setting says what others say. */
  alongWith?(values: ValuesOf<S>, param: string, value: ParamValue): Record<string, ParamValue>
  atFirst(spacing: number): Record<string, ParamValue>
  howMany(values: ValuesOf<S>): Phrase
  howItStands(values: ValuesOf<S>): Phrase
  yieldsToEarlier(values: ValuesOf<S>): boolean
  leastRoom(values: ValuesOf<S>, rooms: readonly number[]): number
  apart(values: ValuesOf<S>, area: number): number
  bars(planting: Planting, values: ValuesOf<S>, surroundings: Surroundings, seen: { readonly ground: string; readonly place: Place }): string | null
  prepare(
    planting: Planting,
    values: ValuesOf<S>,
    context: GrowContext,
    options: PrepareOptions,
  ): PreparedPlanting
}

/** Ties a descriptor to the types of its own parameters. */
export function definePlanting<S extends ParamSet>(descriptor: PlantingKindOf<S>): PlantingKind {
  return {
    ...descriptor,
    within: descriptor.within ?? false,
    meshesOnly: descriptor.meshesOnly ?? false,
    inOrder: descriptor.inOrder ?? false,
    lineReach: descriptor.lineReach && ((values) => descriptor.lineReach?.(values as ValuesOf<S>) ?? 0),
    howMany: (values) => descriptor.howMany(values as ValuesOf<S>),
    howItStands: (values) => descriptor.howItStands(values as ValuesOf<S>),
    yieldsToEarlier: (values) => descriptor.yieldsToEarlier(values as ValuesOf<S>),
    leastRoom: (values, rooms) => descriptor.leastRoom(values as ValuesOf<S>, rooms),
    apart: (values, area) => descriptor.apart(values as ValuesOf<S>, area),
    alongWith: (values, param, value) => descriptor.alongWith?.(values as ValuesOf<S>, param, value) ?? {},
    problem: (planting, outlines) => descriptor.problem(planting.params as ValuesOf<S>, planting, outlines),
    bars: (planting, surroundings, seen) => descriptor.bars(planting, planting.params as ValuesOf<S>, surroundings, seen),
    prepare: (planting, context, options) =>
      descriptor.prepare(planting, planting.params as ValuesOf<S>, context, options),
  }
}
