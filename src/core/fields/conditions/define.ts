import type { Sites } from '../../columns.ts'
import type { Place } from '../../grounds/ground.ts'
import type { ParamSet, ParamValue, Phrase, Span, SpanWords, ValuesOf } from '../../kinds.ts'
import type { Subject } from '../subjects.ts'
import { smoothstep } from '../../math/portable.ts'
import type { LineIndex } from '../../outlines/distance.ts'
import type { Arena } from '../../stages/arena.ts'
import type { BoundIn } from '../bounds.ts'
import type { Around, Surroundings } from '../../surroundings.ts'

export interface ConditionContext extends Surroundings {
  /** Seed of this use of the condition. */
  readonly seed: number
}

/** Multiplies the weight column of all sites by 0…1, and drops none. One loop over columns. */
export interface Weigh {
  (sites: Sites, around: Around, arena: Arena): void
  /** What the weights can be in a block of the terrain; missing where nothing can be said. */
  readonly bound?: BoundIn
}

/** A weighing that can tell what its weights are in a block of the terrain. */
export function bounded(weigh: (sites: Sites, around: Around, arena: Arena) => void, bound: BoundIn): Weigh {
  return Object.assign(weigh, { bound })
}

export interface Condition {
  readonly kind: string
  readonly label: string
  /** What it goes by: lists show those of one subject together. */
  readonly subject: Subject
  readonly help: string
  readonly params: ParamSet
  /** Looks at plan positions (and normals on meshes) alone, so that sites need not be landed for it. */
  readonly flat: boolean
  /** Takes many times as long to ask as heights, slopes or noise: asked of what the others leave. */
  readonly dear: boolean
  sentence(values: Readonly<Record<string, ParamValue>>): Phrase
  prepare(values: Readonly<Record<string, ParamValue>>, context: ConditionContext): Weigh
  /** What it finds at a place, with its number: "slope of 12°". */
  explain(values: Readonly<Record<string, ParamValue>>, context: ConditionContext, place: Place, around: Around): string
  /** How far it looks for what it names, m; without end when this is not said. */
  reach?(values: Readonly<Record<string, ParamValue>>): number
  /** Why it cannot be worked out at all; null when it can. */
  problem?(values: Readonly<Record<string, ParamValue>>): string | null
  /** What should be known of it, though it can be worked out; null when there is nothing. */
  warning?(values: Readonly<Record<string, ParamValue>>, context: ConditionContext): string | null
}

interface ConditionOf<S extends ParamSet> {
  readonly kind: string
  readonly label: string
  readonly subject: Subject
  readonly help: string
  readonly params: S
  readonly flat?: true
  readonly dear?: true
  sentence(values: ValuesOf<S>): Phrase
  prepare(values: ValuesOf<S>, context: ConditionContext): Weigh
  explain(values: ValuesOf<S>, context: ConditionContext, place: Place, around: Around): string
  reach?(values: ValuesOf<S>): number
  problem?(values: ValuesOf<S>): string | null
  warning?(values: ValuesOf<S>, context: ConditionContext): string | null
}

/** Ties a descriptor to the types of its own parameters. */
export function defineCondition<S extends ParamSet>(descriptor: ConditionOf<S>): Condition {
  const { reach, problem, warning } = descriptor
  return {
    kind: descriptor.kind,
    label: descriptor.label,
    subject: descriptor.subject,
    help: descriptor.help,
    params: descriptor.params,
    flat: descriptor.flat ?? false,
    dear: descriptor.dear ?? false,
    sentence: (values) => descriptor.sentence(values as ValuesOf<S>),
    prepare: (values, context) => descriptor.prepare(values as ValuesOf<S>, context),
    explain: (values, context, place, around) => descriptor.explain(values as ValuesOf<S>, context, place, around),
    ...(reach && { reach: (values) => reach(values as ValuesOf<S>) }),
    ...(problem && { problem: (values) => problem(values as ValuesOf<S>) }),
    ...(warning && { warning: (values, context) => warning(values as ValuesOf<S>, context) }),
  }
}

/**
 * Weight of a value inside a span: 1 within, 0 outside, a smoothstep of `soft` just inside each
 * closed end. Narrowing the span never raises it.
 */
export function within(value: number, from: number, to: number, soft: number): number {
  if (value < from || value > to) return 0
  if (!(soft > 0)) return 1
  // An open end has no ramp, for a value without end either.
  const low = from === -Infinity ? 1 : smoothstep((value - from) / soft)
  return to === Infinity ? low : low * smoothstep((to - value) / soft)
}

/** Multiplies the weights of the first `count` sites by {@link within} of their values less `off`. */
export function weighWithin(weight: Float64Array, values: Float64Array, count: number, off: number, from: number, to: number, soft: number): void {
  for (let i = 0; i < count; i++) weight[i] *= within(values[i] - off, from, to, soft)
}

/** The ends of a span as numbers, open ends as ∓infinity. */
export function ends(span: Span): { from: number; to: number } {
  return { from: span.from ?? -Infinity, to: span.to ?? Infinity }
}

/** 0 at a border, 1 from `soft` metres within it on; `depth` counts inwards. */
export function fadeIn(depth: number, soft: number): number {
  if (depth < 0) return 0
  return soft > 0 ? smoothstep(depth / soft) : 1
}

/** A length as one reads it: "0.35 m", "12.4 m". */
export function metres(value: number): string {
  const size = Math.abs(value)
  return `${fixed(value, size < 10 ? 2 : size < 100 ? 1 : 0)} m`
}

/** A number with so many decimals, with a true minus. */
export function fixed(value: number, decimals: number): string {
  return value.toFixed(decimals).replace('-', '−')
}

/** Signed distance of one place to the lines of an index, m. */
export function distanceAt(index: LineIndex, { x, z }: Place, signed: boolean): number {
  const out = new Float64Array(1)
  index.distances(Float64Array.of(x), Float64Array.of(z), 1, signed, Infinity, out)
  return out[0]
}

/** Words for a span of distances, and of values that may be below 0. */
export const DISTANCE_WORDS: SpanWords = { under: 'within', above: 'more than' }
export const SIGNED_WORDS: SpanWords = { under: 'at most', above: 'at least' }

/** "under 18°", "above 3 m", "0.3–1.2 m", "any …" as a live phrase around the span parameter. */
export function spanPhrase(param: string, before: string, span: Span, after: string, any: string, words?: SpanWords): Phrase {
  if (span.from === null && span.to === null) return [{ param, text: any }]
  return [before, { param, words }, after].filter((piece) => piece !== '')
}
