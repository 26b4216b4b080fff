import type { Outline } from '../meadow.ts'
import { isClosed, polylines } from './outline.ts'

/** Length of all lines of an outline, m. */
export function outlineLength(outline: Outline): number {
  let sum = 0
  for (const line of polylines(outline)) {
    const n = line.length / 2
    for (let i = isClosed(outline) ? 0 : 1; i < n; i++) {
      const j = (i + n - 1) % n
      sum += Math.sqrt((line[2 * i] - line[2 * j]) ** 2 + (line[2 * i + 1] - line[2 * j + 1]) ** 2)
    }
  }
  return sum
}

/** Area between the rim and the holes of a patch, by the shoelace formula, m²; lines must not cross. */
export function patchArea(outline: Outline): number {
  const areas = polylines(outline).map((line) => {
    let twice = 0
    const n = line.length / 2
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n
      twice += line[2 * i] * line[2 * j + 1] - line[2 * j] * line[2 * i + 1]
    }
    return Math.abs(twice) / 2
  })
  return areas.slice(1).reduce((area, hole) => area - hole, areas[0] ?? 0)
}
