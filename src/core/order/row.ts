import { multiply, turned } from '../math/quaternion.ts'
import type { Quaternion } from '../math/quaternion.ts'
import type { Frames } from './frames.ts'
import { framesOf, setInRun, setPlace, setTurn } from './frames.ts'
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
  let k = 0
  for (let c = 0; c < third; c++)
    for (let b = 0; b < second; b++) {
      const outer = within(powerAt(powers[2], c), powerAt(powers[1], b))
      for (let a = 0; a < first; a++) {
        const { place: [x, y, z], turn, size } = within(outer, powerAt(powers[0], a))
        setPlace(frames, k, x, y, z)
        setTurn(frames, k, turn)
        frames.size.fill(size, 3 * k, 3 * k + 3)
        setInRun(frames, k, a, first, first > 1 ? a / (first - 1) : 0)
        frames.low[k] = a
        frames.high[k] = (c << 16) | b
        k++
      }
    }
  return frames
}

interface Power {
  readonly place: readonly [number, number, number]
  readonly turn: Quaternion
  readonly size: number
}

function powerAt(powers: Float64Array, k: number): Power {
  const [x, y, z, qx, qy, qz, qw, size] = powers.subarray(8 * k, 8 * k + 8)
  return { place: [x, y, z], turn: [qx, qy, qz, qw], size }
}

/** One frame within another. */
function within(outer: Power, inner: Power): Power {
  const [x, y, z] = turned(outer.turn, [inner.place[0] * outer.size, inner.place[1] * outer.size, inner.place[2] * outer.size])
  return { place: [outer.place[0] + x, outer.place[1] + y, outer.place[2] + z], turn: multiply(outer.turn, inner.turn), size: outer.size * inner.size }
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
