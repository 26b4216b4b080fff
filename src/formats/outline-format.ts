import type { Outline } from '../core/meadow.ts'

/** A patch or path as a file gives it; what is missing is filled in when it is added. */
export type ReadOutline = Pick<Outline, 'kind'> & { readonly lines: readonly (readonly number[])[] } & Partial<Pick<Outline, 'name' | 'colour' | 'smooth' | 'closed' | 'width'>>

/** What a file of outlines holds: coordinates x to the east and y to the north, the latter with its sign turned, as the file gives them. */
export interface ReadOutlines {
  readonly outlines: readonly ReadOutline[]
  /** What its coordinates are: metres about the middle of the ground; degrees; those of a named system; or what the file does not say. */
  readonly coordinates: OutlineCoordinates
  /** What was left out, in words. */
  readonly notes: readonly string[]
}

export type OutlineCoordinates = { readonly of: 'middle' } | { readonly of: 'unknown' } | { readonly of: 'system'; readonly system: string }

export interface OutlineFormat {
  readonly kind: string
  readonly label: string
  readonly extensions: readonly string[]
  readonly mime: string
  /** Throws ProblemError. */
  read(text: string, name: string): ReadOutlines
  write(outlines: readonly Outline[], bounds: { readonly sizeX: number; readonly sizeZ: number }): string
}
