import { cos, DEGREE, exp, log, sin } from '../math/portable.ts'
import type { Quaternion } from '../math/quaternion.ts'
import { turned } from '../math/quaternion.ts'

type Vector = readonly [number, number, number]

/** From one member of a row to the next, in the frame of the one: moved, then turned about one of its axes, and sized. */
export interface Step {
  /** m */
  readonly move: Vector
  readonly axis: 'up' | 'east' | 'south'
  /** About up with the clock seen from above; about east and south by the right hand. */
  readonly degrees: number
  readonly factor: number
}

const AXES: Readonly<Record<Step['axis'], Vector>> = { up: [0, -1, 0], east: [1, 0, 0], south: [0, 0, 1] }

/** The turn about a step's axis by so many degrees. */
export function turnOfStep(axis: Step['axis'], degrees: number): Quaternion {
  const half = 0.5 * degrees * DEGREE
  const s = sin(half)
  const [x, y, z] = AXES[axis]
  return [x * s, y * s, z * s, cos(half)]
}

/** Powers of a step, 0 … count − 1: where each is, its turn and its size, in rows of 8 numbers. */
export function powersOf({ move, axis, degrees, factor }: Step, count: number): Float64Array {
  const out = new Float64Array(8 * count)
  let [x, y, z, size] = [0, 0, 0, 1]
  for (let k = 0; k < count; k++) {
    // Angles are multiplied, not added up, so that no error grows with them.
    const turn = turnOfStep(axis, k * degrees)
    out.set([x, y, z, ...turn, size], 8 * k)
    const by = turned(turn, [move[0] * size, move[1] * size, move[2] * size])
    x += by[0]
    y += by[1]
    z += by[2]
    size *= factor
  }
  return out
}

/** Below this a sum of turned steps is none: they go round in a whole circle. */
const NOTHING = 1e-9

/**
 * The step whose power `steps` is a whole run: moved, turned and sized so much from its first member to its last.
 * Null where no step leads there, as the members go round in whole circles and come back to the first.
 */
export function stepOfRun(run: Step, steps: number): Step | null {
  if (steps <= 1) return run
  const degrees = run.degrees / steps
  const factor = exp(log(run.factor) / steps)
  // Along the axis sizes add up; across it, the sum of turned and sized steps is a complex number.
  let [along, real, imaginary] = [0, 0, 0]
  let size = 1
  for (let k = 0; k < steps; k++) {
    along += size
    real += size * cos(k * degrees * DEGREE)
    imaginary += size * sin(k * degrees * DEGREE)
    size *= factor
  }
  const square = real * real + imaginary * imaginary
  if (square < (NOTHING * along) ** 2) return null
  const { axis, move } = run
  const n = AXES[axis]
  const on = move[0] * n[0] + move[1] * n[1] + move[2] * n[2]
  const across: Vector = [move[0] - on * n[0], move[1] - on * n[1], move[2] - on * n[2]]
  // Turned back by the angle of the sum, and as much shorter as it is long.
  const side: Vector = [n[1] * across[2] - n[2] * across[1], n[2] * across[0] - n[0] * across[2], n[0] * across[1] - n[1] * across[0]]
  const step = [0, 1, 2].map((c) => (real * across[c] - imaginary * side[c]) / square + (on * n[c]) / along)
  return { axis, degrees, factor, move: [step[0], step[1], step[2]] }
}

/** The whole run that so many steps make. */
export function runOfSteps(step: Step, steps: number): Step {
  const last = powersOf(step, steps + 1).subarray(8 * steps)
  return { axis: step.axis, degrees: step.degrees * steps, factor: last[7], move: [last[0], last[1], last[2]] }
}
