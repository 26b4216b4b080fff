import type { LineIndex } from '../outlines/distance.ts'
import { createLineIndex } from '../outlines/distance.ts'
import type { Terrain } from './terrain.ts'

/** More pieces than this are not worth their memory: the ground is then taken at every second node, and so on. */
const MOST_PIECES = 300_000

const known = new WeakMap<Terrain, Map<number, LineIndex>>()

/** The line where the ground meets a level, as pieces within the cells of its grid (marching squares). */
export function shorelineOf(terrain: Terrain, level: number): LineIndex {
  const own = known.get(terrain) ?? new Map<number, LineIndex>()
  known.set(terrain, own)
  let index = own.get(level)
  if (!index) {
    let pieces = contour(terrain, level, 1)
    for (let stride = 2; pieces.length > MOST_PIECES; stride *= 2) pieces = contour(terrain, level, stride)
    index = createLineIndex(pieces, false)
    own.set(level, index)
  }
  return index
}

/** Pieces x0 z0 x1 z1 of the contour of a level, from every `stride`-th node. */
export function contour(terrain: Terrain, level: number, stride: number): number[][] {
  const { heights, columns, rows, stepX, stepZ, bounds } = terrain
  const pieces: number[][] = []
  const crossing = (i0: number, j0: number, i1: number, j1: number): [number, number] => {
    const a = heights[j0 * columns + i0] - level
    const b = heights[j1 * columns + i1] - level
    const t = a / (a - b)
    return [bounds.x0 + (i0 + t * (i1 - i0)) * stepX, bounds.z0 + (j0 + t * (j1 - j0)) * stepZ]
  }
  for (let j = 0; j < rows - 1; j += stride)
    for (let i = 0; i < columns - 1; i += stride) {
      const [e, f] = [Math.min(i + stride, columns - 1), Math.min(j + stride, rows - 1)]
      const nw = heights[j * columns + i] >= level
      const ne = heights[j * columns + e] >= level
      const sw = heights[f * columns + i] >= level
      const se = heights[f * columns + e] >= level
      if (nw === ne && nw === sw && nw === se) continue
      const ends: [number, number][] = []
      if (nw !== ne) ends.push(crossing(i, j, e, j))
      if (ne !== se) ends.push(crossing(e, j, e, f))
      if (sw !== se) ends.push(crossing(i, f, e, f))
      if (nw !== sw) ends.push(crossing(i, j, i, f))
      if (ends.length === 2) pieces.push([...ends[0], ...ends[1]])
      else if (ends.length === 4) {
        // A saddle: its height between the corners says which pairs belong together.
        const [a, b, c, d] = [heights[j * columns + i], heights[j * columns + e], heights[f * columns + i], heights[f * columns + e]]
        const saddle = (a * d - b * c) / (a + d - b - c)
        const first = saddle >= level === nw ? [0, 1, 2, 3] : [3, 0, 1, 2]
        pieces.push([...ends[first[0]], ...ends[first[1]]], [...ends[first[2]], ...ends[first[3]]])
      }
    }
  return pieces
}
