import type { KeyboardEvent, PointerEvent } from 'react'
import { useLayoutEffect, useRef, useState } from 'react'
import type { Unit } from '../../core/kinds.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../../state/own-task.ts'
import { readQuantity, showNumber, showQuantity, unitSuffix } from './quantity.ts'

export interface NumberFieldProps {
  readonly label: string
  readonly value: number | null
  readonly unit: Unit
  readonly min: number
  readonly max: number
  readonly step: number
  /** Double click returns here; a mark shows when the value differs from it. */
  readonly home?: number | null
  /** Whether it may be left empty, and what it says then. */
  readonly empty?: string
  readonly disabled?: boolean
  /** Leaves out the unit, where words around it say it. */
  readonly bare?: boolean
  readonly onChange: (value: number | null, gesture?: string) => void
}

const PIXELS_A_STEP = 4
const STILL = 3

/** A number that is dragged sideways, typed with units and arithmetic, or stepped by arrows. */
export function NumberField(props: NumberFieldProps) {
  const { label, value, unit, min, max, step, home, empty, disabled, bare, onChange } = props
  const [typed, setTyped] = useState<string | null>(null)
  const drag = useRef<{ x: number; from: number; moved: boolean; gesture: string } | null>(null)
  const field = useRef<HTMLSpanElement>(null)
  // Set when typing ends by a key: then the field keeps the focus; when it ends by a click elsewhere, it does not.
  const endedByKey = useRef(false)
  useLayoutEffect(() => {
    if (typed === null && endedByKey.current) {
      endedByKey.current = false
      field.current?.focus()
    }
  }, [typed])
  const differs = home !== undefined && value !== home
  const shown =
    value === null ? (empty ?? '—') : bare ? showNumber(value, unit) : showQuantity(value, unit)

  const clamp = (v: number) => Math.min(max, Math.max(min, v))
  const tidy = (v: number) => Number(clamp(unit === 'count' ? Math.round(v) : v).toPrecision(6))
  // Large values go in larger steps, so that a drag feels alike anywhere.
  const stepAt = (v: number) => (unit === 'deg' || unit === 'share' ? step : Math.max(step * 0.2, Math.abs(v) * 0.02, 1e-6))

  function down(event: PointerEvent<HTMLSpanElement>) {
    if (disabled || event.button !== 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    drag.current = { x: event.clientX, from: value ?? clamp(0), moved: false, gesture: newGesture() }
  }
  function move(event: PointerEvent<HTMLSpanElement>) {
    const held = drag.current
    if (!held) return
    const dx = event.clientX - held.x
    if (!held.moved && Math.abs(dx) < STILL) return
    held.moved = true
    const pace = event.shiftKey ? 0.1 : event.altKey ? 10 : 1
    const wanted = tidy(held.from + (dx / PIXELS_A_STEP) * stepAt(held.from) * pace)
    if (wanted !== value) dragEdits.ask(() => onChange(wanted, held.gesture))
  }
  function up() {
    dragEdits.flush()
    const held = drag.current
    drag.current = null
    if (held && !held.moved) open()
  }
  function open() {
    setTyped(value === null ? '' : showNumber(value, unit).replaceAll(',', '') + unitSuffix(unit))
  }
  function close(accept: boolean) {
    const text = typed
    setTyped(null)
    if (accept && text !== null) {
      if (text.trim() === '' && empty !== undefined) onChange(null)
      else {
        const read = readQuantity(text, unit)
        if (read !== null && tidy(read) !== value) onChange(tidy(read))
      }
    }
  }
  function key(event: KeyboardEvent<HTMLSpanElement>) {
    if (disabled) return
    const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key]
    if (by !== undefined) {
      event.preventDefault()
      const pace = event.shiftKey ? 0.1 : event.altKey ? 10 : 1
      onChange(tidy((value ?? clamp(0)) + by * pace * Math.max(step, unit === 'count' ? 1 : 0)))
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault()
      open()
    } else if (event.key === 'Home' || event.key === 'End') {
      event.preventDefault()
      onChange(event.key === 'Home' ? min : max)
    } else if (/^[-\d.(]$/.test(event.key)) {
      event.preventDefault()
      setTyped(event.key)
    }
  }

  if (typed !== null)
    return (
      <TypedNumber
        label={label}
        text={typed}
        unit={unit}
        onText={setTyped}
        onEnd={(accept, byKey) => {
          endedByKey.current = byKey
          close(accept)
        }}
      />
    )
  return (
    <span
      ref={field}
      className={['number', differs ? 'differs' : '', disabled ? 'disabled' : ''].join(' ')}
      role="spinbutton"
      tabIndex={disabled ? -1 : 0}
      aria-label={label}
      aria-valuenow={value ?? undefined}
      aria-valuetext={shown}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-disabled={disabled}
      title={`${label}: drag sideways, or click to type`}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => (drag.current = null)}
      onDoubleClick={() => {
        setTyped(null)
        if (home !== undefined && !disabled) onChange(home)
      }}
      onKeyDown={key}
    >
      {shown}
    </span>
  )
}

interface TypedNumberProps {
  readonly label: string
  readonly text: string
  readonly unit: Unit
  readonly onText: (text: string) => void
  /** Typing has ended: whether what was typed is taken, and whether it ended by a key. */
  readonly onEnd: (accept: boolean, byKey: boolean) => void
}

/** The field while a number is typed into it. */
function TypedNumber({ label, text, unit, onText, onEnd }: TypedNumberProps) {
  const refused = text.trim() !== '' && readQuantity(text, unit) === null
  // Leaving by a key takes the focus away as well.
  const ended = useRef(false)
  return (
    <input
      className={refused ? 'number-input refused' : 'number-input'}
      aria-label={label}
      aria-invalid={refused}
      autoFocus
      value={text}
      size={Math.max(4, text.length)}
      onFocus={(event) => text.length > 1 && event.currentTarget.select()}
      onChange={(event) => onText(event.target.value)}
      onBlur={() => !ended.current && onEnd(true, false)}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key !== 'Enter' && event.key !== 'Escape') return
        ended.current = true
        onEnd(event.key === 'Enter', true)
      }}
    />
  )
}
