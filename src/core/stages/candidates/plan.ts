import type { Sites } from '../../columns.ts'
import { enlargeSites } from '../../columns.ts'
import type { Rect } from '../../grounds/terrain.ts'
import { cos, exp, log, sin, TAU } from '../../math/portable.ts'
import { CHANNEL, draw, drawKeyOf, drawSalt } from '../../math/random.ts'
import { addressHighOf, addressLowOf, PART, whole } from './address.ts'
import type { Gathering } from './arrangement.ts'
import { powerOfTwo } from './even-pattern.ts'

/**
 * Where things could stand. A source tells all its candidates in any rectangle
 * (x, z, rank, address, draw key; weight 1), the same ones however the plane is cut up.
 */
export interface CandidateSource {
  /** Candidates per square metre with a rank below `limit`. */
  readonly density: number
  /** Ranks below this are wanted; a candidate of weight w stays while rank < limit · w. */
  readonly limit: number
  /** Distance that no two wanted candidates come nearer than, m; 0 when none is kept. */
  readonly spacing: number
  /** How far beyond a rectangle is looked for what puts candidates into it, m: that is looked for again in every rectangle. */
  readonly reach: number
  /** Whether any candidate can lie in a rectangle; missing where they lie all over. */
  bears?(rect: Rect): boolean
  /** Adds the candidates of ranks below `below` (all wanted ones at {@link limit}) to the sites, enlarging them when they do not hold all. */
  fill(rect: Rect, sites: Sites, below: number): void
}

/** Appends a candidate of weight 1, enlarging the sites when they are full. */
export function appendSite(s: Sites, x: number, z: number, rank: number, low: number, high: number, key: number): void {
  if (s.count === s.capacity) enlargeSites(s, s.count)
  const n = s.count++
  s.x[n] = x
  s.z[n] = z
  s.rank[n] = rank
  s.weight[n] = 1
  s.addressLow[n] = low
  s.addressHigh[n] = high
  s.draws[n] = key
}

/** Mean number of candidates in a cell of the random source. */
const CELL_MEAN = 16
/** e^−16. */
const EXP_MINUS_MEAN = 1.1253517471925912e-7

/** The count of a Poisson distribution of mean 16 at cumulative probability u, by its sum. */
export function poisson16(u: number): number {
  let term = EXP_MINUS_MEAN
  let sum = term
  let count = 0
  while (u >= sum && count < 80) {
    count++
    term *= CELL_MEAN / count
    sum += term
  }
  return count
}

/** The coarsest level of a superposition: cells of 16 km. */
const COARSEST = 14

/** A level of a superposed Poisson process. */
interface Level {
  readonly octave: number
  /** Side of its cells, m; a cell holds 16 candidates in the mean. */
  readonly side: number
  /** Densities at which its first and its last candidate come up, per m². */
  readonly from: number
  readonly to: number
}

/**
 * Levels of Poisson processes that together reach a density, finest first. Each finer level has four times the
 * density of the one before and only adds to it: every candidate has a density of its own from which on it is
 * there, so that a higher density only adds, over any range. All levels down to the coarsest count.
 */
export function levelsFor(density: number): Level[] {
  const levels: Level[] = []
  let from = 0
  for (let octave = COARSEST; from < density; octave--) {
    const side = powerOfTwo(octave)
    const to = from + CELL_MEAN / (side * side)
    levels.unshift({ octave, side, from, to })
    from = to
  }
  return levels
}

/** Bits of a cell's number that do not fit into the low half of an address, for the spare bits of the high half. */
function beyond(cell: number): number {
  return (cell >> 16) & 0xff
}

/**
 * A Poisson process as a superposition of levels: every square cell of each holds a Poisson-distributed
 * number of candidates, each at a uniform place. The rank of a candidate is the density from which on it
 * is there, so that thinning by rank leaves a Poisson process again.
 */
export function randomSource(seed: number, density: number): CandidateSource {
  const levels = levelsFor(density)
  const salt = drawSalt(seed)
  return {
    density,
    limit: density,
    spacing: 0,
    reach: 0,
    fill(rect, s, below) {
      for (const level of levels) if (level.from < below) fillLevel(rect, s, level, salt, Math.min(below, density))
    },
  }
}

function fillLevel(rect: Rect, s: Sites, { octave, side, from, to }: Level, salt: number, density: number): void {
  const i1 = whole(rect.x1 / side)
  const j1 = whole(rect.z1 / side)
  for (let j = whole(rect.z0 / side); j <= j1; j++)
    for (let i = whole(rect.x0 / side); i <= i1; i++) {
      const low = addressLowOf(i, j)
      const high = addressHighOf(PART.random, octave, (beyond(i) << 16) | (beyond(j) << 8))
      const count = poisson16(draw(drawKeyOf(salt, low, high | 0xff), CHANNEL.cellCount))
      for (let k = 0; k < count; k++) {
        const key = drawKeyOf(salt, low, high | k)
        const rank = from + (to - from) * draw(key, CHANNEL.rank)
        if (rank >= density) continue
        const x = (i + draw(key, CHANNEL.position)) * side
        const z = (j + draw(key, CHANNEL.positionZ)) * side
        if (!(x >= rect.x0 && x < rect.x1 && z >= rect.z0 && z < rect.z1)) continue
        appendSite(s, x, z, rank, low, high | k, key)
      }
    }
}

/** Children farther from their parent than this are put there, spreads; one in 270,000 is. */
const FARTHEST_CHILD = 5
/** Children of a parent come in batches of a mean of 16; each has room for so many names. */
const BATCH_NAMES = 80
const MOST_BATCHES = 1600
const PARENT_SHIFT = 17

/**
 * A Thomas process: parents of a superposed Poisson process, each with a Poisson-distributed number of
 * children that lie normally distributed around it. More parents only add to those that are there, and so
 * do more children to their parent's; parents themselves are not grown.
 */
export function gatheredSource(seed: number, density: number, { parents, spread }: Gathering): CandidateSource {
  const levels = levelsFor(parents)
  const salt = drawSalt(seed)
  const mean = Math.min(density / parents, CELL_MEAN * MOST_BATCHES)
  const batches = Math.ceil(mean / CELL_MEAN)
  const reach = FARTHEST_CHILD * spread
  return {
    density: mean * parents,
    limit: mean,
    spacing: 0,
    reach,
    fill(rect, s, below) {
      for (const level of levels) fillParents(rect, s, level, Math.min(below, mean))
    },
  }

  function fillParents(rect: Rect, s: Sites, { octave, side, from, to }: Level, below: number): void {
    const i1 = whole((rect.x1 + reach) / side)
    const j1 = whole((rect.z1 + reach) / side)
    for (let j = whole((rect.z0 - reach) / side); j <= j1; j++)
      for (let i = whole((rect.x0 - reach) / side); i <= i1; i++) {
        const low = addressLowOf(i, j)
        const high = addressHighOf(PART.gathered, octave, 0)
        const count = poisson16(draw(drawKeyOf(salt, low, high | 0xffffff), CHANNEL.cellCount))
        for (let k = 0; k < count; k++) {
          const parent = drawKeyOf(salt, low, high | (k << PARENT_SHIFT))
          if (from + (to - from) * draw(parent, CHANNEL.rank) >= parents) continue
          const px = (i + draw(parent, CHANNEL.position)) * side
          const pz = (j + draw(parent, CHANNEL.positionZ)) * side
          if (px < rect.x0 - reach || px > rect.x1 + reach || pz < rect.z0 - reach || pz > rect.z1 + reach) continue
          const [dx, dz] = [Math.max(0, rect.x0 - px, px - rect.x1), Math.max(0, rect.z0 - pz, pz - rect.z1)]
          // A child that comes nearer to its parent than the rectangle is cannot lie in it: dice below this throw it so near.
          const least = 1 - exp((-0.5 * (dx * dx + dz * dz)) / (spread * spread)) * (1 + 1e-9)
          addChildren(rect, s, low, high | (k << PARENT_SHIFT), px, pz, least, below)
        }
      }
  }

  function addChildren(rect: Rect, s: Sites, low: number, parent: number, px: number, pz: number, least: number, below: number): void {
    for (let batch = 0; batch < batches && CELL_MEAN * batch < below; batch++) {
      const first = parent | (batch * BATCH_NAMES)
      const count = poisson16(draw(drawKeyOf(salt, low, first), CHANNEL.cellCount))
      for (let c = 0; c < count; c++) {
        const high = first + c
        const key = drawKeyOf(salt, low, high)
        const rank = CELL_MEAN * (batch + draw(key, CHANNEL.rank))
        if (rank >= below) continue
        const thrown = draw(key, CHANNEL.childX)
        if (thrown < least) continue
        // Box and Muller (1958).
        const away = Math.min(Math.sqrt(-2 * log(1 - thrown)), FARTHEST_CHILD) * spread
        const towards = TAU * draw(key, CHANNEL.childZ)
        const x = px + away * cos(towards)
        const z = pz + away * sin(towards)
        if (!(x >= rect.x0 && x < rect.x1 && z >= rect.z0 && z < rect.z1)) continue
        appendSite(s, x, z, rank, low, high, key)
      }
    }
  }
}

/** Two sources at once; ranks become shares of each one's own wanted rank. */
export function togetherSource(first: CandidateSource, second: CandidateSource): CandidateSource {
  return {
    density: first.density + second.density,
    limit: 1,
    spacing: 0,
    reach: Math.max(first.reach, second.reach),
    fill(rect, s, below) {
      for (const { fill, limit } of [first, second]) {
        const from = s.count
        // A hair more than asked for, as shares round; who asks looks at ranks himself.
        fill(rect, s, below * limit * (1 + 1e-12))
        for (let i = from; i < s.count; i++) s.rank[i] /= limit
      }
    },
  }
}
