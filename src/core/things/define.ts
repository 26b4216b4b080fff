import type { Rect } from '../grounds/terrain.ts'
import type { MeshShape } from '../grounds/mesh-shape.ts'
import type { MeshTree } from '../grounds/solid.ts'
import type { BlobHash } from '../meadow.ts'
import type { FieldsOf } from './fields.ts'

/** What stands in a meadow beside plantings. */
export interface Thing {
  readonly id: string
  readonly name: string
}

/** What a thread has in hand to make things ready with. */
export interface Parts {
  /** Bytes of a blob; throws when they were never handed over. */
  bytes(name: BlobHash): Uint8Array<ArrayBuffer>
  treeOf(shape: MeshShape): MeshTree
}

/** What parameters can refer to among the things of a kind. */
export interface Reference<T> {
  readonly to: string
  /** With its article: “a patch”. */
  readonly word: string
  readonly is: (thing: T) => boolean
}

/**
 * A sort of thing, said in one place: what it holds, what it stands on, what names it, how it goes to workers.
 * `T` is the thing as the document holds it, `R` as conditions and drivers find it.
 */
export interface ThingKindOf<T extends Thing, R> {
  readonly kind: string
  /** The document's list of them. */
  readonly list: string
  readonly one: string
  readonly many: string
  /** How many there may be. */
  readonly most: number
  /** Ids that none of them can have. */
  readonly taken?: readonly string[]
  readonly fields: FieldsOf<T>
  readonly references: readonly Reference<T>[]
  /** Blobs that it stands on. */
  blobs(thing: T): readonly BlobHash[]
  /** Those of them that growing looks into. */
  grownBlobs(thing: T): readonly BlobHash[]
  /** The thing without what does not change what grows. */
  bare(thing: T): T
  /** Whether it can be long, so that it goes to workers once, by a name of its own, and setups only name it. */
  readonly long: boolean
  /** Makes it ready to be looked at. */
  ready(thing: T, parts: Parts): R
  /** What it covers in plan, m, for kinds whose place only their bytes tell. */
  extent?(ready: R): Rect
  /**
   * Names all of a thing that can matter to sites in a rectangle for whoever looks `reach` metres far; empty when
   * nothing of it does.
   */
  near(thing: T, rect: Rect, reach: number, extent: Rect | null): string
}

/** A sort of thing, whatever its types. */
export type ThingKind = ThingKindOf<Thing, unknown>

/** Ties a kind to the types of its things. */
export function defineThing<T extends Thing, R>(kind: ThingKindOf<T, R>): ThingKindOf<T, R> {
  return kind
}

/** A kind as the list of all holds it. */
export function anyThing<T extends Thing, R>(kind: ThingKindOf<T, R>): ThingKind {
  return kind as unknown as ThingKind
}

/** Things made ready, by their kinds and ids. */
export type ThingsAround = ReadonlyMap<string, ReadonlyMap<string, unknown>>

/** The ready thing of a kind that has an id; undefined when it is not there. */
export function thingOf<T extends Thing, R>(things: ThingsAround, kind: ThingKindOf<T, R>, id: string): R | undefined {
  return things.get(kind.kind)?.get(id) as R | undefined
}

/** All ready things of a kind. */
export function thingsOf<T extends Thing, R>(things: ThingsAround, kind: ThingKindOf<T, R>): R[] {
  return [...((things.get(kind.kind)?.values() ?? []) as Iterable<R>)]
}

/** Whether a rectangle widened by `reach` meets another. */
export function meets(rect: Rect, reach: number, other: Rect): boolean {
  return rect.x0 - reach <= other.x1 && rect.x1 + reach >= other.x0 && rect.z0 - reach <= other.z1 && rect.z1 + reach >= other.z0
}
