import { distinctWords } from '../identity.ts'
import { CHANNEL, draw, drawKeyOf, drawSalt, mix } from '../math/random.ts'
import { multiply, NO_TURN, ofAxes } from '../math/quaternion.ts'
import type { Quaternion } from '../math/quaternion.ts'
import type { Outline } from '../meadow.ts'
import type { Vector } from '../math/vector.ts'
import { cross } from '../math/vector.ts'
import type { HeightAt } from '../grounds/terrain.ts'
import type { OnTrail, TrailLine } from './trail-lines.ts'
import { trailLines } from './trail-lines.ts'
import type { Frames } from './frames.ts'
import { framesOf, MOST_MEMBERS, setInRun, setPlace, setTurn } from './frames.ts'
import { facingTo } from './ring.ts'

export interface Trail {
  readonly by: 'count' | 'spacing'
  /** Members of each line. */
  readonly count: number
  /** Metres of line from one to the next. */
  readonly spacing: number
  /** Whether the spacing gives way a little, so that one comes to stand at the end, too. */
  readonly fit: boolean
  /** Which share of each line they lie along, 0…1. */
  readonly from: number
  readonly to: number
  readonly sides: 'on' | 'left' | 'right' | 'both' | 'turns' | 'across'
  /** How many stand beside each other at each place where they fill a width. */
  readonly abreast: number
  /** How far to the sides, m. */
  readonly off: number
  /** Which way the front of its members looks. */
  readonly facing: 'ahead' | 'back' | 'left' | 'right' | 'same'
  /** Whether members stand upright, or square to their line where that climbs. */
  readonly stands: 'upright' | 'square'
  /** By up to which share of the spacing, and how far aside, m, each comes to stand off its place. */
  readonly uneven: number
  readonly aside: number
  /** Whether members reach from one place to the next. */
  readonly between: boolean
  /** How much of the way from the line's own heights to the ground what reaches comes, 0…1. */
  readonly land: number
}

/** Frames of a trail in the world, and how far each member is to reach along its own axis, m; 0 where it keeps its length. */
export interface TrailFrames extends Frames {
  readonly reach: Float64Array
}

/** Places along one line, m from its beginning: how many, how far the first is and how far apart they are. */
interface Places {
  readonly count: number
  readonly first: number
  readonly apart: number
}

/** Where members stand along a line of a length. A line that is gone along all round has none at its end, which is its beginning. */
export function placesAlong(length: number, closed: boolean, { by, count, spacing, fit, from, to }: Pick<Trail, 'by' | 'count' | 'spacing' | 'fit' | 'from' | 'to'>): Places {
  const [low, high] = from <= to ? [from, to] : [to, from]
  const first = low * length
  const long = (high - low) * length
  const round = closed && low === 0 && high === 1
  if (by === 'count') return { count, first, apart: long / Math.max(1, round ? count : count - 1) }
  if (!fit) {
    // A hair over a whole number of them is rounding.
    const steps = Math.floor(long / spacing + 1e-9)
    return { count: round && Math.abs(long - steps * spacing) < 0.5 * spacing ? Math.max(1, steps) : steps + 1, first, apart: spacing }
  }
  const steps = Math.max(1, Math.round(long / spacing))
  return { count: round ? steps : steps + 1, first, apart: long / steps }
}

/** How many members all lines of a trail have; of lines that leave the ground about as many where its heights are not told. */
export function countOfTrail(outlines: readonly Outline[], trail: Trail, heightAt: HeightAt = () => 0): number {
  return countOn(trailLines(outlines, heightAt), trail)
}

function countOn(lines: readonly TrailLine[], trail: Trail): number {
  return lines.reduce((sum, { length, closed }) => sum + membersOf(placesAlong(length, closed, trail), closed, trail), 0)
}

function membersOf({ count }: Places, closed: boolean, trail: Trail): number {
  const { between, from, to } = trail
  const round = closed && Math.min(from, to) === 0 && Math.max(from, to) === 1
  return Math.max(0, between && !round ? count - 1 : count) * sidesOf(trail).length
}

/** Where members stand at each place: on which side, or which of those abreast. */
function sidesOf({ sides, abreast }: Trail): readonly number[] {
  if (sides === 'both') return [1, -1]
  return sides === 'across' ? Array.from({ length: Math.max(1, abreast) }, (_, j) => (abreast > 1 ? 1 - (2 * j) / (abreast - 1) : 0)) : [0]
}

/**
 * Members along lines, by the length that is gone along them; `heightAt` tells the height of the ground. Own heights
 * of a line that lies on the ground go straight from that at its beginning to that at its end, over all dips. Member k
 * of a line is the same whatever their number is. Throws RangeError where they are too many.
 */
export function framesOfTrail(outlines: readonly Outline[], trail: Trail, seed: number, heightAt: HeightAt): TrailFrames {
  const lines = trailLines(outlines, heightAt)
  const count = countOn(lines, trail)
  if (count > MOST_MEMBERS) throw new RangeError(`framesOfTrail: ${count} members, at most ${MOST_MEMBERS}`)
  const frames: TrailFrames = { ...framesOf(count), reach: new Float64Array(count) }
  const salt = drawSalt(seed ^ 0x51f0a3c7)
  const highs = distinctWords(lines.map(({ name }) => name))
  let n = 0
  for (const [number, line] of lines.entries()) {
    const { closed } = line
    const high = highs[number]
    const places = placesAlong(line.length, closed, trail)
    const sides = sidesOf(trail)
    const onGround = ({ x, z, height }: OnTrail) => height + trail.land * (heightAt(x, z) - height)
    const many = membersOf(places, closed, trail) / sides.length
    for (let k = 0; k < many; k++)
      for (const [j, side] of sides.entries()) {
        const [bit, own] = trail.sides === 'across' ? [0, mix(high + j)] : [side < 0 ? 1 : 0, high]
        const place = (at: number) => placeOf(line, places, at, trail, side, drawKeyOf(salt, 2 * (closed ? at % many : at) + bit, own))
        frames.low[n] = 2 * k + bit
        frames.high[n] = own
        setInRun(frames, n, k, many, many > 1 ? k / (many - 1) : 0)
        if (trail.between) reachBetween(frames, n, place(k), place(k + 1), trail.facing, onGround)
        else {
          const { x, z, height, turn } = place(k)
          setPlace(frames, n, x, height, z)
          setTurn(frames, n, turn)
        }
        n++
      }
  }
  return frames
}

const SIDES: Readonly<Record<Trail['sides'], (k: number, side: number) => number>> = {
  on: () => 0,
  left: () => 1,
  right: () => -1,
  both: (_k, side) => side,
  across: (_k, side) => side,
  turns: (k) => (k % 2 === 0 ? 1 : -1),
}

/** Where place k of a line is, and how what stands there is turned. Left is to the north of one who goes east. */
function placeOf(line: TrailLine, { first, apart }: Places, k: number, { sides, off, uneven, aside, facing, stands }: Trail, side: number, key: number): OnTrail & { readonly turn: Quaternion } {
  const gone = first + apart * (k + uneven * (2 * draw(key, CHANNEL.position) - 1))
  const metres = line.closed && line.length > 0 ? gone - line.length * Math.floor(gone / line.length) : gone
  const left = SIDES[sides](k, side) * off + aside * (2 * draw(key, CHANNEL.positionZ) - 1)
  const on = line.at(metres)
  if (stands === 'upright') return { ...on, x: on.x + on.wayZ * left, z: on.z - on.wayX * left, turn: facingOf(facing, on.wayX, on.wayZ) }
  const { way, up } = line.frameAt(metres)
  const [sx, sy, sz] = cross(up, way)
  return { ...on, x: on.x + sx * left, height: on.height + sy * left, z: on.z + sz * left, turn: squareTo(facing, way, up) }
}

/** The turn that lets a front look along a way through space, with the given up. */
function squareTo(facing: Trail['facing'], way: Vector, up: Vector): Quaternion {
  const left = cross(up, way)
  const back = (of: Vector): Vector => [-of[0], -of[1], -of[2]]
  const fronts: Readonly<Record<Trail['facing'], Vector | null>> = { ahead: way, back: back(way), left, right: back(left), same: null }
  const front = fronts[facing]
  return (front && ofAxes(cross(up, front), up)) ?? NO_TURN
}

/** The turn about up that lets a front look so where a line goes that way in plan. */
export function facingOf(facing: Trail['facing'], wayX: number, wayZ: number): Quaternion {
  // East and north of where the front looks.
  const ways: Readonly<Record<Trail['facing'], readonly [number, number] | null>> = { ahead: [wayX, -wayZ], back: [-wayX, wayZ], left: [wayZ, wayX], right: [-wayZ, -wayX], same: null }
  const way = ways[facing]
  return way ? facingTo(way[0], way[1]) : NO_TURN
}

/** Lets a member reach from one place to the next: it stands half-way, turned and tilted to go straight there. */
function reachBetween(frames: TrailFrames, n: number, a: OnTrail, b: OnTrail, facing: Trail['facing'], heightOf: (on: OnTrail) => number): void {
  const [ay, by] = [heightOf(a), heightOf(b)]
  const [dx, dy, dz] = [b.x - a.x, by - ay, b.z - a.z]
  const flat = Math.sqrt(dx * dx + dz * dz)
  const long = Math.sqrt(flat * flat + dy * dy)
  setPlace(frames, n, 0.5 * (a.x + b.x), 0.5 * (ay + by), 0.5 * (a.z + b.z))
  frames.reach[n] = long
  if (!(flat > 0)) return
  const turn = facingOf(facing === 'same' ? 'left' : facing, dx / flat, dz / flat)
  // Tilted about its own side: a front that looks ahead looks up where it rises.
  const cosHalf = Math.sqrt(0.5 * (1 + flat / long))
  const half = dy / (2 * long * cosHalf)
  const tilts: Readonly<Record<Trail['facing'], Quaternion>> = { ahead: [-half, 0, 0, cosHalf], back: [half, 0, 0, cosHalf], left: [0, 0, -half, cosHalf], right: [0, 0, half, cosHalf], same: [0, 0, -half, cosHalf] }
  setTurn(frames, n, multiply(turn, tilts[facing]))
}
