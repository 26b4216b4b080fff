import { lastAtMost } from '../math/search.ts'
import type { Outline } from '../meadow.ts'
import { isClosed, polylines } from './outline.ts'

/** A place on a line and the way that the line goes there, of length 1. */
export interface OnLine {
  x: number
  z: number
  wayX: number
  wayZ: number
}

/** A line by the length that is gone along it. */
export interface AlongLine {
  /** All of it, m; of a closed line all the way round. */
  readonly length: number
  /** Writes where one is after so many metres; before its beginning and beyond its end at those ends. */
  at(metres: number, out: OnLine): void
}

/** A polyline x z x z …, m, by the length that is gone along it in plan. */
export function alongPolyline(line: readonly number[], closed = false): AlongLine {
  const corners = closed && line.length > 4 ? [...line, line[0], line[1]] : line
  const n = corners.length / 2
  /** How far each corner is from the beginning, m. */
  const gone = new Float64Array(Math.max(n, 1))
  for (let i = 1; i < n; i++) gone[i] = gone[i - 1] + away(corners, i)
  const length = gone[n - 1] ?? 0
  return {
    length,
    at(metres, out) {
      const s = Math.max(0, Math.min(length, metres))
      // The last piece that begins at or before it.
      const low = lastAtMost(gone, s, Math.max(0, n - 2))
      const [ax, az] = [corners[2 * low], corners[2 * low + 1]]
      const long = n > 1 ? gone[low + 1] - gone[low] : 0
      const [wx, wz] = long > 0 ? [(corners[2 * low + 2] - ax) / long, (corners[2 * low + 3] - az) / long] : [1, 0]
      out.x = ax + wx * (s - gone[low])
      out.z = az + wz * (s - gone[low])
      out.wayX = wx
      out.wayZ = wz
    },
  }
}

const known = new WeakMap<Outline, readonly AlongLine[]>()

/** The lines of an outline by the length that is gone along them, as they run: through its points, or curved. */
export function alongOutline(outline: Outline): readonly AlongLine[] {
  const found = known.get(outline)
  if (found) return found
  const made = polylines(outline).map((line) => alongPolyline(line, isClosed(outline)))
  known.set(outline, made)
  return made
}

function away(line: readonly number[], i: number): number {
  const [x, z] = [line[2 * i] - line[2 * i - 2], line[2 * i + 1] - line[2 * i - 1]]
  return Math.sqrt(x * x + z * z)
}
