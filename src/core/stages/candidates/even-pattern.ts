import { EVEN_PATTERN } from './even-pattern.data.ts'

/**
 * A progressive blue-noise pattern on the unit torus: every prefix of it is well spaced, so that
 * taking a longer prefix only adds points. Made by `scripts/make-even-pattern.mjs`.
 */
export interface EvenPattern {
  readonly count: number
  readonly x: Float64Array
  readonly z: Float64Array
  /** Least distance, with wrap-around, among the first n points; index n, 0 and 1 hold 1. */
  readonly leastDistance: Float64Array
  /** Point numbers grouped by a BUCKETS × BUCKETS grid, lowest first within a bucket, and their places. */
  readonly bucketStart: Uint32Array
  readonly bucketPoints: Uint16Array
  readonly bucketX: Float64Array
  readonly bucketZ: Float64Array
}

export const BUCKET_SHIFT = 5
export const BUCKETS = 1 << BUCKET_SHIFT

let made: EvenPattern | undefined

/** The pattern, decoded on first use. */
export function evenPattern(): EvenPattern {
  made ??= decode()
  return made
}

function decode(): EvenPattern {
  const text = atob(EVEN_PATTERN)
  const count = text.length / 4
  const x = new Float64Array(count)
  const z = new Float64Array(count)
  for (let i = 0; i < count; i++) {
    x[i] = (text.charCodeAt(4 * i) + 256 * text.charCodeAt(4 * i + 1)) / 65536
    z[i] = (text.charCodeAt(4 * i + 2) + 256 * text.charCodeAt(4 * i + 3)) / 65536
  }
  const { bucketStart, bucketPoints } = bucket(x, z, BUCKETS)
  const bucketX = Float64Array.from(bucketPoints, (point) => x[point])
  const bucketZ = Float64Array.from(bucketPoints, (point) => z[point])
  return { count, x, z, leastDistance: leastDistances(x, z), bucketStart, bucketPoints, bucketX, bucketZ }
}

function bucket(x: Float64Array, z: Float64Array, side: number) {
  const bucketStart = new Uint32Array(side * side + 1)
  const of = (i: number) => Math.floor(z[i] * side) * side + Math.floor(x[i] * side)
  for (let i = 0; i < x.length; i++) bucketStart[of(i) + 1]++
  for (let b = 0; b < side * side; b++) bucketStart[b + 1] += bucketStart[b]
  const fill = bucketStart.slice()
  const bucketPoints = new Uint16Array(x.length)
  for (let i = 0; i < x.length; i++) bucketPoints[fill[of(i)]++] = i
  return { bucketStart, bucketPoints }
}

/** Running least distance of prefixes: each point is compared with those before it near by. */
function leastDistances(x: Float64Array, z: Float64Array): Float64Array {
  const least = new Float64Array(x.length + 1)
  least[0] = least[1] = 1
  const side = BUCKETS
  const cells: number[][] = Array.from({ length: side * side }, () => [])
  const distance2 = (a: number, b: number) => {
    let dx = x[a] - x[b]
    let dz = z[a] - z[b]
    dx -= Math.floor(dx + 0.5)
    dz -= Math.floor(dz + 0.5)
    return dx * dx + dz * dz
  }
  for (let i = 0; i < x.length; i++) {
    const cx = Math.floor(x[i] * side)
    const cz = Math.floor(z[i] * side)
    let best = i > 0 ? least[i] * least[i] : 1
    const reach = Math.min(side / 2, Math.ceil(Math.sqrt(best) * side))
    for (let dz = -reach; dz <= reach; dz++)
      for (let dx = -reach; dx <= reach; dx++)
        for (const other of cells[((cz + dz + side) % side) * side + ((cx + dx + side) % side)])
          best = Math.min(best, distance2(i, other))
    cells[cz * side + cx].push(i)
    if (i > 0) least[i + 1] = Math.sqrt(best)
  }
  return least
}

/** Points per spacing² that an even spread gives at full weight; the pattern keeps at least 0.63. */
export const EVEN_FILL = 0.63

/** How a spacing or density is served: a period in metres (a power of two) and a prefix length. */
export interface EvenScale {
  /** log2 of the period in metres. */
  readonly octave: number
  /** Length of the prefix; whole for a spacing, fractional for a density. */
  readonly prefix: number
}

/** The period and prefix that keep `spacing` metres between points. */
export function evenScaleOfSpacing(spacing: number): EvenScale {
  const { count, leastDistance } = evenPattern()
  const octave = floorLog2(spacing / leastDistance[count])
  const wanted = spacing / powerOfTwo(octave)
  // leastDistance falls with n: the largest n that still keeps `wanted`.
  let low = 1
  let high = count
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (leastDistance[middle] >= wanted) low = middle
    else high = middle - 1
  }
  return { octave, prefix: low }
}

/** The period and prefix that give `density` points per square metre. */
export function evenScaleOfDensity(density: number): EvenScale {
  const { count } = evenPattern()
  // The largest period, a power of two, whose prefix still fits: density · 4^octave ≤ count.
  let octave = floorLog2(Math.sqrt(count / density))
  while (density * powerOfTwo(2 * octave) > count) octave--
  return { octave, prefix: density * powerOfTwo(2 * octave) }
}

/** floor(log2(value)) by doubling, the same in every engine. */
export function floorLog2(value: number): number {
  let exponent = 0
  let power = 1
  while (power * 2 <= value) {
    power *= 2
    exponent++
  }
  while (power > value) {
    power /= 2
    exponent--
  }
  return exponent
}

/** 2 to a whole exponent, exactly. */
export function powerOfTwo(exponent: number): number {
  let power = 1
  for (let i = 0; i < exponent; i++) power *= 2
  for (let i = 0; i > exponent; i--) power /= 2
  return power
}
