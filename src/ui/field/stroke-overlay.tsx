import type { KeyboardEvent } from 'react'
import { useEffect, useReducer } from 'react'
import { useStore } from 'zustand'
import { POINT } from '../../core/fields/coverage.ts'
import { placedStroke } from '../../core/fields/placed-stroke.ts'
import { removeStrokes } from '../../document/edits/strokes.ts'
import { gripName } from '../../tools/grips/define.ts'
import { nudged } from '../../tools/grips/nudge.ts'
import { middleOf, moveBy, strokeGrip, WHOLE_STROKE } from '../../tools/grips/stroke.ts'
import { TOOLS } from '../../tools/index.ts'
import { useField, useFieldState } from './field-context.ts'

/** Most points that have handles. */
const MOST_HANDLES = 60

/** The chosen stroke over the picture: its line, and handles that move it and its points. */
export function StrokeOverlay() {
  const { landscape, session, tool } = useField()
  const id = useStore(tool, (state) => state.stroke)
  const busy = useStore(tool, (state) => !TOOLS.get(state.active).grips)
  const stroke = useFieldState((state) => (id ? state.history.meadow.strokes.find((one) => one.id === id) : undefined))
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  const assets = useFieldState((state) => state.history.meadow.assets)
  const [, look] = useReducer((n: number) => n + 1, 0)
  const any = stroke !== undefined
  useEffect(() => (any ? landscape?.onDrawn(look) : undefined), [landscape, any])
  if (!stroke || !landscape) return null
  const mesh = meshes.find((one) => one.id === stroke.ground) ?? null
  const { points, solid } = placedStroke(stroke, mesh, assets)
  const places = Array.from({ length: points.length / POINT }, (_, k) => [points[POINT * k], solid ? points[POINT * k + 1] : undefined, points[POINT * k + 2]] as const)
  const seen = places.map(([x, y, z]) => landscape.project(x, z, y))
  const line = seen.flatMap((at, k) => (at ? [`${k > 0 && seen[k - 1] ? 'L' : 'M'}${at[0].toFixed(1)} ${at[1].toFixed(1)}`] : [])).join('')
  const middle = middleOf(stroke.lines)
  const step = Math.max(1, Math.ceil(places.length / MOST_HANDLES))

  const key = (event: KeyboardEvent, point: number | null) => {
    const k = point ?? middle
    const [x, , z] = places[k]
    const to = nudged(event, x, z)
    if (!to && event.key !== 'Delete') return
    event.preventDefault()
    event.stopPropagation()
    if (to) moveBy({ session }, stroke.id, point, [to[0], points[POINT * k + 1], to[1]])
    else if (removeStrokes(session, [stroke.id])) tool.setState({ stroke: null })
  }
  return (
    <svg className="outline-overlay">
      <path className="stroke-line" d={line} />
      {!busy &&
        seen.map((at, k) => {
          if (!at || (k % step !== 0 && k !== middle) || (k === middle && places.length > 1)) return null
          return (
            <circle key={k} className="handle" cx={at[0]} cy={at[1]} r={4.5} tabIndex={0} role="button" aria-label={`Point ${k + 1} of the stroke: drag it, or move it by the arrow keys`} data-grip={gripName(strokeGrip, stroke.id, k)} onKeyDown={(event) => key(event, k)} />
          )
        })}
      {!busy && seen[middle] && (
        <rect className="handle" x={seen[middle][0] - 7} y={seen[middle][1] - 7} width={14} height={14} rx={3} tabIndex={0} role="button" aria-label="The whole stroke: drag it, or move it by the arrow keys; Delete takes it out" data-grip={gripName(strokeGrip, stroke.id, WHOLE_STROKE)} onKeyDown={(event) => key(event, null)} />
      )}
    </svg>
  )
}
