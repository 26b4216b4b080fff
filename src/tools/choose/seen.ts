import type { Desk } from '../define.ts'

/** Sides of the cells of the picture whose corners are asked how far off the ground is seen there, px. */
const CELL = 16
/** What stands so far behind the ground that is seen before it is still seen: m, and a share of how far off it is. */
const BEHIND = { metres: 0.6, share: 0.03 }

/**
 * Tells whether the terrain hides a place that is seen at x y of the picture, so many metres from the eye; for a part
 * of the picture x0 y0 x1 y1. The ground is asked at the corners of cells, and the farthest of a cell's four counts, so
 * that what stands at the rim of a hill is not lost.
 */
export function hiddenByGround(view: Desk['view'], [x0, y0, x1, y1]: readonly number[]): (x: number, y: number, away: number) => boolean {
  const [across, down] = [Math.max(1, Math.ceil((x1 - x0) / CELL)), Math.max(1, Math.ceil((y1 - y0) / CELL))]
  const [eyeX, eyeY, eyeZ] = view.sight(x0, y0).origin
  const corners = new Float64Array((across + 1) * (down + 1))
  for (let j = 0; j <= down; j++)
    for (let i = 0; i <= across; i++) {
      const on = view.pick(x0 + ((x1 - x0) * i) / across, y0 + ((y1 - y0) * j) / down)
      corners[j * (across + 1) + i] = on ? Math.hypot(on.x - eyeX, on.y - eyeY, on.z - eyeZ) : Infinity
    }
  return (x, y, away) => {
    const i = Math.max(0, Math.min(across - 1, Math.floor(((x - x0) / (x1 - x0)) * across)))
    const j = Math.max(0, Math.min(down - 1, Math.floor(((y - y0) / (y1 - y0)) * down)))
    const at = j * (across + 1) + i
    const farthest = Math.max(corners[at], corners[at + 1], corners[at + across + 1], corners[at + across + 2])
    return away > farthest * (1 + BEHIND.share) + BEHIND.metres
  }
}
