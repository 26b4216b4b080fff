import { useEffect, useReducer } from 'react'
import { useStore } from 'zustand'
import { groundFrame } from '../../core/hand/frames.ts'
import { turned } from '../../core/math/quaternion.ts'
import { terrainHeight } from '../../tools/choose/acts.ts'
import { useField, useFieldState } from './field-context.ts'

/** How large the disc is, as a share of how far off it is, and its corners. */
const DISC = 0.02
const CORNERS = 28

/** What the open pattern stands on: a small disc square to it, with a hand to its south, where things look. */
export function BaseOverlay() {
  const { session, landscape, tool } = useField()
  const open = useStore(tool, (state) => state.open)
  const base = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === open)?.base ?? null)
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  const [, look] = useReducer((n: number) => n + 1, 0)
  const shown = base !== null && landscape !== null
  useEffect(() => (shown ? landscape?.onDrawn(look) : undefined), [landscape, shown])
  const frame = base && groundFrame(base.host, meshes, terrainHeight(session))
  if (!shown || !frame) return null
  const place = frame.placeToWorld(base.place)
  const turn = frame.turnToWorld(base.turn)
  const { position } = landscape.view()
  const radius = DISC * Math.hypot(position[0] - place[0], position[1] - place[1], position[2] - place[2])
  const at = (x: number, z: number) => {
    const by = turned(turn, [x * radius, 0, z * radius])
    return landscape.project(place[0] + by[0], place[2] + by[2], place[1] + by[1])
  }
  const rim = Array.from({ length: CORNERS }, (_, k) => at(Math.cos((2 * Math.PI * k) / CORNERS), Math.sin((2 * Math.PI * k) / CORNERS)))
  const hand = [at(0, 0), at(0, 1.7)]
  if ([...rim, ...hand].some((one) => one === null)) return null
  const points = (list: typeof rim) => list.map((one) => `${one?.[0].toFixed(1)} ${one?.[1].toFixed(1)}`).join('L')
  return (
    <svg className="brush-overlay base-overlay" aria-hidden="true">
      <path className="base-disc" d={`M${points(rim)}Z`} />
      <path className="base-hand" d={`M${points(hand)}`} />
    </svg>
  )
}
