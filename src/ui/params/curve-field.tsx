import type { KeyboardEvent, PointerEvent } from 'react'
import { useRef } from 'react'
import { CURVES, MOST_CURVE_POINTS } from '../../core/fields/drivers/curve.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../../state/own-task.ts'

interface CurveFieldProps {
  readonly label: string
  /** x y x y …, from x = 0 to x = 1. */
  readonly points: readonly number[]
  readonly disabled?: boolean
  readonly onChange: (points: number[], gesture?: string) => void
}

const WIDE = 150
const HIGH = 56
const GAP = 0.01
const STEP = 0.05

/** A curve of straight pieces: points are dragged, added by a click on the line, removed by Delete. */
export function CurveField({ label, points, disabled, onChange }: CurveFieldProps) {
  const surface = useRef<SVGSVGElement>(null)
  const gesture = useRef<string | null>(null)
  const pairs = Array.from({ length: points.length / 2 }, (_, i) => [points[2 * i], points[2 * i + 1]] as const)
  const preset = CURVES.find((curve) => curve.points.join() === points.join())
  const at = (x: number, y: number): [number, number] => [x * WIDE, (1 - y) * HIGH]

  function moved(i: number, x: number, y: number): number[] {
    const next = [...points]
    const last = pairs.length - 1
    // The ends stay at 0 and 1; inner points keep their order.
    next[2 * i] = i === 0 ? 0 : i === last ? 1 : round(Math.min(pairs[i + 1][0] - GAP, Math.max(pairs[i - 1][0] + GAP, x)))
    next[2 * i + 1] = round(Math.min(1, Math.max(0, y)))
    return next
  }
  function place(event: PointerEvent<Element>): [number, number] {
    const box = surface.current?.getBoundingClientRect()
    if (!box) return [0, 0]
    return [(event.clientX - box.left) / box.width, 1 - (event.clientY - box.top) / box.height]
  }
  function add(event: PointerEvent<Element>) {
    if (disabled || pairs.length >= MOST_CURVE_POINTS) return
    const [x, y] = place(event)
    const before = pairs.findIndex(([px]) => px > x) - 1
    if (before < 0 || x - pairs[before][0] < GAP || pairs[before + 1][0] - x < GAP) return
    const next = [...points]
    next.splice(2 * before + 2, 0, round(x), round(Math.min(1, Math.max(0, y))))
    onChange(next)
  }
  function key(event: KeyboardEvent, i: number) {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
    if (by) {
      event.preventDefault()
      onChange(moved(i, pairs[i][0] + by[0] * STEP, pairs[i][1] + by[1] * STEP))
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && i > 0 && i < pairs.length - 1) {
      event.preventDefault()
      onChange(points.filter((_, k) => Math.floor(k / 2) !== i))
    }
  }
  return (
    <span className="curve">
      <select aria-label={`${label}, ready-made`} value={preset?.name ?? ''} disabled={disabled} onChange={(event) => onChange([...(CURVES.find(({ name }) => name === event.target.value)?.points ?? points)])}>
        {!preset && <option value="">own</option>}
        {CURVES.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <svg ref={surface} viewBox={`-5 -5 ${WIDE + 10} ${HIGH + 10}`} role="group" aria-label={label}>
        <rect x={0} y={0} width={WIDE} height={HIGH} className="curve-ground" onPointerDown={add} />
        <polyline points={pairs.map(([x, y]) => at(x, y).join(',')).join(' ')} className="curve-line" pointerEvents="none" />
        {pairs.map(([x, y], i) => (
          <circle
            key={i}
            className="curve-point"
            cx={at(x, y)[0]}
            cy={at(x, y)[1]}
            r={4}
            tabIndex={disabled ? -1 : 0}
            role="slider"
            aria-label={`Point ${i + 1} of the curve`}
            aria-valuenow={Math.round(100 * y)}
            aria-valuetext={`${Math.round(100 * y)} % at ${Math.round(100 * x)} %`}
            aria-valuemin={0}
            aria-valuemax={100}
            onPointerDown={(event) => {
              if (disabled) return
              event.stopPropagation()
              event.currentTarget.setPointerCapture(event.pointerId)
              gesture.current = newGesture()
            }}
            onPointerMove={(event) => {
              const how = gesture.current
              if (!how) return
              const [px, py] = place(event)
              dragEdits.ask(() => onChange(moved(i, px, py), how))
            }}
            onPointerUp={() => {
              dragEdits.flush()
              gesture.current = null
            }}
            onPointerCancel={() => (gesture.current = null)}
            onKeyDown={(event) => key(event, i)}
          />
        ))}
      </svg>
    </span>
  )
}

function round(value: number): number {
  return Math.round(value * 1000) / 1000
}
