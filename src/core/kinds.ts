/**
 * Kinds: every planting, condition, ground and format is one descriptor object in one file.
 * Its parameters are written once, here described; type, schema, default, form field, unit, help
 * text and documentation are all taken from that description.
 */
export type Unit = 'm' | 'deg' | 'share' | 'count' | 'per-m2' | 'factor' | 'index' | 'parts'

interface ParamBase<T> {
  readonly label: string
  readonly help: string
  readonly default: T
  /** Which fold of the card shows it; conditions ignore it. */
  readonly fold?: Fold
  /** Shown only while another parameter of the same kind has one of these values. */
  readonly shownWhen?: { readonly param: string; readonly is: readonly ParamValue[] }
}

export type Fold = 'what' | 'where' | 'how-many' | 'how-it-stands'

export interface NumberParam extends ParamBase<number> {
  readonly type: 'number'
  readonly unit: Unit
  readonly min: number
  readonly max: number
  readonly step: number
  /** Values with a name, offered beside the number. */
  readonly presets?: readonly { readonly label: string; readonly value: number }[]
}

/** Two ends in the parameter's unit; null leaves an end open. */
export interface Span {
  readonly from: number | null
  readonly to: number | null
}

export interface SpanParam extends ParamBase<Span> {
  readonly type: 'span'
  readonly unit: Unit
  readonly min: number
  readonly max: number
  readonly step: number
  /** Whether an end may be left open. */
  readonly open: boolean
  /** The distribution on the actual ground that is drawn behind it. */
  readonly shownOver?: 'height' | 'slope' | 'above-water'
}

export interface ChoiceParam<O extends string = string> extends ParamBase<O> {
  readonly type: 'choice'
  readonly options: readonly { readonly value: O; readonly label: string }[]
}

export interface FlagParam extends ParamBase<boolean> {
  readonly type: 'flag'
}

export interface SeedParam extends ParamBase<number> {
  readonly type: 'seed'
}

/** The id of a thing of the meadow; empty as long as none is chosen. */
export interface RefParam extends ParamBase<string> {
  readonly type: 'ref'
  readonly to: RefTarget
}

/** What a parameter can refer to: 'planting', or what a kind of thing offers; see `things/index.ts`. */
export type RefTarget = string

/** A formula as it is typed; see `math/formula.ts`. */
export interface FormulaParam extends ParamBase<string> {
  readonly type: 'formula'
}

export type Param = NumberParam | SpanParam | ChoiceParam | FlagParam | SeedParam | RefParam | FormulaParam
export type ParamValue = number | boolean | string | Span
export type ParamSet = Readonly<Record<string, Param>>

export type ValueOf<P> = P extends ChoiceParam<infer O>
  ? O
  : P extends NumberParam | SeedParam
    ? number
    : P extends RefParam | FormulaParam
      ? string
      : P extends FlagParam
      ? boolean
      : P extends SpanParam
        ? Span
        : never

export type ValuesOf<S extends ParamSet> = { -readonly [K in keyof S]: ValueOf<S[K]> }

type Common<T> = Omit<ParamBase<T>, 'default'>
type Limits = { min?: number; max?: number; step?: number }

/** A length in metres. */
export function length(value: number, rest: Common<number> & Limits): NumberParam {
  return { type: 'number', unit: 'm', min: 0, max: 10000, step: 0.1, ...rest, default: value }
}

/** An angle; degrees in the document and at the interface, radians inside `prepare`. */
export function angle(value: number, rest: Common<number> & Limits): NumberParam {
  return { type: 'number', unit: 'deg', min: 0, max: 360, step: 1, ...rest, default: value }
}

/** A share of the whole, 0 to 1; shown in per cent. */
export function share(value: number, rest: Common<number> & Limits): NumberParam {
  return { type: 'number', unit: 'share', min: 0, max: 1, step: 0.01, ...rest, default: value }
}

/** A plain number in a given unit. */
export function number(unit: Unit, value: number, rest: Common<number> & Limits & Pick<NumberParam, 'presets'>): NumberParam {
  return { type: 'number', unit, min: 0, max: 1e9, step: 1, ...rest, default: value }
}

/** A from–to pair. */
export function span(
  unit: Unit,
  from: number | null,
  to: number | null,
  rest: Common<Span> & Limits & { open?: boolean; shownOver?: SpanParam['shownOver'] },
): SpanParam {
  return { type: 'span', unit, min: 0, max: 10000, step: 0.1, open: false, ...rest, default: { from, to } }
}

/** One of several words. */
export function choice<const O extends string>(
  value: NoInfer<O>,
  options: readonly { readonly value: O; readonly label: string }[],
  rest: Common<O>,
): ChoiceParam<O> {
  return { type: 'choice', options, ...rest, default: value }
}

/** Yes or no. */
export function flag(value: boolean, rest: Common<boolean>): FlagParam {
  return { type: 'flag', ...rest, default: value }
}

/** A throw of the dice: an integer in 0…2³²−1. */
export function seed(rest: Common<number>): SeedParam {
  return { type: 'seed', ...rest, default: 1 }
}

/** One of the meadow's own things of a sort. */
export function ref(to: RefTarget, rest: Common<string>): RefParam {
  return { type: 'ref', to, ...rest, default: '' }
}

/** A formula. */
export function formula(value: string, rest: Common<string>): FormulaParam {
  return { type: 'formula', ...rest, default: value }
}

/** The defaults of a parameter set. */
export function defaultsOf<S extends ParamSet>(params: S): ValuesOf<S> {
  return Object.fromEntries(Object.entries(params).map(([key, param]) => [key, param.default])) as ValuesOf<S>
}

/** A piece of a sentence: plain words, or a value that is edited in place. */
export type Phrase = readonly (string | LivePiece)[]

export interface LivePiece {
  readonly param: string
  /** Stands for the value, which is then not edited here. */
  readonly text?: string
  /** Only one end of a span. */
  readonly end?: 'from' | 'to'
  /** Numbers with their signs turned round: depths of heights below 0. */
  readonly turned?: boolean
  /** Words before a span that is open at its lower or upper end; "under" and "above" by default. */
  readonly words?: SpanWords
}

export interface SpanWords {
  readonly under: string
  readonly above: string
}

/** Builds a phrase: strings stay words; `{ param }` becomes a live value. */
export function phrase(words: TemplateStringsArray, ...values: (string | LivePiece)[]): Phrase {
  return words.flatMap((word, i) => (i < values.length ? [word, values[i]] : [word])).filter((p) => p !== '')
}

/** A registry that is sorted by kind and refuses a kind named twice. */
export interface Registry<K extends { readonly kind: string }> {
  readonly name: string
  readonly all: readonly K[]
  /** Throws when the kind is not there; use {@link has} on untrusted data. */
  get(kind: string): K
  has(kind: string): boolean
}

export function registry<K extends { readonly kind: string }>(name: string, kinds: readonly K[]): Registry<K> {
  const byKind = new Map<string, K>()
  for (const entry of kinds) {
    if (byKind.has(entry.kind)) throw new Error(`registry ${name}: the kind "${entry.kind}" is listed twice`)
    byKind.set(entry.kind, entry)
  }
  const all = [...byKind.values()].sort((a, b) => (a.kind < b.kind ? -1 : 1))
  return {
    name,
    all,
    has: (kind) => byKind.has(kind),
    get(kind) {
      const found = byKind.get(kind)
      if (!found) throw new Error(`No ${name} is called "${kind}"; there are ${all.map((k) => k.kind).join(', ')}`)
      return found
    },
  }
}

/** Ids of the meadow's things that the values of a parameter set name. */
export function refsOf(params: ParamSet, values: Readonly<Record<string, ParamValue>>): { readonly to: RefTarget; readonly id: string }[] {
  return Object.entries(params).flatMap(([key, param]) => {
    const id = values[key]
    return param.type === 'ref' && typeof id === 'string' && id !== '' ? [{ to: param.to, id }] : []
  })
}

/** Whether a parameter is in use, given the values beside it. */
export function isShown(param: Param, values: Readonly<Record<string, ParamValue>>): boolean {
  return !param.shownWhen || param.shownWhen.is.includes(values[param.shownWhen.param])
}
