import type { StoreApi } from 'zustand/vanilla'
import { createStore } from 'zustand/vanilla'
import type { Sight } from '../core/grounds/ground.ts'
import type { Fold, ParamValue } from '../core/kinds.ts'
import type { Chosen, RowOf } from './chosen.ts'
import { NOTHING_CHOSEN } from './chosen.ts'
import type { StrokeAct } from '../core/fields/stroke-acts.ts'
import type { Stand, Vector } from '../core/hand/frames.ts'
import type { Asset, ConditionUse } from '../core/meadow.ts'
import type { PointOf } from '../document/edits/outlines.ts'

/** A file on its way in, and what it is taken for. */
export interface Incoming {
  readonly as: 'ground' | 'model' | 'mesh' | 'outlines'
  readonly file: File
  /** More models that came with it, each for itself. */
  readonly more?: readonly File[]
  /** Files chosen with it that it may need. */
  readonly beside?: readonly File[]
  /** The asset whose model it is to be. */
  readonly instead?: Asset
  /** Whether the file is that asset's own model as it is kept. */
  readonly settled?: boolean
}

/** What the next click picks another thing or a face for. */
export interface Picking {
  readonly what: 'match' | 'centre' | 'turn'
  /** What is taken over by matching. */
  readonly take: readonly string[]
}

/** What one handle does: along an axis, over the plane of two, or all ways at once. */
export type HandleWay = 'x' | 'y' | 'z' | 'xy' | 'yz' | 'xz' | 'all'

/** How far a handle has been drawn: metres along the axes, degrees about one, a factor. */
export interface Drawn {
  readonly what: 'move' | 'turn' | 'size'
  readonly way: HandleWay
  readonly move: Vector
  readonly degrees: number
  readonly factor: number
}

/** A thing that is about to be placed. */
export interface Ghost {
  /** The number of its asset. */
  readonly asset: number
  readonly stand: Stand
}

/** A brush where it lies on a ground, m. */
export interface Brush {
  readonly place: readonly [number, number, number]
  /** Of a mesh; null on the terrain. */
  readonly normal: readonly [number, number, number] | null
  readonly radius: number
  readonly soft: number
  readonly act: StrokeAct
  /** What stands beside it: its numbers. */
  readonly label: string
  /** What a press would touch, in words. */
  readonly touches: string
  /** Whether a press would touch nothing. */
  readonly idle: boolean
}

/** What is drawn or changed by hand in the picture, apart from the document. */
export interface FieldToolState {
  /** The tool in hand, and the settings of all tools as far as they were changed. */
  readonly active: string
  readonly settings: Readonly<Record<string, Readonly<Record<string, ParamValue>> | undefined>>
  /** The planting whose card is open. */
  readonly open: string | null
  /** The line of sight to the place that is asked about. */
  readonly asking: Sight | null
  /** The fold of the open card that is unfolded. */
  readonly fold: Fold | null
  /** Whose conditions are shown as colour on the ground: one of them, or all together. */
  readonly tint: { readonly planting: string; readonly use: string | null } | null
  /** The share of the ground that they take; null while it is not known. */
  readonly tintShare: number | null
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
  /** The line that is being drawn, x z x z …, m; null while nothing is drawn. */
  readonly drawing: readonly number[] | null
  /** Whether that line's end is joined to its beginning. */
  readonly closes: boolean
  /** The brush over the ground, and what it would touch; null while it is not in hand or over no ground. */
  readonly brush: Brush | null
  /** The instances that are chosen, the one under the pointer, and the share of them that acts go to. */
  readonly chosen: Chosen
  readonly hovered: RowOf | null
  /** The asset that the nursery is to show. */
  readonly shownAsset: string | null
  /** What the next click picks a thing or a face for. */
  readonly picking: Picking | null
  /** How far a handle at what is chosen has been drawn, while it is held. */
  readonly drawn: Drawn | null
  /** The group that was entered: clicks mean what is in it. */
  readonly entered: string | null
  /** What is measured: from where, to where, and whether both are set. */
  readonly measured: { readonly from: Vector; readonly to: Vector; readonly done: boolean } | null
  /** The place under the pointer while things are set to what is near, and what it is set to. */
  readonly snap: { readonly at: Vector; readonly on: { readonly place: Vector; readonly words: string } | null } | null
  /** What a press would place, as it would stand. */
  readonly ghost: readonly Ghost[]
  /** The box that is drawn to choose by, px: x0 y0 x1 y1; or a free line around, px x y x y …. */
  readonly lasso: readonly number[] | null
  /** The stroke that is chosen. */
  readonly stroke: string | null
  /** The cross that the arrow keys move, px from the picture's top left; null while the pointer is used. */
  readonly cross: readonly [number, number] | null
  readonly incoming: Incoming | null
  /** Whether a new planting is being chosen. */
  readonly choosing: boolean
}

export type FieldTool = StoreApi<FieldToolState>

export function createFieldTool(): FieldTool {
  return createStore<FieldToolState>(() => ({
    active: 'look',
    settings: {},
    open: null,
    asking: null,
    fold: 'where',
    tint: null,
    tintShare: null,
    clip: null,
    beacons: false,
    beacon: null,
    mesh: null,
    grip: 'translate',
    all: false,
    selected: null,
    point: null,
    drawing: null,
    closes: false,
    chosen: NOTHING_CHOSEN,
    hovered: null,
    measured: null,
    shownAsset: null,
    picking: null,
    entered: null,
    drawn: null,
    snap: null,
    ghost: [],
    lasso: null,
    brush: null,
    stroke: null,
    cross: null,
    incoming: null,
    choosing: false,
  }))
}
