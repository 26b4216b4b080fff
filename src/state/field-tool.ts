import type { StoreApi } from 'zustand/vanilla'
import { createStore } from 'zustand/vanilla'
import type { Fold } from '../core/kinds.ts'
import type { ConditionUse, Outline } from '../core/meadow.ts'
import type { PointOf } from '../document/edits/outlines.ts'

/** A file on its way in, and what it is taken for. */
export interface Incoming {
  readonly as: 'ground' | 'model' | 'mesh' | 'outlines'
  readonly file: File
  /** Files chosen with it that it may need. */
  readonly beside?: readonly File[]
}

/** What is drawn or changed by hand in the picture, apart from the document. */
export interface FieldToolState {
  /** Whether clicks ask why something grows there or not. */
  readonly probing: boolean
  /** The fold of the open card that is unfolded. */
  readonly fold: Fold | null
  /** Whose conditions are shown as colour on the ground: one of them, or all together. */
  readonly tint: { readonly planting: string; readonly use: string | null } | null
  /** Conditions copied from a planting. */
  readonly clip: readonly ConditionUse[] | null
  /** Whether all beacons are shown, and the one whose handle is out. */
  readonly beacons: boolean
  readonly beacon: string | null
  /** The mesh whose handles are out, and what they do. */
  readonly mesh: string | null
  readonly grip: 'translate' | 'rotate' | 'scale'
  /** Whether all outlines are shown; else only those that the open planting uses. */
  readonly all: boolean
  /** The outline whose points are shown. */
  readonly selected: string | null
  readonly point: PointOf | null
  /** The line that is being drawn, x z x z …, m. */
  readonly drawing: { readonly kind: Outline['kind']; readonly points: readonly number[] } | null
  readonly incoming: Incoming | null
  /** Whether a new planting is being chosen. */
  readonly choosing: boolean
}

export type FieldTool = StoreApi<FieldToolState>

export function createFieldTool(): FieldTool {
  return createStore<FieldToolState>(() => ({
    probing: false,
    fold: 'where',
    tint: null,
    clip: null,
    beacons: false,
    beacon: null,
    mesh: null,
    grip: 'translate',
    all: false,
    selected: null,
    point: null,
    drawing: null,
    incoming: null,
    choosing: false,
  }))
}
