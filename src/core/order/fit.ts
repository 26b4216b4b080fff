import type { Stand, Vector } from '../hand/frames.ts'
import { conjugate, multiply, turned } from '../math/quaternion.ts'
import type { Quaternion } from '../math/quaternion.ts'
import { atan2, DEGREE, exp, log } from '../math/portable.ts'
import { facingTo, framesOfRing } from './ring.ts'
import type { Ring } from './ring.ts'
import { powersOf } from './step.ts'
import type { Step } from './step.ts'

/** Things that stand somewhere, as members of a row or a ring, and how far they are off. */
export interface RowFit {
  /** Things in the order of the row, by their numbers. */
  readonly order: readonly number[]
  /** Where the row begins. */
  readonly place: Vector
  readonly turn: Quaternion
  readonly step: Step
  /** Whether all are turned as the row turns them; else each is turned in its own way. */
  readonly alike: boolean
  /** How far the worst of them is off its place, m. */
  readonly off: number
}

export interface RingFit extends Omit<RowFit, 'step' | 'turn'> {
  readonly ring: Ring
}

/** Turns that differ by less count as one, rad. */
const SAME_TURN = 0.02
/** Sizes that differ by less of themselves count as one. */
const SAME_SIZE = 0.01

/** Things in the order in which one comes upon them: from the one farthest out, always to the nearest that is left. */
export function inOrder(things: readonly Pick<Stand, 'place'>[]): number[] {
  const middle = [0, 1, 2].map((c) => things.reduce((sum, { place }) => sum + place[c], 0) / things.length)
  const left = new Set(things.keys())
  let at = things.reduce((far, { place }, k) => (squared(place, middle) > squared(things[far].place, middle) + 1e-9 ? k : far), 0)
  const order = [at]
  left.delete(at)
  while (left.size > 0) {
    let [next, least] = [-1, Infinity]
    for (const k of left) {
      const away = squared(things[k].place, things[at].place)
      if (away < least) [next, least] = [k, away]
    }
    order.push(next)
    left.delete(next)
    at = next
  }
  return order
}

function squared(a: ArrayLike<number>, b: ArrayLike<number>): number {
  return (a[0] - b[0]) * (a[0] - b[0]) + (a[1] - b[1]) * (a[1] - b[1]) + (a[2] - b[2]) * (a[2] - b[2])
}

/** The row that things fit best: each a step from the one before, turned about its up and sized with it where all are; else on a straight line by least squares. Null for less than two. */
export function fitRow(things: readonly Stand[]): RowFit | null {
  if (things.length < 2) return null
  const order = inOrder(things)
  const stands = order.map((k) => things[k])
  const turns = stands.slice(1).map(({ turn }, k) => twistOf(multiply(conjugate(stands[k].turn), turn)))
  const alike = turns.every(({ lean, twist }) => lean < SAME_TURN && Math.abs(apart(twist, turns[0].twist)) < SAME_TURN)
  const twist = turns[0].twist + turns.reduce((sum, one) => sum + apart(one.twist, turns[0].twist), 0) / turns.length
  const steps = stands.length - 1
  const factor = exp((log(stands[steps].size[1]) - log(stands[0].size[1])) / steps)
  const grows = stands.every(({ size }, k) => k === 0 || Math.abs(size[1] / stands[k - 1].size[1] - factor) < SAME_SIZE * factor)
  if (alike && (Math.abs(twist) > SAME_TURN || (grows && Math.abs(factor - 1) > SAME_SIZE))) {
    const bent = bentRow(order, stands, twist, grows ? factor : 1)
    const straight = straightRow(order, stands, alike)
    return bent.off <= straight.off || Math.abs(twist) > SAME_TURN ? bent : straight
  }
  return straightRow(order, stands, alike)
}

/** Angle between two, the short way round, rad. */
function apart(a: number, b: number): number {
  const by = a - b
  return by - 2 * Math.PI * Math.round(by / (2 * Math.PI))
}

/** A turn as one about up, rad with the clock seen from above, and how far it leans besides. */
function twistOf([x, y, z, w]: Quaternion): { readonly twist: number; readonly lean: number } {
  return { twist: apart(-2 * atan2(y, w), 0), lean: 2 * Math.sqrt(x * x + z * z) }
}

function bentRow(order: readonly number[], stands: readonly Stand[], twist: number, factor: number): RowFit {
  const steps = stands.length - 1
  const move = [0, 0, 0]
  for (let k = 0; k < steps; k++) {
    const { place, turn, size } = stands[k]
    const next = stands[k + 1].place
    const grown = size[1] / stands[0].size[1]
    turned(conjugate(turn), [next[0] - place[0], next[1] - place[1], next[2] - place[2]]).forEach((one, c) => (move[c] += one / (factor === 1 ? 1 : grown) / steps))
  }
  const step: Step = { move: [move[0], move[1], move[2]], axis: 'up', degrees: twist / DEGREE, factor }
  const { place, turn } = stands[0]
  return centred({ order, place, turn, step, alike: true, off: 0 }, stands)
}

function straightRow(order: readonly number[], stands: readonly Stand[], alike: boolean): RowFit {
  const n = stands.length
  const middle = (n - 1) / 2
  const mean = [0, 1, 2].map((c) => stands.reduce((sum, { place }) => sum + place[c], 0) / n)
  const spread = stands.reduce((sum, _, k) => sum + (k - middle) * (k - middle), 0)
  const way = [0, 1, 2].map((c) => stands.reduce((sum, { place }, k) => sum + (k - middle) * (place[c] - mean[c]), 0) / spread)
  const turn: Quaternion = alike ? stands[0].turn : [0, 0, 0, 1]
  const step: Step = { move: turned(conjugate(turn), [way[0], way[1], way[2]]), axis: 'up', degrees: 0, factor: 1 }
  const from = [0, 1, 2].map((c) => mean[c] - middle * way[c])
  return centred({ order, place: [from[0], from[1], from[2]], turn, step, alike, off: 0 }, stands)
}

/** The same row, moved so that things are off as little to one side as to the other, with how far they are. */
function centred(fit: RowFit, stands: readonly Stand[]): RowFit {
  const powers = powersOf(fit.step, stands.length)
  const gaps = stands.map(({ place }, k) => {
    const at = turned(fit.turn, [powers[8 * k], powers[8 * k + 1], powers[8 * k + 2]])
    return [0, 1, 2].map((c) => place[c] - fit.place[c] - at[c])
  })
  const mean = [0, 1, 2].map((c) => gaps.reduce((sum, gap) => sum + gap[c], 0) / gaps.length)
  const off = gaps.reduce((most, gap) => Math.max(most, Math.sqrt(squared(gap, mean))), 0)
  return { ...fit, place: [fit.place[0] + mean[0], fit.place[1] + mean[1], fit.place[2] + mean[2]], off }
}

/** The ring, upright, that things fit best; null for less than three, or where they lie on a line. */
export function fitRing(things: readonly Stand[]): RingFit | null {
  const n = things.length
  const circle = n < 3 ? null : circleThrough(things)
  if (!circle) return null
  const { x, z, radius } = circle
  const y = things.reduce((sum, { place }) => sum + place[1], 0) / n
  // With the clock, 0 to the north.
  const angles = things.map(({ place }) => atan2(place[0] - x, z - place[2]) / DEGREE)
  const sorted = [...things.keys()].sort((a, b) => angles[a] - angles[b])
  const gaps = sorted.map((k, i) => (i + 1 < n ? angles[sorted[i + 1]] - angles[k] : angles[sorted[0]] + FULL - angles[k]))
  const widest = gaps.reduce((most, gap, i) => (gap > gaps[most] ? i : most), 0)
  const whole = gaps[widest] < WHOLE * (FULL / n)
  const order = whole ? sorted : [...sorted.slice(widest + 1), ...sorted.slice(0, widest + 1)]
  const first = angles[order[0]]
  const round = order.map((k) => ((angles[k] - first) % FULL) + (angles[k] < first ? FULL : 0))
  const step = whole ? FULL / n : round[n - 1] / (n - 1)
  const start = first + round.reduce((sum, one, k) => sum + one - k * step, 0) / n
  const { facing, alike } = facingOf(order.map((k) => things[k]), x, z)
  const ring: Ring = { count: n, radius, across: radius, start, arc: whole ? FULL : step * (n - 1), facing }
  const frames = framesOfRing(ring)
  const off = order.reduce((most, k, i) => Math.max(most, Math.sqrt(squared(things[k].place, [x + frames.place[3 * i], y, z + frames.place[3 * i + 2]]))), 0)
  return { order, place: [x, y, z], ring, alike, off }
}

const FULL = 360
/** A gap of so many times the mean one is no gap of a whole ring. */
const WHOLE = 1.6

/** The circle in plan by least squares (Kåsa 1976); null where they lie on a line. */
function circleThrough(things: readonly Stand[]): { readonly x: number; readonly z: number; readonly radius: number } | null {
  const n = things.length
  const [mx, mz] = [0, 2].map((c) => things.reduce((sum, { place }) => sum + place[c], 0) / n)
  let [uu, uv, vv, uq, vq] = [0, 0, 0, 0, 0]
  for (const { place } of things) {
    const [u, v] = [place[0] - mx, place[2] - mz]
    const q = u * u + v * v
    uu += u * u
    uv += u * v
    vv += v * v
    uq += u * q
    vq += v * q
  }
  const det = uu * vv - uv * uv
  if (!(det > 1e-9 * (uu + vv) * (uu + vv))) return null
  const [u, v] = [(uq * vv - vq * uv) / (2 * det), (vq * uu - uq * uv) / (2 * det)]
  return { x: mx + u, z: mz + v, radius: Math.sqrt(u * u + v * v + (uu + vv) / n) }
}

/** Which way things round a middle look, as far as they look alike. */
function facingOf(things: readonly Stand[], x: number, z: number): { readonly facing: Ring['facing']; readonly alike: boolean } {
  for (const facing of ['out', 'in', 'ahead', 'same'] as const) {
    const looks = things.every(({ place, turn }) => {
      const [east, north] = [place[0] - x, z - place[2]]
      const long = Math.sqrt(east * east + north * north) || 1
      const wanted = facing === 'same' ? NO_FACING : facing === 'out' ? facingTo(east / long, north / long) : facing === 'in' ? facingTo(-east / long, -north / long) : facingTo(north / long, -east / long)
      const { twist, lean } = twistOf(multiply(conjugate(wanted), turn))
      return Math.abs(twist) < SAME_TURN && lean < SAME_TURN
    })
    if (looks) return { facing, alike: true }
  }
  return { facing: 'same', alike: false }
}

const NO_FACING: Quaternion = [0, 0, 0, 1]
