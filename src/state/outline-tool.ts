import type { StoreApi } from 'zustand/vanilla'
import { createStore } from 'zustand/vanilla'
import type { Outline } from '../core/meadow.ts'

export interface PointOf {
  readonly line: number
  readonly index: number
}

/** What is drawn or changed by hand in the picture, apart from the document. */
export interface OutlineToolState {
  /** Whether clicks ask why something grows there or not. */
  readonly probing: boolean
  /** Whether all outlines are shown; else only those that the open planting uses. */
  readonly all: boolean
  /** The outline whose points are shown. */
  readonly selected: string | null
  readonly point: PointOf | null
  /** The line that is being drawn, x z x z …, m. */
  readonly drawing: { readonly kind: Outline['kind']; readonly points: readonly number[] } | null
}

export type OutlineTool = StoreApi<OutlineToolState>

export function createOutlineTool(): OutlineTool {
  return createStore<OutlineToolState>(() => ({ probing: false, all: false, selected: null, point: null, drawing: null }))
}
