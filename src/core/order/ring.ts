import { cos, DEGREE, sin } from '../math/portable.ts'
import { lastAtMost } from '../math/search.ts'
import type { Frames } from './frames.ts'
import { aboutUp, framesOf, setInRun, setPlace, setTurn } from './frames.ts'

export interface Ring {
  readonly count: number
  /** m; the second one lies across the first: where both are the same it is a circle. */
  readonly radius: number
  readonly across: number
  /** Where it begins and how far it goes round, degrees, with the clock seen from above; 0 is to the north of its base. */
  readonly start: number
  readonly arc: number
  /** Which way the front of its members looks. */
  readonly facing: 'out' | 'in' | 'ahead' | 'same'
}

/** Pieces that an ellipse is cut into to go evenly along it: an error of 1e-7 of its length. */
const PIECES = 4096
const FULL = 360

/**
 * Members round a ring, evenly along it. A whole ring has one at its beginning and none at its end, which is the same
 * place; an arc has one at each end.
 */
export function framesOfRing({ count, radius, across, start, arc, facing }: Ring): Frames {
  const angles = new Float64Array(count)
  const frames = { ...framesOf(count), angle: angles }
  const whole = Math.abs(arc) >= FULL
  const round = Math.max(-FULL, Math.min(FULL, arc)) * DEGREE
  const steps = whole ? count : Math.max(1, count - 1)
  const angleAt = radius === across ? (share: number) => start * DEGREE + round * share : evenly(radius, across, start * DEGREE, round)
  for (let k = 0; k < count; k++) {
    const angle = angleAt(k / steps)
    const [s, c] = [sin(angle), cos(angle)]
    setPlace(frames, k, across * s, 0, -radius * c)
    setInRun(frames, k, k, count, k / steps)
    angles[k] = angle / DEGREE
    if (facing === 'same') continue
    // The way that the ring goes on, and out of it: square to that.
    const [east, north] = round < 0 ? [-across * c, radius * s] : [across * c, -radius * s]
    const long = Math.sqrt(east * east + north * north)
    const [outEast, outNorth] = round < 0 ? [-north / long, east / long] : [-north / long, east / long]
    const turnedOut = (outEast * s * across + outNorth * c * radius) >= 0 ? 1 : -1
    const [faceEast, faceNorth] = facing === 'ahead' ? [east / long, north / long] : facing === 'out' ? [turnedOut * outEast, turnedOut * outNorth] : [-turnedOut * outEast, -turnedOut * outNorth]
    setTurn(frames, k, facingTo(faceEast, faceNorth))
  }
  return frames
}

/** The turn about up that lets a front, which looks south, look to the east and north so much (of length 1). */
export function facingTo(east: number, north: number): ReturnType<typeof aboutUp> {
  // Of the clock's angle from south: its cosine is −north, its sine −east.
  const [c, s] = [-north, -east]
  const cosHalf = Math.sqrt(Math.max(0, 0.5 * (1 + c)))
  return cosHalf > 1e-9 ? aboutUp(s / (2 * cosHalf), cosHalf) : aboutUp(1, 0)
}

/** Angles evenly along an ellipse: by the length of the polygon through so many of its places. */
function evenly(radius: number, across: number, from: number, round: number): (share: number) => number {
  const gone = new Float64Array(PIECES + 1)
  const at = (angle: number) => [across * sin(angle), -radius * cos(angle)] as const
  let before = at(from)
  for (let k = 1; k <= PIECES; k++) {
    const next = at(from + (round * k) / PIECES)
    gone[k] = gone[k - 1] + Math.sqrt((next[0] - before[0]) ** 2 + (next[1] - before[1]) ** 2)
    before = next
  }
  return (share) => {
    const wanted = share * gone[PIECES]
    const low = lastAtMost(gone, wanted, PIECES - 1)
    const long = gone[low + 1] - gone[low]
    return from + (round * (low + (long > 0 ? (wanted - gone[low]) / long : 0))) / PIECES
  }
}

