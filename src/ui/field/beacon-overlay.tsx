import type { KeyboardEvent, PointerEvent } from 'react'
import { useEffect, useReducer, useRef } from 'react'
import { useStore } from 'zustand'
import { namedBy } from '../../core/grow.ts'
import type { Beacon } from '../../core/meadow.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../parts/own-task.ts'
import { setBeacon } from '../../document/edits/beacons.ts'
import { useField, useFieldState } from './field-context.ts'

const NUDGE = { fine: 0.1, plain: 0.5, coarse: 5 }

/** The beacons over the picture: all while their drawer is open, else those that drive the open planting. */
export function BeaconOverlay() {
  const { landscape, tool, open } = useField()
  const all = useStore(tool, (state) => state.beacons)
  const busy = useStore(tool, (state) => state.drawing !== null || state.probing)
  const beacons = useFieldState((state) => state.history.meadow.beacons)
  const planting = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === open))
  const [, look] = useReducer((n: number) => n + 1, 0)
  const used = planting ? new Set(namedBy(planting).map(({ id }) => id)) : null
  const shown = busy ? [] : beacons.filter(({ id, visible }) => visible && (all || used?.has(id)))
  const any = shown.length > 0
  useEffect(() => (any ? landscape?.onDrawn(look) : undefined), [landscape, any])
  if (!any || !landscape) return null
  return (
    <svg className="outline-overlay">
      {shown.map((beacon) => (
        <BeaconHandle key={beacon.id} beacon={beacon} />
      ))}
    </svg>
  )
}

function BeaconHandle({ beacon }: { readonly beacon: Beacon }) {
  const { session, landscape, tool } = useField()
  const chosen = useStore(tool, (state) => state.beacon === beacon.id)
  const gesture = useRef<string | null>(null)
  const { id, name, x, z, locked } = beacon
  const at = landscape?.project(x, z)
  if (!at) return null
  const to = (nx: number, nz: number, how?: string) => setBeacon(session, id, 'Move the beacon', { x: Math.round(nx * 100) / 100, z: Math.round(nz * 100) / 100 }, how)
  const move = (event: PointerEvent<SVGElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
    const how = gesture.current
    if (!how || !box) return
    const on = landscape?.pick(event.clientX - box.left, event.clientY - box.top)
    if (on) dragEdits.ask(() => to(on.x, on.z, how))
  }
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
    if (!by || locked) return
    event.preventDefault()
    event.stopPropagation()
    const step = event.shiftKey ? NUDGE.fine : event.altKey ? NUDGE.coarse : NUDGE.plain
    to(x + by[0] * step, z + by[1] * step)
  }
  return (
    <g transform={`translate(${at[0]} ${at[1]})`}>
      <path className="beacon-stem" d="M0 0 V-20" />
      <circle
        className={chosen ? 'handle beacon chosen' : 'handle beacon'}
        cy={-26}
        r={7}
        style={{ fill: beacon.colour }}
        tabIndex={0}
        role="button"
        aria-label={`${name}: drag it, or move it by the arrow keys`}
        onPointerDown={(event) => {
          if (event.button !== 0 || locked) return
          event.stopPropagation()
          event.currentTarget.setPointerCapture(event.pointerId)
          gesture.current = newGesture()
          tool.setState({ beacon: id })
        }}
        onPointerMove={move}
        onPointerUp={() => {
          dragEdits.flush()
          gesture.current = null
        }}
        onPointerCancel={() => (gesture.current = null)}
        onKeyDown={key}
      />
      <text className="beacon-name" x={11} y={-22}>
        {name}
      </text>
    </g>
  )
}
