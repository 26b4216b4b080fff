import type { Sites } from '../../columns.ts'
import { enlargeSites } from '../../columns.ts'
import type { Rect } from '../../grounds/terrain.ts'
import type { LoopKernels } from '../../kernels/kernel-set.ts'
import { freeBehind, keptFor, loopKernels } from '../../kernels/kernels.ts'
import { drawSalt, keyOfSalted, mix, saltedHigh, unitOf } from '../../math/random.ts'
import { addressHighOf, addressLowOf, PART, whole } from './address.ts'
import type { EvenScale } from './even-pattern.ts'
import { BUCKET_SHIFT, BUCKETS, evenPattern, powerOfTwo } from './even-pattern.ts'
import type { CandidateSource } from './plan.ts'

/** Buckets that come so near to a rectangle count as meeting it, in their sides. */
const SLACK = 1e-6

/**
 * The even pattern repeated over the plane, shifted and turned by the seed (one of the eight
 * symmetries of the square, and any shift), with a rank of point number + a dither per copy.
 */
export function evenSource(seed: number, scale: EvenScale): CandidateSource {
  const pattern = evenPattern()
  const period = powerOfTwo(scale.octave)
  const limit = scale.prefix
  const points = Math.ceil(limit)
  const symmetry = mix(seed) & 7
  const shiftX = mix(seed ^ 0x51ed270b) / 4294967296
  const shiftZ = mix(seed ^ 0x2545f491) / 4294967296
  const bucketSide = period / BUCKETS
  const slack = SLACK * bucketSide
  const flipX = (symmetry & 1) !== 0
  const flipZ = (symmetry & 2) !== 0
  const swap = (symmetry & 4) !== 0
  const { bucketStart, bucketPoints } = pattern
  const place = (flip: boolean) => (p: number) => (flip ? 1 - p : p) * period
  const alongX = (swap ? pattern.bucketZ : pattern.bucketX).map(place(flipX))
  const alongZ = (swap ? pattern.bucketX : pattern.bucketZ).map(place(flipZ))
  const highOfOctave = addressHighOf(PART.even, scale.octave, 0)
  // What a point's draw key is made of besides the cell of its copy.
  const salt = drawSalt(seed)
  const salted = Int32Array.from(pattern.bucketPoints, (point) => saltedHigh(salt, highOfOctave | point))
  const copies: Copies = { period, shiftX, shiftZ, bucketSide, slack, flipX, flipZ, swap, bucketStart, bucketPoints, alongX, alongZ, highOfOctave, salted, fullest: fullestBucket(bucketStart, bucketPoints, points) }
  return {
    density: limit / (period * period),
    limit,
    spacing: pattern.leastDistance[points] * period,
    reach: 0,
    fill(rect, s, below) {
      const walk = walkOver(rect, copies, Math.min(below, limit))
      if (loopKernels && walk.most >= LEAST_COPIED) fillByKernel(loopKernels, walk, s, copies)
      else fillEven(walk, s, copies)
    },
  }
}

/** How the pattern lies over the plane. */
interface Copies {
  readonly period: number
  readonly shiftX: number
  readonly shiftZ: number
  readonly bucketSide: number
  readonly slack: number
  readonly flipX: boolean
  readonly flipZ: boolean
  readonly swap: boolean
  readonly bucketStart: Uint32Array
  readonly bucketPoints: Uint16Array
  /** Places of the points from the corner of a copy, m. */
  readonly alongX: Float64Array
  readonly alongZ: Float64Array
  readonly highOfOctave: number
  /** See {@link saltedHigh}. */
  readonly salted: Int32Array
  /** Most wanted points of a bucket. */
  readonly fullest: number
}

function fullestBucket(starts: Uint32Array, bucketPoints: Uint16Array, points: number): number {
  let fullest = 0
  for (let b = 0; b + 1 < starts.length; b++) {
    let k = starts[b]
    while (k < starts[b + 1] && bucketPoints[k] < points) k++
    fullest = Math.max(fullest, k - starts[b])
  }
  return fullest
}

/** Of fewer candidates, moving them out of the kernels' memory takes longer than their plain loop. */
const LEAST_COPIED = 48

/** The buckets of the symmetric, shifted pattern that meet a rectangle. */
interface Walk {
  readonly rect: Rect
  /** Ranks below this are wanted. */
  readonly limit: number
  readonly b0: number
  readonly b1: number
  readonly c0: number
  readonly c1: number
  /** No more candidates are in it. */
  readonly most: number
}

// A flip can put a point of a bucket's near edge onto its far edge, so buckets that only touch the rectangle count.
function walkOver(rect: Rect, { period, shiftX, shiftZ, fullest }: Copies, limit: number): Walk {
  const b0 = whole((rect.x0 / period - shiftX) * BUCKETS - SLACK)
  const b1 = whole((rect.x1 / period - shiftX) * BUCKETS + SLACK)
  const c0 = whole((rect.z0 / period - shiftZ) * BUCKETS - SLACK)
  const c1 = whole((rect.z1 / period - shiftZ) * BUCKETS + SLACK)
  return { rect, limit, b0, b1, c0, c1, most: (b1 - b0 + 1) * (c1 - c0 + 1) * fullest }
}

/** Fills by the kernel, which has the pattern's tables in its memory as long as nobody else puts his there. */
function fillByKernel(kernels: LoopKernels, { rect, limit, b0, b1, c0, c1, most }: Walk, s: Sites, copies: Copies): void {
  const { period, shiftX, shiftZ, slack, flipX, flipZ, swap, highOfOctave } = copies
  const { at, buffer, fresh } = keptFor(copies)
  const { bucketStart, bucketPoints, alongX, alongZ, salted } = copies
  const points = alongX.length
  const [x, z] = [at, at + 8 * points]
  const salts = z + 8 * points
  const starts = salts + 4 * points
  const numbers = starts + 4 * bucketStart.length
  if (fresh) {
    new Float64Array(buffer, x, points).set(alongX)
    new Float64Array(buffer, z, points).set(alongZ)
    new Int32Array(buffer, salts, points).set(salted)
    new Uint32Array(buffer, starts, bucketStart.length).set(bucketStart)
    new Uint16Array(buffer, numbers, points).set(bucketPoints)
  }
  const turns = (flipX ? 1 : 0) | (flipZ ? 2 : 0) | (swap ? 4 : 0)
  const free = freeBehind(0, 36 * most)
  const column = (number: number) => free.at + 8 * most * Math.min(number, 3) + 4 * most * Math.max(number - 3, 0)
  const found = kernels.even(
    rect.x0, rect.z0, rect.x1, rect.z1, b0, b1, c0, c1, BUCKET_SHIFT, turns, period, shiftX, shiftZ, slack, limit, highOfOctave,
    starts, numbers, x, z, salts, column(0), column(1), column(2), column(3), column(4), column(5),
  )
  const { count } = s
  while (s.capacity < count + found) enlargeSites(s, count)
  s.x.set(new Float64Array(free.buffer, column(0), found), count)
  s.z.set(new Float64Array(free.buffer, column(1), found), count)
  s.rank.set(new Float64Array(free.buffer, column(2), found), count)
  s.addressLow.set(new Uint32Array(free.buffer, column(3), found), count)
  s.addressHigh.set(new Uint32Array(free.buffer, column(4), found), count)
  s.draws.set(new Int32Array(free.buffer, column(5), found), count)
  s.weight.fill(1, count, count + found)
  s.count = count + found
}

// At module level: made anew by every preparing, it would be compiled and optimised anew each time.
function fillEven({ rect: { x0, z0, x1, z1 }, limit, b0, b1, c0, c1, most }: Walk, s: Sites, copies: Copies): void {
  const points = Math.ceil(limit)
  const { period, shiftX, shiftZ, bucketSide, slack, flipX, flipZ, swap, bucketStart, bucketPoints, alongX, alongZ, highOfOctave, salted } = copies
  let { count } = s
  while (s.capacity < count + most) enlargeSites(s, count)
  const { x: columnX, z: columnZ, rank: ranks, weight, addressLow: lows, addressHigh: highs, draws } = s
  for (let c = c0; c <= c1; c++) {
    const cellZ = c >> BUCKET_SHIFT
    const inZ = c - cellZ * BUCKETS
    const originZ = (cellZ + shiftZ) * period
    const lowZ = originZ + inZ * bucketSide
    const fullZ = lowZ > z0 + slack && lowZ + bucketSide < z1 - slack
    for (let b = b0; b <= b1; b++) {
      const cellX = b >> BUCKET_SHIFT
      const inX = b - cellX * BUCKETS
      const originX = (cellX + shiftX) * period
      const lowX = originX + inX * bucketSide
      const full = fullZ && lowX > x0 + slack && lowX + bucketSide < x1 - slack
      const u = flipX ? BUCKETS - 1 - inX : inX
      const v = flipZ ? BUCKETS - 1 - inZ : inZ
      const bucket = swap ? u * BUCKETS + v : v * BUCKETS + u
      const low = addressLowOf(cellX, cellZ)
      const end = bucketStart[bucket + 1]
      for (let k = bucketStart[bucket]; k < end; k++) {
        const point = bucketPoints[k]
        if (point >= points) break
        const x = originX + alongX[k]
        const z = originZ + alongZ[k]
        if (!full && !(x >= x0 && x < x1 && z >= z0 && z < z1)) continue
        const key = keyOfSalted(salted[k], low)
        const rank = point + unitOf(key)
        if (rank >= limit) continue
        columnX[count] = x
        columnZ[count] = z
        ranks[count] = rank
        lows[count] = low
        highs[count] = highOfOctave | point
        draws[count] = key
        count++
      }
    }
  }
  weight.fill(1, s.count, count)
  s.count = count
}
