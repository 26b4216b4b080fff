import type { LivePiece, Param, ParamSet, ParamValue, Phrase, Span, SpanParam, SpanWords } from '../../core/kinds.ts'
import { shortened } from '../../core/limits.ts'
import { NumberField } from './number-field.tsx'
import { RefField } from './ref-field.tsx'
import { showNumber, showQuantity, unitSuffix } from './quantity.ts'

interface LivePhraseProps {
  readonly phrase: Phrase
  readonly params: ParamSet
  readonly values: Readonly<Record<string, ParamValue>>
  readonly disabled: boolean
  readonly onChange: (param: string, value: ParamValue, gesture?: string) => void
}

/** A sentence whose values are edited where they stand. */
export function LivePhrase({ phrase, params, values, disabled, onChange }: LivePhraseProps) {
  return phrase.map((piece, i) =>
    typeof piece === 'string' ? (
      <span key={i}>{piece}</span>
    ) : piece.text !== undefined ? (
      <span key={i}>{piece.text}</span>
    ) : (
      <LiveValue
        key={i}
        param={params[piece.param]}
        value={values[piece.param]}
        piece={piece}
        disabled={disabled}
        onChange={(value, gesture) => onChange(piece.param, value, gesture)}
      />
    ),
  )
}

const PLAIN_WORDS: SpanWords = { under: 'under', above: 'above' }

interface LiveValueProps {
  readonly param: Param
  readonly piece: LivePiece
  readonly value: ParamValue
  readonly disabled: boolean
  readonly onChange: (value: ParamValue, gesture?: string) => void
}

function LiveValue({ param, value, piece, disabled, onChange }: LiveValueProps) {
  if (param.type === 'number') {
    const sign = piece.turned ? -1 : 1
    return (
      <NumberField
        label={param.label}
        value={sign * (value as number)}
        unit={param.unit}
        min={piece.turned ? -param.max : param.min}
        max={piece.turned ? -param.min : param.max}
        step={param.step}
        home={sign * param.default || 0}
        disabled={disabled}
        onChange={(next, gesture) => next !== null && onChange(sign * next || 0, gesture)}
      />
    )
  }
  if (param.type === 'span') return <LiveSpan param={param} piece={piece} value={value as Span} disabled={disabled} onChange={onChange} />
  if (param.type === 'ref')
    return <RefField param={param} value={value as string} disabled={disabled} className="live-choice" onChange={(next) => onChange(next)} />
  if (param.type === 'choice') {
    const at = param.options.findIndex((option) => option.value === value)
    return (
      <button
        type="button"
        className="live-choice"
        aria-label={`${param.label}: ${param.options[at]?.label ?? ''}`}
        title={`${param.label}: click for the next`}
        disabled={disabled}
        onClick={() => onChange(param.options[(at + 1) % param.options.length].value)}
      >
        {param.options[at]?.label}
      </button>
    )
  }
  return <span>{valueText(param, value, { param: 'x' })}</span>
}

interface LiveSpanProps {
  readonly param: SpanParam
  readonly piece: LivePiece
  readonly value: Span
  readonly disabled: boolean
  readonly onChange: LiveValueProps['onChange']
}

function LiveSpan({ param, piece: { words = PLAIN_WORDS, turned = false, end: only }, value, disabled, onChange }: LiveSpanProps) {
  const sign = turned ? -1 : 1
  const signed = (number: number | null) => (number === null ? null : sign * number || 0)
  const end = (which: 'from' | 'to', bare: boolean, both = false) => (
    <NumberField
      label={both ? param.label : `${param.label}, ${which}`}
      value={signed(value[which])}
      unit={param.unit}
      min={turned ? -param.max : param.min}
      max={turned ? -param.min : param.max}
      step={param.step}
      home={signed(param.default[which])}
      empty={param.open ? 'any' : undefined}
      disabled={disabled}
      bare={bare}
      onChange={(next, gesture) => {
        const set = signed(next) ?? (param.open ? null : param.min)
        onChange(both ? { from: set, to: set } : { ...value, [which]: set }, gesture)
      }}
    />
  )
  if (only) return end(only, false)
  const [low, high] = turned ? (['to', 'from'] as const) : (['from', 'to'] as const)
  if (value[low] === null && value[high] !== null) return <>{words.under} {end(high, false)}</>
  if (value[high] === null && value[low] !== null) return <>{words.above} {end(low, false)}</>
  if (value[low] === value[high] && !param.open) return end(low, false, true)
  if (value[low] === 0 && value[high] !== null && param.unit === 'deg') return <>up to {end(high, false)}</>
  return (
    <>
      {end(low, true)}
      {dash(signed(value[low]))}
      {end(high, false)}
    </>
  )
}

/** What stands between the ends of a span: a dash would be taken for a sign before one that is below 0. */
function dash(low: number | null): string {
  return low !== null && low < 0 ? ' to ' : '–'
}

/** The same sentence as plain text. */
export function phraseText(phrase: Phrase, params: ParamSet, values: Readonly<Record<string, ParamValue>>): string {
  return phrase
    .map((piece) => (typeof piece === 'string' ? piece : (piece.text ?? valueText(params[piece.param], values[piece.param], piece))))
    .join('')
}

function valueText(param: Param, value: ParamValue, piece: LivePiece): string {
  if (param.type === 'number') return showQuantity(piece.turned ? -(value as number) : (value as number), param.unit)
  if (param.type === 'choice') return param.options.find((option) => option.value === value)?.label ?? ''
  if (param.type === 'ref') return `the ${param.to}`
  if (param.type === 'formula') return shortened(String(value), LONGEST)
  if (param.type !== 'span') return String(value)
  return spanText(param, value as Span, piece)
}

function spanText({ unit, open }: SpanParam, { from, to }: Span, { words = PLAIN_WORDS, turned = false, end }: LivePiece): string {
  const signed = (number: number | null) => (number === null ? null : turned ? -number || 0 : number)
  if (end) return showQuantity(signed(end === 'from' ? from : to) ?? 0, unit)
  const [low, high] = turned ? [signed(to), signed(from)] : [from, to]
  if (low === null && high !== null) return `${words.under} ${showQuantity(high, unit)}`
  if (high === null && low !== null) return `${words.above} ${showQuantity(low, unit)}`
  if (low === null || high === null) return 'any'
  if (low === high && !open) return showQuantity(low, unit)
  if (low === 0 && unit === 'deg') return `up to ${showQuantity(high, unit)}`
  return `${showNumber(low, unit)}${dash(low)}${showNumber(high, unit)}${unitSuffix(unit)}`
}

const LONGEST = 34
