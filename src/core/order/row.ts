import { turnPlace, turnTurn } from '../math/quaternion.ts'
import type { Frames } from './frames.ts'
import { framesOf, setInRun } from './frames.ts'
import type { Step } from './step.ts'
import { powersOf } from './step.ts'

/** So many members in one direction of a row, each a step from the one before. */
export interface Direction {
  readonly count: number
  readonly step: Step
}

/**
 * Members of a row in one, two or three directions: each row of the first stands whole at each member of the second,
 * and all of it at each of the third. Their addresses are their numbers in the directions.
 */
export function framesOfRow(directions: readonly Direction[]): Frames {
  const [first, second, third] = [0, 1, 2].map((k) => directions[k]?.count ?? 1)
  const powers = [0, 1, 2].map((k) => (directions[k] ? powersOf(directions[k].step, directions[k].count) : Float64Array.of(0, 0, 0, 0, 0, 0, 1, 1)))
  const frames = framesOf(first * second * third)
  const outer = new Float64Array(8)
  const own = new Float64Array(8)
  let k = 0
  for (let c = 0; c < third; c++)
    for (let b = 0; b < second; b++) {
      within(powers[2], 8 * c, powers[1], 8 * b, outer)
      for (let a = 0; a < first; a++) {
        within(outer, 0, powers[0], 8 * a, own)
        for (let n = 0; n < 3; n++) {
          frames.place[3 * k + n] = own[n]
          frames.size[3 * k + n] = own[7]
        }
        for (let n = 0; n < 4; n++) frames.turn[4 * k + n] = own[3 + n]
        setInRun(frames, k, a, first, first > 1 ? a / (first - 1) : 0)
        frames.low[k] = a
        frames.high[k] = (c << 16) | b
        k++
      }
    }
  return frames
}

/** Writes one power within another: place x y z, turn x y z w and size, from the places given on. */
function within(outer: Float64Array, o: number, inner: Float64Array, i: number, out: Float64Array): void {
  const size = outer[o + 7]
  turnPlace(outer, o + 3, inner[i] * size, inner[i + 1] * size, inner[i + 2] * size, out, 0)
  for (let n = 0; n < 3; n++) out[n] += outer[o + n]
  turnTurn(outer, o + 3, inner, i + 3, out, 3)
  out[7] = size * inner[i + 7]
}

/** The first member of a run of steps whose size is no size any more: below `least` or above `most`; null when all have one. */
export function outgrown(factor: number, count: number, least: number, most: number): number | null {
  if (factor === 1) return null
  let size = 1
  for (let k = 0; k < count; k++) {
    if (size < least || size > most) return k
    size *= factor
  }
  return null
}
