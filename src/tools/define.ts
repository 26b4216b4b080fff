import type { Vector } from '../core/hand/frames.ts'
import type { Quaternion } from '../core/math/quaternion.ts'
import type { Sight } from '../core/grounds/ground.ts'
import type { ParamSet, ParamValue, Phrase, ValuesOf } from '../core/kinds.ts'
import type { Planting } from '../core/meadow.ts'
import type { FieldSession } from '../state/field-session.ts'
import type { FieldTool } from '../state/field-tool.ts'

/** What tools ask of the picture. Places of the picture are in px from its top left. */
export interface ToolView {
  /** The place of the terrain under a place of the picture. */
  pick(x: number, y: number): { readonly x: number; readonly y: number; readonly z: number } | null
  /** The line of sight through a place of the picture. */
  sight(x: number, y: number): Sight
  /** Where a place of the meadow is seen, on the ground unless its height is given; null when it is not in the picture. */
  project(x: number, z: number, y?: number): readonly [number, number] | null
  /** The way from the meadow to the picture as it is now: four rows of four numbers, to be divided by the last, and the size of the picture, px. */
  projection(): { readonly matrix: ArrayLike<number>; readonly width: number; readonly height: number }
  /** Shows the marks of what is chosen moved, turned and sized about a place, as it will stand; null as it stands. */
  moveMarks(by: MarksMoved | null): void
  flyToPoint(x: number, y: number): void
  /** Moves the picture by shares of what it shows. */
  step(by: { readonly right?: number; readonly ahead?: number }): void
  /** The handles at the mesh that is held. */
  readonly handles: MeshHandles
}

/** How marks are shown moved: turned and sized about a place, then moved, m. */
export interface MarksMoved {
  readonly about: Vector
  readonly turn: Quaternion
  readonly size: number
  readonly move: Vector
}

/** Handles that move, turn and size a mesh. */
export interface MeshHandles {
  /** Looks at the pointer; whether it is on a handle. */
  hover(x: number, y: number): boolean
  press(x: number, y: number): void
  drag(x: number, y: number): void
  release(x: number, y: number): void
}

/** What a tool works on. */
export interface Desk {
  readonly session: FieldSession
  readonly view: ToolView
  /** What is held, drawn and set by hand. */
  readonly state: FieldTool
}

/** The pointer over the picture. */
export interface Pointer {
  /** px from the picture's top left. */
  readonly x: number
  readonly y: number
  /** Farthest that it has been from where it was pressed, px. */
  readonly moved: number
  readonly shift: boolean
  readonly alt: boolean
  /** Whether Ctrl or Cmd is held, which holds snapping off. */
  readonly free: boolean
  /** How hard a pen presses, 0…1; 1 where the device does not tell. */
  readonly pressure: number
}

/** A tool in hand. Whatever it does not answer is left to the picture: turning, moving, coming nearer. */
export interface ActiveTool {
  /** What a click and a drag do now, for the status line; null leaves the line to what is under the pointer. */
  words?(): string | null
  /** The main button went down; true takes the pointer until it is let go. */
  press?(at: Pointer): boolean
  drag?(at: Pointer): void
  release?(at: Pointer): void
  /** The pointer was taken away in the middle of a drag. */
  cancel?(): void
  /** A press that was not taken, let go without having moved. */
  click?(at: Pointer): void
  double?(at: Pointer): void
  /** The pointer moves with no button down; null when it has left the picture. */
  hover?(at: Pointer | null): void
  /** The wheel was turned with Shift or Alt held, by so many steps; true when it was meant for the tool. */
  wheel?(steps: number, at: Pointer): boolean
  /** A key while nothing is typed into; true when it was meant for the tool. */
  key?(event: KeyboardEvent): boolean
  /** Steps back one level; false when there is none, and the tool is put down. */
  escape?(): boolean
  /** Called when the tool is put down. */
  end?(): void
}

/** The planting whose card is open. */
export function openOf({ session, state }: Pick<Desk, 'session' | 'state'>): Planting | undefined {
  return session.meadow().plantings.find(({ id }) => id === state.getState().open)
}

/** The step that the keys , and . mean to tools that turn, size or widen: down, up, or none. */
export function stepOfKey({ code }: Pick<KeyboardEvent, 'code'>): -1 | 0 | 1 {
  return code === 'Comma' ? -1 : code === 'Period' ? 1 : 0
}

/** Something the pointer can do in the picture: one file, and one line in the list. */
export interface ToolKind {
  readonly kind: string
  readonly label: string
  /** The key that takes it up. */
  readonly keys: string
  readonly help: string
  /** Where it stands in the strip. */
  readonly place: number
  /** Its small drawing: an outline in a square of 16 × 16. */
  readonly drawing: string
  /** The pointer over the picture. */
  readonly cursor: string
  /** Whether what can be taken hold of in the picture, such as points and beacons, can be while it is in hand. */
  readonly grips: boolean
  /** Whether it points at places, so that the arrow keys move a cross and Enter clicks there. */
  readonly cross: boolean
  /** Whether it sets things to corners, pegs and the grid, where that is switched on. */
  readonly snaps?: boolean
  readonly params: ParamSet
  /** What it does, with its settings live; `planting` is the name of the open one. */
  sentence(values: Readonly<Record<string, ParamValue>>, planting: string | null): Phrase
  /** Takes the tool in hand; a sentence when it cannot be now. */
  begin(desk: Desk): ActiveTool | string
}

interface ToolKindOf<S extends ParamSet> extends Omit<ToolKind, 'params' | 'sentence' | 'begin'> {
  readonly params: S
  sentence(values: ValuesOf<S>, planting: string | null): Phrase
  begin(desk: Desk, values: () => ValuesOf<S>): ActiveTool | string
}

/** Ties a tool to the types of its own settings, which `begin` reads as they are at the moment. */
export function defineTool<S extends ParamSet>(descriptor: ToolKindOf<S>): ToolKind {
  const { kind, params } = descriptor
  return {
    ...descriptor,
    sentence: (values, planting) => descriptor.sentence(values as ValuesOf<S>, planting),
    begin: (desk) => descriptor.begin(desk, () => valuesOfTool({ kind, params }, desk.state) as ValuesOf<S>),
  }
}

/** The settings of a tool as they are now. */
export function valuesOfTool({ kind, params }: Pick<ToolKind, 'kind' | 'params'>, state: FieldTool): Record<string, ParamValue> {
  const defaults = Object.fromEntries(Object.entries(params).map(([key, param]) => [key, param.default]))
  return { ...defaults, ...state.getState().settings[kind] }
}

/** Changes a setting of a tool. */
export function setToolValue(state: FieldTool, kind: string, param: string, value: ParamValue): void {
  state.setState(({ settings }) => ({ settings: { ...settings, [kind]: { ...settings[kind], [param]: value } } }))
}
