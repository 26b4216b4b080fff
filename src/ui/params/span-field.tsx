import { useRef } from 'react'
import type { SpanParam, Span } from '../../core/kinds.ts'
import { newGesture } from '../../document/history.ts'
import type { Histogram } from '../../runner/io-refs.ts'
import { NumberField } from './number-field.tsx'

interface SpanFieldProps {
  readonly param: SpanParam
  readonly value: Span
  readonly disabled?: boolean
  /** What lies behind the thumbs: the distribution on the actual ground. */
  readonly distribution?: Histogram | null
  readonly onChange: (value: Span, gesture?: string) => void
}

/** Keeps the ends in order: the end that is moved pushes the other. */
function ordered(value: Span, moved: 'from' | 'to'): Span {
  const { from, to } = value
  if (from === null || to === null || from <= to) return value
  return moved === 'from' ? { from, to: from } : { from: to, to }
}

/** Two ends: two thumbs on a track where the range is known, two numbers always. */
export function SpanField({ param, value, disabled, distribution, onChange }: SpanFieldProps) {
  const set = (end: 'from' | 'to', next: number | null, gesture?: string) =>
    onChange(ordered({ ...value, [end]: next ?? (param.open ? null : param.min) }, end), gesture)
  const low = distribution ? distribution.low : param.min
  const high = distribution ? distribution.high : param.max
  const tracked = distribution !== undefined && distribution !== null && high > low
  return (
    <div className="span-field">
      {tracked && (
        <Track param={param} value={value} low={low} high={high} distribution={distribution} disabled={disabled} set={set} />
      )}
      <div className="span-ends">
        <NumberField
          label={`${param.label}, from`}
          value={value.from}
          {...limits(param)}
          home={param.default.from}
          empty={param.open ? 'any' : undefined}
          disabled={disabled}
          onChange={(next, gesture) => set('from', next, gesture)}
        />
        <span className="faded">to</span>
        <NumberField
          label={`${param.label}, to`}
          value={value.to}
          {...limits(param)}
          home={param.default.to}
          empty={param.open ? 'any' : undefined}
          disabled={disabled}
          onChange={(next, gesture) => set('to', next, gesture)}
        />
      </div>
    </div>
  )
}

function limits({ unit, min, max, step }: SpanParam) {
  return { unit, min, max, step }
}

interface TrackProps {
  readonly param: SpanParam
  readonly value: Span
  readonly low: number
  readonly high: number
  readonly distribution: Histogram
  readonly disabled?: boolean
  readonly set: (end: 'from' | 'to', next: number | null, gesture?: string) => void
}

function Track({ param, value, low, high, distribution, disabled, set }: TrackProps) {
  const share = (v: number | null, open: number) => (v === null ? open : Math.min(1, Math.max(0, (v - low) / (high - low))))
  const from = share(value.from, 0)
  const to = share(value.to, 1)
  const most = Math.max(...distribution.counts, 1)
  const bars = distribution.counts.length
  // Kept over renders: every step of a drag draws the track anew.
  const gesture = useRef<string | null>(null)
  const thumb = (end: 'from' | 'to') => (
    <input
      type="range"
      className={`thumb ${end}`}
      // Where both are at the upper end, the lower one must be had.
      style={end === 'from' && from > 0.5 ? { zIndex: 1 } : undefined}
      aria-label={`${param.label}, ${end}`}
      min={low}
      max={high}
      step={param.step / 2}
      value={value[end] ?? (end === 'from' ? low : high)}
      disabled={disabled}
      onPointerDown={() => (gesture.current = newGesture())}
      onChange={(event) => {
        const next = Number(event.target.value)
        // A thumb at the end of an open track leaves that end open.
        const atEnd = end === 'from' ? next <= low : next >= high
        set(end, atEnd && param.open ? null : next, gesture.current ?? undefined)
      }}
    />
  )
  return (
    <div className="track">
      <svg viewBox={`0 0 ${bars} 20`} preserveAspectRatio="none" aria-hidden="true">
        {distribution.counts.map((count, i) => {
          const inside = (i + 1) / bars > from && i / bars < to
          const tall = 20 * Math.sqrt(count / most)
          return <rect key={i} x={i + 0.08} width={0.84} y={20 - tall} height={tall} className={inside ? 'in' : 'out'} />
        })}
      </svg>
      {thumb('from')}
      {thumb('to')}
    </div>
  )
}
