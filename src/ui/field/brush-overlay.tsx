import { useEffect, useReducer } from 'react'
import { useStore } from 'zustand'
import type { Brush } from '../../state/field-tool.ts'
import { useField } from './field-context.ts'

/** Corners that a ring is drawn with. */
const CORNERS = 48

/** The brush where it lies on the ground: its rim, where it begins to fade out, and its numbers. */
export function BrushOverlay() {
  const { landscape, tool } = useField()
  const brush = useStore(tool, (state) => state.brush)
  const [, look] = useReducer((n: number) => n + 1, 0)
  const any = brush !== null
  useEffect(() => (any ? landscape?.onDrawn(look) : undefined), [landscape, any])
  if (!brush || !landscape) return null
  const ring = (radius: number) => ringOf(brush, radius).map(([x, y, z]) => landscape.project(x, z, y))
  const rim = ring(brush.radius)
  const core = brush.soft > 0 && brush.soft < 1 ? ring(brush.radius * (1 - brush.soft)) : null
  const seen = rim.filter((at) => at !== null)
  const right = seen.reduce<readonly [number, number] | null>((most, at) => (!most || at[0] > most[0] ? at : most), null)
  return (
    <svg className={`brush-overlay ${brush.act}${brush.idle ? ' idle' : ''}`} aria-hidden="true">
      <path className="brush-shade" d={pathOf(rim)} />
      <path className="brush-rim" d={pathOf(rim)} />
      {core && <path className="brush-core" d={pathOf(core)} />}
      {right && (
        <text x={right[0] + 8} y={right[1] + 4}>
          {brush.label}
        </text>
      )}
    </svg>
  )
}

/** A ring around the brush's middle: over the plan of the terrain, which tells the heights, or flat on the face of a mesh. */
function ringOf({ place: [x, y, z], normal }: Brush, radius: number): (readonly [number, number | undefined, number])[] {
  const turns = Array.from({ length: CORNERS }, (_, k) => (2 * Math.PI * k) / CORNERS)
  if (!normal) return turns.map((turn) => [x + radius * Math.cos(turn), undefined, z + radius * Math.sin(turn)])
  const [nx, ny, nz] = normal
  // Any two directions across the normal.
  const flat = Math.abs(ny) < 0.9 ? [-nz, 0, nx] : [0, nz, -ny]
  const length = Math.hypot(...flat)
  const [ax, ay, az] = flat.map((value) => value / length)
  const [bx, by, bz] = [ny * az - nz * ay, nz * ax - nx * az, nx * ay - ny * ax]
  return turns.map((turn) => {
    const [c, s] = [radius * Math.cos(turn), radius * Math.sin(turn)]
    return [x + c * ax + s * bx, y + c * ay + s * by, z + c * az + s * bz]
  })
}

/** A closed line through what is in the picture; it breaks where it leaves it. */
function pathOf(points: readonly (readonly [number, number] | null)[]): string {
  let joined = false
  const whole = points.every((at) => at !== null)
  const parts = points.map((at) => {
    if (!at) {
      joined = false
      return ''
    }
    const part = `${joined ? 'L' : 'M'}${at[0].toFixed(1)} ${at[1].toFixed(1)}`
    joined = true
    return part
  })
  return parts.join('') + (whole ? 'Z' : '')
}
