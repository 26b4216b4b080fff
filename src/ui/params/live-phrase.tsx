import type { Param, ParamSet, ParamValue, Phrase, Span, SpanParam, SpanWords } from '../../core/kinds.ts'
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
        words={piece.words}
        disabled={disabled}
        onChange={(value, gesture) => onChange(piece.param, value, gesture)}
      />
    ),
  )
}

const PLAIN_WORDS: SpanWords = { under: 'under', above: 'above' }

interface LiveValueProps {
  readonly param: Param
  readonly words?: SpanWords
  readonly value: ParamValue
  readonly disabled: boolean
  readonly onChange: (value: ParamValue, gesture?: string) => void
}

function LiveValue({ param, value, words, disabled, onChange }: LiveValueProps) {
  if (param.type === 'number')
    return (
      <NumberField
        label={param.label}
        value={value as number}
        unit={param.unit}
        min={param.min}
        max={param.max}
        step={param.step}
        home={param.default}
        disabled={disabled}
        onChange={(next, gesture) => next !== null && onChange(next, gesture)}
      />
    )
  if (param.type === 'span') return <LiveSpan param={param} words={words} value={value as Span} disabled={disabled} onChange={onChange} />
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
  return <span>{phraseText([{ param: 'x' }], { x: param }, { x: value })}</span>
}

function LiveSpan({ param, words = PLAIN_WORDS, value, disabled, onChange }: { param: SpanParam; words?: SpanWords; value: Span; disabled: boolean; onChange: LiveValueProps['onChange'] }) {
  const end = (which: 'from' | 'to', bare: boolean) => (
    <NumberField
      label={`${param.label}, ${which}`}
      value={value[which]}
      unit={param.unit}
      min={param.min}
      max={param.max}
      step={param.step}
      home={param.default[which]}
      empty={param.open ? 'any' : undefined}
      disabled={disabled}
      bare={bare}
      onChange={(next, gesture) => onChange({ ...value, [which]: next ?? (param.open ? null : param.min) }, gesture)}
    />
  )
  const { from, to } = value
  if (from === null && to !== null) return <>{words.under} {end('to', false)}</>
  if (to === null && from !== null) return <>{words.above} {end('from', false)}</>
  if (from === 0 && to !== null && param.unit === 'deg') return <>up to {end('to', false)}</>
  return (
    <>
      {end('from', true)}–{end('to', false)}
    </>
  )
}

/** The same sentence as plain text. */
export function phraseText(phrase: Phrase, params: ParamSet, values: Readonly<Record<string, ParamValue>>): string {
  return phrase
    .map((piece) => (typeof piece === 'string' ? piece : (piece.text ?? valueText(params[piece.param], values[piece.param], piece.words))))
    .join('')
}

function valueText(param: Param, value: ParamValue, words: SpanWords = PLAIN_WORDS): string {
  if (param.type === 'number') return showQuantity(value as number, param.unit)
  if (param.type === 'choice') return param.options.find((option) => option.value === value)?.label ?? ''
  if (param.type === 'ref') return `the ${param.to}`
  if (param.type === 'formula') return shortened(String(value))
  if (param.type !== 'span') return String(value)
  const { from, to } = value as Span
  if (from === null && to !== null) return `${words.under} ${showQuantity(to, param.unit)}`
  if (to === null && from !== null) return `${words.above} ${showQuantity(from, param.unit)}`
  if (from === null || to === null) return 'any'
  if (from === 0 && param.unit === 'deg') return `up to ${showQuantity(to, param.unit)}`
  return `${showNumber(from, param.unit)}–${showNumber(to, param.unit)}${unitSuffix(param.unit)}`
}

const LONGEST = 34

/** The beginning of a long text. */
function shortened(text: string): string {
  return text.length > LONGEST ? `${text.slice(0, LONGEST)}…` : text
}
