import type { ConditionContext } from '../conditions/define.ts'
import type { Sites } from '../../columns.ts'
import type { ParamSet, ParamValue, Phrase, Unit, ValuesOf } from '../../kinds.ts'
import type { Around } from '../../surroundings.ts'
import type { Subject } from '../subjects.ts'

/** Writes a value for every site, in the driver's unit. */
export type Measure = (sites: Sites, around: Around, out: Float64Array) => void

/** A field over the ground that can change the density or how instances stand. */
export interface Driver {
  readonly kind: string
  readonly label: string
  /** What it goes by: lists show those of one subject together. */
  readonly subject: Subject
  readonly help: string
  readonly unit: Unit
  readonly params: ParamSet
  /** Values that count as 0 and as 1 at first. */
  readonly over: { readonly from: number; readonly to: number }
  /** Looks at plan positions (and normals on meshes) alone, so that sites need no heights for it. */
  readonly flat: boolean
  /** Ends at a reach of its own: beyond that it is 0. */
  readonly ends: boolean
  /** What it goes by, in the middle of a sentence: "the height", "the distance to …". */
  words(values: Readonly<Record<string, ParamValue>>): Phrase
  /** Values farther than `farthest` from 0 count alike on either side, and need not be told apart. */
  prepare(values: Readonly<Record<string, ParamValue>>, context: ConditionContext, farthest: number): Measure
  /** How far it looks for what it names, m; without end when this is not said. */
  reach?(values: Readonly<Record<string, ParamValue>>, over: { readonly from: number; readonly to: number }): number
  /** Why it cannot be worked out at all; null when it can. */
  problem?(values: Readonly<Record<string, ParamValue>>): string | null
}

interface DriverOf<S extends ParamSet> {
  readonly kind: string
  readonly label: string
  readonly subject: Subject
  readonly help: string
  readonly unit: Unit
  readonly params: S
  readonly over: { readonly from: number; readonly to: number }
  readonly flat?: true
  readonly ends?: true
  words(values: ValuesOf<S>): Phrase
  prepare(values: ValuesOf<S>, context: ConditionContext, farthest: number): Measure
  reach?(values: ValuesOf<S>, over: { readonly from: number; readonly to: number }): number
  problem?(values: ValuesOf<S>): string | null
}

/** Ties a descriptor to the types of its own parameters. */
export function defineDriver<S extends ParamSet>(descriptor: DriverOf<S>): Driver {
  const { reach, problem } = descriptor
  return {
    kind: descriptor.kind,
    label: descriptor.label,
    subject: descriptor.subject,
    help: descriptor.help,
    unit: descriptor.unit,
    params: descriptor.params,
    over: descriptor.over,
    flat: descriptor.flat ?? false,
    ends: descriptor.ends ?? false,
    words: (values) => descriptor.words(values as ValuesOf<S>),
    prepare: (values, context, farthest) => descriptor.prepare(values as ValuesOf<S>, context, farthest),
    ...(reach && { reach: (values, over) => reach(values as ValuesOf<S>, over) }),
    ...(problem && { problem: (values) => problem(values as ValuesOf<S>) }),
  }
}

/** The field of a driver that names nothing that is there: 0 everywhere. */
export const NO_FIELD: Measure = ({ count }, _around, out) => void out.fill(0, 0, count)
