import type { Rect } from '../../grounds/terrain.ts'
import { distinctWords } from '../../identity.ts'
import { CHANNEL, draw, drawKeyOf, drawSalt } from '../../math/random.ts'
import type { Outline } from '../../meadow.ts'
import type { AlongLine, OnLine } from '../../outlines/along.ts'
import { alongOutline } from '../../outlines/along.ts'
import { outlineLength } from '../../outlines/measure.ts'
import type { CandidateSource } from './plan.ts'
import { appendSite } from './plan.ts'

/** How candidates lie along lines. */
export interface Strewing {
  /** Metres of line to each, in the mean. */
  readonly every: number
  /** How far to the sides they come to lie at most, m. */
  readonly toSides: number
  /** Whether as many lie far off as near, or ever fewer. */
  readonly profile: 'even' | 'middle'
  readonly sides: 'both' | 'left' | 'right'
  /** Along the line, whether each stretch gets its share, or chance alone decides. */
  readonly placing: 'even' | 'random'
}

/** Stretches that a line is cut into, m; each has candidates of its own, the first of which are there at any density. */
const STRETCH = 64
/** Most stretches of a line, and most candidates in one: their numbers share the low half of an address. */
const MOST_STRETCHES = 1 << 16
const MOST_IN_STRETCH = 1 << 16

/** A stretch of a line. */
interface Stretch {
  readonly along: AlongLine
  readonly number: number
  /** High half of the addresses of its line. */
  readonly high: number
  /** What its candidates can come to lie in. */
  readonly box: Rect
  /** x z, rank, low half, draw key of each; made when first asked for. */
  members: Float64Array | null
}

const MEMBER = 5

/**
 * Candidates along lines, with spread to the sides. Each stretch of a line has a list of them whose first ones are
 * there at any density, so that more only adds; laid out evenly, the first 2ᵏ lie one in each of 2ᵏ equal parts: a van
 * der Corput sequence with nested scrambling (Owen 1995), by the hash of Laine & Karras (2011).
 */
export function sourceAlongLines(outlines: readonly Outline[], seed: number, strewing: Strewing): CandidateSource & { readonly count: number } {
  const salt = drawSalt(seed ^ 0x2f6b1d43)
  const limit = Math.min(STRETCH / strewing.every, MOST_IN_STRETCH)
  const stretches = stretchesOf(outlines, strewing.toSides)
  const length = outlines.reduce((sum, outline) => sum + outlineLength(outline), 0)
  const covered = Math.max(1e-6, 2 * strewing.toSides * length + Math.PI * strewing.toSides ** 2 + 1e-2 * length)
  const count = length / strewing.every
  return {
    density: count / covered,
    count,
    limit,
    spacing: 0,
    reach: 0,
    bears: (rect) => stretches.some(({ box }) => overlap(box, rect)),
    fill(rect, s, below) {
      for (const stretch of stretches) {
        if (!overlap(stretch.box, rect)) continue
        const own = (stretch.members ??= membersOf(stretch, salt, limit, strewing))
        for (let k = 0; k < own.length; k += MEMBER) {
          const [x, z, rank, low, key] = own.subarray(k, k + MEMBER)
          if (rank < below && x >= rect.x0 && x < rect.x1 && z >= rect.z0 && z < rect.z1) appendSite(s, x, z, rank, low, stretch.high, key)
        }
      }
    },
  }
}

/** How far a place may lie from a line for anything to come to lie there, m. */
export function reachOfLines({ toSides }: Pick<Strewing, 'toSides'>): number {
  return toSides + 1e-6
}

/** The stretches of all lines, each line with an address half of its own that hangs on its name alone as far as no two agree. */
function stretchesOf(outlines: readonly Outline[], toSides: number): Stretch[] {
  const lines = outlines.flatMap((outline) => alongOutline(outline).map((along, number) => ({ along, name: `${outline.id} ${number}` })))
  const highs = distinctWords(lines.map(({ name }) => name))
  return lines.flatMap(({ along }, line) => {
    const many = Math.min(MOST_STRETCHES, Math.ceil(along.length / STRETCH))
    return Array.from({ length: many }, (_, k): Stretch => ({ along, number: k, high: highs[line], box: boxOf(along, k, toSides), members: null }))
  })
}

/** Steps in which a stretch is gone along to see what it covers. */
const STEPS = 64

function boxOf(along: AlongLine, number: number, toSides: number): Rect {
  const on: OnLine = { x: 0, z: 0, wayX: 0, wayZ: 0 }
  const box = { x0: Infinity, z0: Infinity, x1: -Infinity, z1: -Infinity }
  for (let k = 0; k <= STEPS; k++) {
    along.at(STRETCH * (number + k / STEPS), on)
    box.x0 = Math.min(box.x0, on.x)
    box.x1 = Math.max(box.x1, on.x)
    box.z0 = Math.min(box.z0, on.z)
    box.z1 = Math.max(box.z1, on.z)
  }
  // Between two steps the line strays no farther than half of one.
  const by = toSides + 0.5 * (STRETCH / STEPS)
  return { x0: box.x0 - by, z0: box.z0 - by, x1: box.x1 + by, z1: box.z1 + by }
}

function membersOf({ along, number, high }: Stretch, salt: number, limit: number, { toSides, profile, sides, placing }: Strewing): Float64Array {
  const many = Math.ceil(limit)
  const out = new Float64Array(MEMBER * many)
  const scrambled = drawKeyOf(salt, number << 16, high)
  const on: OnLine = { x: 0, z: 0, wayX: 0, wayZ: 0 }
  let n = 0
  for (let k = 0; k < many; k++) {
    const low = ((number << 16) | k) >>> 0
    const key = drawKeyOf(salt, low, high)
    const rank = k + draw(key, CHANNEL.rank)
    const share = placing === 'even' ? scrambledShare(k, scrambled) : draw(key, CHANNEL.position)
    const metres = STRETCH * (number + share)
    if (rank >= limit || metres > along.length) continue
    along.at(metres, on)
    const off = toSides * offsetOf(draw(key, CHANNEL.positionZ), profile, sides)
    // Left is to the north of one who goes east.
    out.set([on.x + on.wayZ * off, on.z - on.wayX * off, rank, low, key], n)
    n += MEMBER
  }
  return out.slice(0, n)
}

/** From the line to the side, −1…1: left is above 0. */
function offsetOf(u: number, profile: Strewing['profile'], sides: Strewing['sides']): number {
  const [share, left] = u < 0.5 ? [2 * u, true] : [2 * u - 1, false]
  // Falling straight from the line to nothing at the rim.
  const far = profile === 'even' ? share : 1 - Math.sqrt(1 - share)
  return (sides === 'both' ? left : sides === 'left') ? far : -far
}

/** The k-th number of a van der Corput sequence with nested scrambling, 0…1. */
function scrambledShare(k: number, seed: number): number {
  let x = (k + seed) | 0
  for (const by of [0x6c50b47c, 0xb82f1e52, 0xc7afe638, 0x8d22f6e6]) x ^= Math.imul(x, by)
  return reversed(x) / 4294967296
}

/** The bits of a 32-bit number in the other order. */
function reversed(value: number): number {
  let x = value
  x = ((x >>> 1) & 0x55555555) | ((x & 0x55555555) << 1)
  x = ((x >>> 2) & 0x33333333) | ((x & 0x33333333) << 2)
  x = ((x >>> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4)
  x = ((x >>> 8) & 0x00ff00ff) | ((x & 0x00ff00ff) << 8)
  return ((x >>> 16) | (x << 16)) >>> 0
}

function overlap(a: Rect, b: Rect): boolean {
  return a.x0 < b.x1 && b.x0 < a.x1 && a.z0 < b.z1 && b.z0 < a.z1
}
