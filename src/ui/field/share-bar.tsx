import type { KeyboardEvent, PointerEvent } from 'react'
import { useRef } from 'react'
import type { Planting } from '../../core/meadow.ts'
import { moveBorder, partsOf } from '../../document/edits/mixes.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../../state/own-task.ts'
import { useField } from './field-context.ts'

interface ShareBarProps {
  readonly planting: Planting
  /** Names of the mix's assets, in its order. */
  readonly names: readonly string[]
}

const STEP = 0.01

/** The shares of a mix as lengths of a bar; its borders are dragged, or moved by the arrow keys. */
export function ShareBar({ planting, names }: ShareBarProps) {
  const { session } = useField()
  const bar = useRef<HTMLDivElement>(null)
  const gesture = useRef<string | null>(null)
  const { id, mix, locked, colour } = planting
  const parts = partsOf(mix)
  const borders = parts.slice(0, -1).map((_, i) => parts.slice(0, i + 1).reduce((sum, part) => sum + part, 0))
  const drag = (event: PointerEvent, after: number) => {
    const how = gesture.current
    const box = bar.current?.getBoundingClientRect()
    if (!how || !box) return
    const to = Math.round((100 * (event.clientX - box.left)) / box.width) / 100
    dragEdits.ask(() => moveBorder(session, id, after, to, how))
  }
  const key = (event: KeyboardEvent, after: number) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -10, PageUp: 10 }[event.key]
    if (by === undefined || locked) return
    event.preventDefault()
    moveBorder(session, id, after, borders[after] + by * STEP)
  }
  return (
    <div className="share-bar" ref={bar}>
      {parts.map((part, i) => (
        <span key={mix[i].asset} title={`${names[i]}: ${percent(part)}`} style={{ flexGrow: Math.max(part, 0.001), background: colour, opacity: 1 - (0.65 * i) / Math.max(1, mix.length - 1) }} />
      ))}
      {borders.map((at, i) => (
        <span
          key={i}
          className="share-border"
          style={{ left: `${100 * at}%` }}
          role="slider"
          tabIndex={locked ? -1 : 0}
          aria-label={`Border between ${names[i]} and ${names[i + 1]}`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(100 * parts[i])}
          aria-valuetext={`${names[i]} ${percent(parts[i])}, ${names[i + 1]} ${percent(parts[i + 1])}`}
          aria-disabled={locked}
          onPointerDown={(event) => {
            if (locked || event.button !== 0) return
            event.currentTarget.setPointerCapture(event.pointerId)
            gesture.current = newGesture()
          }}
          onPointerMove={(event) => drag(event, i)}
          onPointerUp={() => {
            dragEdits.flush()
            gesture.current = null
          }}
          onPointerCancel={() => (gesture.current = null)}
          onKeyDown={(event) => key(event, i)}
        />
      ))}
    </div>
  )
}

/** A part of the whole as one reads it: "60 %", "33.3 %". */
export function percent(part: number): string {
  return `${Number((100 * part).toFixed(part > 0 && part < 0.1 ? 1 : 0))} %`
}
