import { useEffect, useReducer } from 'react'
import type { KeyboardEvent } from 'react'
import { useStore } from 'zustand'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import type { Peg } from '../../core/meadow.ts'
import { movePeg, removePeg } from '../../document/edits/pegs.ts'
import { terrainHeight } from '../../tools/choose/acts.ts'
import { nudged } from '../../tools/grips/nudge.ts'
import { TOOLS } from '../../tools/index.ts'
import { snapValues } from '../../tools/snap/settings.ts'
import { useField, useFieldState } from './field-context.ts'

/** Lines of the grid that are drawn to each side of the pointer. */
const AROUND = 6

/** What things are set to: pegs, the grid about the pointer, and the mark on what is near. */
export function SnapOverlay() {
  const { landscape, tool } = useField()
  const snaps = useStore(tool, (state) => TOOLS.get(state.active).snaps === true)
  const snap = useStore(tool, (state) => state.snap)
  // Read anew when a setting changes.
  useStore(tool, (state) => state.settings)
  const { on, pegs: wanted, grid, gridEast, gridSouth } = snapValues(tool)
  const pegs = useFieldState((state) => state.history.meadow.pegs)
  const [, look] = useReducer((n: number) => n + 1, 0)
  const shown = landscape !== null && snaps && (pegs.length > 0 || on || snap !== null)
  useEffect(() => (shown ? landscape?.onDrawn(look) : undefined), [landscape, shown])
  if (!shown) return null
  const crosses = on && snap && grid > 0 ? gridAround(snap.at, grid, gridEast, gridSouth).flatMap(([x, z]) => landscape.project(x, z) ?? []) : []
  const mark = snap?.on && landscape.project(snap.on.place[0], snap.on.place[2], snap.on.place[1])
  return (
    <>
      <svg className="brush-overlay snap-overlay">
        <path className="grid-crosses" d={pairsOf(crosses).map(([x, y]) => `M${(x - 3).toFixed(1)} ${y.toFixed(1)}h6M${x.toFixed(1)} ${(y - 3).toFixed(1)}v6`).join('')} aria-hidden="true" />
        {wanted && pegs.map((peg) => <PegMark key={peg.id} peg={peg} />)}
        {mark && snap.on && (
          <g aria-hidden="true">
            <path className="snap-mark" d={`M${mark[0] - 8} ${mark[1]}l8 -8l8 8l-8 8Z`} />
            <text x={mark[0] + 13} y={mark[1] - 9}>
              {snap.on.words}
            </text>
          </g>
        )}
      </svg>
      {snap?.on && (
        <p className="sr-only" role="status">
          Set to {snap.on.words}
        </p>
      )}
    </>
  )
}

/** Places of a grid around a place of the terrain. */
function gridAround([x, , z]: readonly [number, number, number], grid: number, east: number, south: number): [number, number][] {
  const [i, j] = [Math.round((x - east) / grid), Math.round((z - south) / grid)]
  const steps = Array.from({ length: 2 * AROUND + 1 }, (_, k) => k - AROUND)
  return steps.flatMap((a) => steps.map((b): [number, number] => [east + (i + a) * grid, south + (j + b) * grid]))
}

function pairsOf(flat: readonly number[]): [number, number][] {
  return Array.from({ length: flat.length / 2 }, (_, k) => [flat[2 * k], flat[2 * k + 1]])
}

/** A peg over the picture, moved by the arrow keys and taken out by Delete while it has the focus. */
function PegMark({ peg: { id, name, ground, place } }: { readonly peg: Peg }) {
  const { session, landscape } = useField()
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  const frame = groundFrame(ground, meshes, terrainHeight(session))
  const world = frame?.placeToWorld(place)
  const at = world && landscape?.project(world[0], world[2], world[1])
  if (!at || !frame) return null
  const key = (event: KeyboardEvent) => {
    const to = nudged(event, world[0], world[2])
    if (!to && event.key !== 'Delete' && event.key !== 'Backspace') return
    event.preventDefault()
    event.stopPropagation()
    if (!to) removePeg(session, id)
    // On the terrain it is kept by its height above it.
    else movePeg(session, id, ground === TERRAIN_ID ? [to[0], place[1], to[1]] : frame.placeToOwn([to[0], world[1], to[1]]))
  }
  return (
    <g className="peg" tabIndex={0} role="button" aria-label={`${name}: the arrow keys move it, Delete takes it out`} onKeyDown={key}>
      <path d={`M${at[0]} ${at[1]}l-4 -11h8Z`} />
      <circle cx={at[0]} cy={at[1] - 13} r={4} />
    </g>
  )
}
