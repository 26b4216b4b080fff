import type { KeyboardEvent, PointerEvent } from 'react'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import type { Unit } from '../../core/kinds.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../../state/own-task.ts'
import { NotTaken } from '../parts/not-taken.tsx'
import { showNumber, showQuantity, takeQuantity, unitSuffix } from './quantity.ts'

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
/** Digits that dragging and stepping leave, and those that typing does. */
const TIDY = 6
const TYPED = 9

/** How much faster or slower a modifier makes dragging and stepping. */
function paceOf({ shiftKey, altKey }: { readonly shiftKey: boolean; readonly altKey: boolean }): number {
  return shiftKey ? 0.1 : altKey ? 10 : 1
}

/** A number that is dragged sideways, typed with units and arithmetic, or stepped by arrows. What it does not take it says, until the next edit. */
export function NumberField(props: NumberFieldProps) {
  const { label, value, unit, min, max, step, home, empty, disabled, bare, onChange } = props
  const [typed, setTyped] = useState<string | null>(null)
  const [notTaken, setNotTaken] = useState<string | null>(null)
  useEffect(() => setNotTaken(null), [value])
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
  const shown = value === null ? (empty ?? '—') : bare ? showNumber(value, unit) : showQuantity(value, unit)

  const clamp = (v: number) => Math.min(max, Math.max(min, v))
  const tidy = (v: number) => (unit === 'count' ? Math.round(clamp(v)) : Number(clamp(v).toPrecision(TIDY)))
  const change = (next: number | null, gesture?: string) => {
    setNotTaken(null)
    onChange(next, gesture)
  }
  const open = () => setTyped(value === null ? '' : showNumber(value, unit).replaceAll(',', '') + unitSuffix(unit))
  const goHome = () => {
    setTyped(null)
    if (home !== undefined && !disabled) change(home)
  }
  // Large values go in larger steps, so that a drag feels alike anywhere.
  const stepAt = (v: number) => (unit === 'deg' || unit === 'share' ? step : Math.max(step * 0.2, Math.abs(v) * 0.02, 1e-6))
  const scrub = useScrub({
    value,
    from: value ?? clamp(0),
    wanted: (from, steps) => tidy(from + steps * stepAt(from)),
    onChange: change,
    onClick: open,
  })

  /** Ends typing; false when what was typed cannot be taken and it ended by a key, so that it can be put right. */
  function close(accept: boolean, byKey: boolean): boolean {
    const text = typed
    if (!accept || text === null) setNotTaken(null)
    else if (text.trim() === '' && empty !== undefined) change(null)
    else {
      const taken = takeQuantity(text, unit, { min, max })
      if ('problem' in taken) {
        setNotTaken(byKey || value === null ? taken.problem : `${taken.problem} ${showQuantity(value, unit)} is kept.`)
        if (byKey) return false
      } else {
        const next = Number(taken.value.toPrecision(TYPED))
        if (next !== value) change(next)
        else setNotTaken(null)
      }
    }
    endedByKey.current = byKey
    setTyped(null)
    return true
  }
  function key(event: KeyboardEvent<HTMLSpanElement>) {
    if (disabled) return
    const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key]
    if (by !== undefined) change(tidy((value ?? clamp(0)) + by * paceOf(event) * Math.max(step, unit === 'count' ? 1 : 0)))
    else if (event.key === 'Enter' || event.key === ' ') open()
    else if (event.key === 'Home' || event.key === 'End') change(event.key === 'Home' ? min : max)
    else if (/^[-\d.(]$/.test(event.key) && !event.ctrlKey && !event.metaKey) setTyped(event.key)
    else return
    event.preventDefault()
  }

  if (typed !== null)
    return (
      <>
        <TypedNumber label={label} text={typed} onText={setTyped} notTaken={notTaken} onEnd={close} onHome={home === undefined ? undefined : goHome} />
        <NotTaken why={notTaken} of={label} />
      </>
    )
  return (
    <>
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
        aria-invalid={notTaken !== null || undefined}
        title={`${label}: drag sideways, or click to type${differs ? `; double click returns to ${home === null ? (empty ?? 'none') : showQuantity(home, unit)}` : ''}`}
        {...(disabled ? {} : scrub)}
        onKeyDown={key}
        onPaste={(event) => {
          if (!disabled) setTyped(event.clipboardData.getData('text').slice(0, 200))
        }}
      >
        {shown}
      </span>
      <NotTaken why={notTaken} of={label} />
    </>
  )
}

interface ScrubOf {
  readonly value: number | null
  /** Where a drag begins. */
  readonly from: number
  /** The value so many steps from there. */
  readonly wanted: (from: number, steps: number) => number
  readonly onChange: (value: number, gesture: string) => void
  /** The pointer was let go without having moved. */
  readonly onClick: () => void
}

/** Dragging a number sideways. */
function useScrub({ value, from, wanted, onChange, onClick }: ScrubOf) {
  const drag = useRef<{ x: number; from: number; moved: boolean; gesture: string } | null>(null)
  return {
    onPointerDown(event: PointerEvent<HTMLSpanElement>) {
      if (event.button !== 0) return
      event.currentTarget.setPointerCapture(event.pointerId)
      drag.current = { x: event.clientX, from, moved: false, gesture: newGesture() }
    },
    onPointerMove(event: PointerEvent<HTMLSpanElement>) {
      const held = drag.current
      if (!held) return
      const dx = event.clientX - held.x
      if (!held.moved && Math.abs(dx) < STILL) return
      held.moved = true
      const next = wanted(held.from, (dx / PIXELS_A_STEP) * paceOf(event))
      if (next !== value) dragEdits.ask(() => onChange(next, held.gesture))
    },
    onPointerUp() {
      dragEdits.flush()
      const held = drag.current
      drag.current = null
      if (held && !held.moved) onClick()
    },
    onPointerCancel: () => void (drag.current = null),
  }
}

interface TypedNumberProps {
  readonly label: string
  readonly text: string
  readonly onText: (text: string) => void
  /** Why what was typed was not taken. */
  readonly notTaken: string | null
  /** Typing has ended: whether what was typed is to be taken, and whether it ended by a key. False when it goes on. */
  readonly onEnd: (accept: boolean, byKey: boolean) => boolean
  /** The second click of a double click comes here, as the first has opened it. */
  readonly onHome: (() => void) | undefined
}

/** The field while a number is typed into it. */
function TypedNumber({ label, text, onText, notTaken, onEnd, onHome }: TypedNumberProps) {
  // Leaving by a key takes the focus away as well.
  const ended = useRef(false)
  const first = useRef(text)
  return (
    <input
      className={notTaken ? 'number-input refused' : 'number-input'}
      aria-label={label}
      aria-invalid={notTaken !== null}
      autoFocus
      value={text}
      size={Math.max(4, Math.min(text.length, 24))}
      onFocus={(event) => text.length > 1 && event.currentTarget.select()}
      onChange={(event) => onText(event.target.value)}
      onDoubleClick={() => {
        if (!onHome || text !== first.current) return
        ended.current = true
        onHome()
      }}
      onBlur={() => !ended.current && onEnd(true, false)}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key !== 'Enter' && event.key !== 'Escape') return
        // Within a form, Enter would take the whole of it.
        event.preventDefault()
        ended.current = true
        if (!onEnd(event.key === 'Enter', true)) ended.current = false
      }}
    />
  )
}
