import type { KeyboardEvent } from 'react'
import { useEffect, useReducer } from 'react'
import { useStore } from 'zustand'
import { namedBy } from '../../core/grow.ts'
import type { Beacon } from '../../core/meadow.ts'
import { setBeacon } from '../../document/edits/beacons.ts'
import { TOOLS } from '../../tools/index.ts'
import { beaconGrip } from '../../tools/grips/beacon.ts'
import { gripName } from '../../tools/grips/define.ts'
import { nudged } from '../../tools/grips/nudge.ts'
import { useField, useFieldState, useOpen } from './field-context.ts'

/** The beacons over the picture: all while their drawer is open, else those that drive the open planting. */
export function BeaconOverlay() {
  const { landscape, tool } = useField()
  const open = useOpen()
  const all = useStore(tool, (state) => state.beacons)
  const busy = useStore(tool, (state) => !TOOLS.get(state.active).grips)
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
  const { id, name, x, z, locked } = beacon
  const at = landscape?.project(x, z)
  if (!at) return null
  const key = (event: KeyboardEvent) => {
    const to = nudged(event, x, z)
    if (!to || locked) return
    event.preventDefault()
    event.stopPropagation()
    setBeacon(session, id, 'Move the beacon', { x: to[0], z: to[1] })
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
        data-grip={gripName(beaconGrip, id)}
        onKeyDown={key}
      />
      <text className="beacon-name" x={11} y={-22}>
        {name}
      </text>
    </g>
  )
}
