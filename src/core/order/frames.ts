import type { Quaternion } from '../math/quaternion.ts'
import type { Runs } from '../surroundings.ts'

/**
 * Frames of the members of a pattern as columns: place x y z (m), turn x y z w, size x y z (factors along own axes),
 * and where each is in its run. They are those of the pattern's own frame, or of the world once they
 * are put on its base.
 */
export interface Frames extends Runs {
  readonly count: number
  readonly place: Float64Array
  readonly turn: Float64Array
  readonly size: Float64Array
  /** Halves of the address of each: which member it is, whatever else there is. */
  readonly low: Uint32Array
  readonly high: Uint32Array
}

/** More members than this would outgrow a worker's memory. */
export const MOST_MEMBERS = 400_000

/** Says of a member which of how many in its run it is. */
export function setInRun({ index, of, along }: Frames, k: number, number: number, count: number, share: number): void {
  index[k] = number
  of[k] = count
  along[k] = share
}

/** Room for so many frames, none of them turned, all of size 1. */
export function framesOf(count: number): Frames {
  const turn = new Float64Array(4 * count)
  for (let k = 0; k < count; k++) turn[4 * k + 3] = 1
  return {
    count,
    place: new Float64Array(3 * count),
    turn,
    size: new Float64Array(3 * count).fill(1),
    along: new Float64Array(count),
    index: new Float64Array(count),
    of: new Float64Array(count).fill(count),
    angle: null,
    low: Uint32Array.from({ length: count }, (_, k) => k),
    high: new Uint32Array(count),
  }
}

export function setPlace({ place }: Frames, k: number, x: number, y: number, z: number): void {
  place[3 * k] = x
  place[3 * k + 1] = y
  place[3 * k + 2] = z
}

export function setTurn({ turn }: Frames, k: number, of: Quaternion): void {
  for (let c = 0; c < 4; c++) turn[4 * k + c] = of[c]
}

/** Half an angle about up, seen from above with the clock above 0, as a quaternion. */
export function aboutUp(sinHalf: number, cosHalf: number): Quaternion {
  return [0, -sinHalf, 0, cosHalf]
}
