import type { KeyboardEvent, PointerEvent as ReactPointerEvent } from 'react'
import { useEffect, useReducer, useRef } from 'react'
import { useStore } from 'zustand'
import type { Outline } from '../../core/meadow.ts'
import { isClosed } from '../../core/outlines/outline.ts'
import { newGesture } from '../../document/history.ts'
import type { PointOf } from '../../document/edits/outlines.ts'
import { dragEdits } from '../parts/own-task.ts'
import { useField, useFieldState } from './field-context.ts'
import { insertPoint, movePoint, removePoint } from '../../document/edits/outlines.ts'
import { notify } from '../../state/notices.ts'
import { useDrawing } from './outline-drawing.ts'

/** Most points that are shown at a time; nearer ones come into view by zooming in. */
const MOST_SHOWN = 300
const NUDGE = { fine: 0.1, plain: 0.5, coarse: 5 }

/** The points of the selected outline, or of the line being drawn, over the picture. */
export function OutlineOverlay() {
  const { landscape, tool } = useField()
  const selectedId = useStore(tool, (state) => state.selected)
  const drawing = useStore(tool, (state) => state.drawing)
  const selected = useFieldState((state) => state.history.meadow.outlines.find(({ id }) => id === selectedId))
  const [, look] = useReducer((n: number) => n + 1, 0)
  const surface = useRef<SVGSVGElement>(null)
  const busy = selected !== undefined || drawing !== null
  // Points are where the last frame shows them.
  useEffect(() => (busy ? landscape?.onDrawn(look) : undefined), [landscape, busy])
  useDrawing(surface)

  return (
    <svg ref={surface} className={drawing ? 'outline-overlay drawing' : 'outline-overlay'}>
      {landscape && selected?.visible && !selected.locked && !drawing && <Handles outline={selected} />}
      {landscape &&
        drawing &&
        pairs(drawing.points).map(([x, z], i) => {
          const at = landscape.project(x, z)
          return at && <circle key={i} className={i === 0 ? 'handle first' : 'handle'} cx={at[0]} cy={at[1]} r={i === 0 ? 6 : 4} />
        })}
    </svg>
  )
}

function pairs(line: readonly number[]): [number, number][] {
  return Array.from({ length: line.length / 2 }, (_, i) => [line[2 * i], line[2 * i + 1]])
}

function Handles({ outline }: { readonly outline: Outline }) {
  const { landscape, session, tool } = useField()
  const chosen = useStore(tool, (state) => state.point)
  const gesture = useRef<string | null>(null)
  const { id } = outline
  if (!landscape) return null

  const down = (event: ReactPointerEvent<SVGElement>, point: PointOf) => {
    if (event.button !== 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    gesture.current = newGesture()
    tool.setState({ point })
  }
  const move = (event: ReactPointerEvent<SVGElement>, point: PointOf) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
    const how = gesture.current
    if (!how || !box) return
    const on = landscape.pick(event.clientX - box.left, event.clientY - box.top)
    if (on) dragEdits.ask(() => movePoint(session, id, point, tidy(on.x), tidy(on.z), how))
  }
  const key = (event: KeyboardEvent, point: PointOf, x: number, z: number) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
    if (by) {
      event.preventDefault()
      event.stopPropagation()
      const step = event.shiftKey ? NUDGE.fine : event.altKey ? NUDGE.coarse : NUDGE.plain
      movePoint(session, id, point, tidy(x + by[0] * step), tidy(z + by[1] * step))
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault()
      const why = removePoint(session, id, point)
      if (why) notify('word', why)
      tool.setState({ point: null })
    }
  }

  const seen = outline.lines.flatMap((line, l) =>
    pairs(line).flatMap(([x, z], index) => {
      const at = landscape.project(x, z)
      return at ? [{ x, z, at, point: { line: l, index } }] : []
    }),
  )
  const shown = seen.slice(0, MOST_SHOWN)
  return (
    <>
      {shown.map(({ x, z, point }) => {
        const line = outline.lines[point.line]
        const n = line.length / 2
        const next = (point.index + 1) % n
        if (next === 0 && !isClosed(outline)) return null
        const [mx, mz] = [(x + line[2 * next]) / 2, (z + line[2 * next + 1]) / 2]
        const at = landscape.project(mx, mz)
        return (
          at && (
            <circle
              key={`m${point.line}-${point.index}`}
              className="handle middle"
              cx={at[0]}
              cy={at[1]}
              r={4}
              role="button"
              aria-label={`Add a point after point ${point.index + 1}`}
              onClick={() => {
                insertPoint(session, id, point, tidy(mx), tidy(mz))
                tool.setState({ point: { line: point.line, index: point.index + 1 } })
              }}
            />
          )
        )
      })}
      {shown.map(({ x, z, at, point }) => (
        <circle
          key={`${point.line}-${point.index}`}
          className={chosen?.line === point.line && chosen.index === point.index ? 'handle chosen' : 'handle'}
          cx={at[0]}
          cy={at[1]}
          r={6}
          tabIndex={0}
          role="button"
          aria-label={`Point ${point.index + 1} of ${outline.name}: ${x.toFixed(1)} east, ${z.toFixed(1)} south; arrow keys move it, Delete takes it out`}
          onPointerDown={(event) => down(event, point)}
          onPointerMove={(event) => move(event, point)}
          onPointerUp={() => {
            dragEdits.flush()
            gesture.current = null
          }}
          onPointerCancel={() => (gesture.current = null)}
          onFocus={() => tool.setState({ point })}
          onKeyDown={(event) => key(event, point, x, z)}
        />
      ))}
    </>
  )
}

/** To the centimetre. */
function tidy(metres: number): number {
  return Math.round(metres * 100) / 100
}
