import type { Outline } from '../core/meadow.ts'

/** A patch or path as a file gives it; what is missing is filled in when it is added. */
export type ReadOutline = Pick<Outline, 'kind' | 'lines'> & Partial<Pick<Outline, 'name' | 'colour' | 'smooth' | 'closed' | 'width'>>

export interface OutlineFormat {
  readonly kind: string
  readonly label: string
  readonly extensions: readonly string[]
  readonly mime: string
  /** Throws ProblemError. */
  read(text: string, name: string): ReadOutline[]
  write(outlines: readonly Outline[], bounds: { readonly sizeX: number; readonly sizeZ: number }): string
}
