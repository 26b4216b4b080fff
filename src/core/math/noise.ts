import { risen } from './portable.ts'
import { mix } from './random.ts'

/**
 * Simplex noise in two dimensions, after S. Gustavson, "Simplex noise demystified" (2012), with the
 * gradient of each lattice point drawn by an integer hash instead of a permutation table, so that
 * it never repeats. Range about −1…1, mean 0; lattice spacing about 1.
 */
const SKEW = 0.3660254037844386
const UNSKEW = 0.21132486540518713

// Sixteen unit directions, 22.5° apart, as x and y columns.
const C1 = 0.9238795325112867
const C2 = 0.7071067811865476
const C3 = 0.3826834323650898
const DIRECTION_X = Float64Array.of(1, C1, C2, C3, 0, -C3, -C2, -C1, -1, -C1, -C2, -C3, 0, C3, C2, C1)
const DIRECTION_Y = Float64Array.of(0, C3, C2, C1, 1, C1, C2, C3, 0, -C3, -C2, -C1, -1, -C1, -C2, -C3)

/** Height that brings the sum of the three corners to about ±1. */
const NORMALISE = 99.2

/**
 * Adds one octave to a column: out[k] += height · noise(x[k] · scale, z[k] · scale). The three
 * corners are written out in the loop, so that no double leaves its register.
 */
export function addSimplexOctave(
  seed: number,
  x: Float64Array,
  z: Float64Array,
  count: number,
  scale: number,
  height: number,
  out: Float64Array,
): void {
  const gain = NORMALISE * height
  // What a loop reads often is local: engines look a module's constants up at every use.
  const skew = SKEW
  const unskew = UNSKEW
  const directionX = DIRECTION_X
  const directionY = DIRECTION_Y
  // Sites come in clusters: the gradients of a cell serve until the next cell is met.
  let cellI = -0.5
  let cellJ = -0.5
  let g00 = 0
  let g10 = 0
  let g01 = 0
  let g11 = 0
  for (let k = 0; k < count; k++) {
    const px = x[k] * scale
    const pz = z[k] * scale
    const s = (px + pz) * skew
    const i = Math.floor(px + s)
    const j = Math.floor(pz + s)
    if (i !== cellI || j !== cellJ) {
      cellI = i
      cellJ = j
      const a = i | 0
      const b = j | 0
      g00 = gradientOf(seed, a, b)
      g10 = gradientOf(seed, a + 1, b)
      g01 = gradientOf(seed, a, b + 1)
      g11 = gradientOf(seed, a + 1, b + 1)
    }
    const t = (i + j) * unskew
    const x0 = px - i + t
    const z0 = pz - j + t
    // 1 where x0 ≥ z0, else 0, and out of reach counts 0: a branch here would be guessed wrong half the time.
    const i1 = (Math.floor(x0 - z0) + 1) | 0
    const x1 = x0 - i1 + unskew
    const z1 = z0 - (1 - i1) + unskew
    const x2 = x0 - 1 + 2 * unskew
    const z2 = z0 - 1 + 2 * unskew
    const g1 = g01 ^ ((g01 ^ g10) & -i1)
    let r0 = 0.5 - x0 * x0 - z0 * z0
    let r1 = 0.5 - x1 * x1 - z1 * z1
    let r2 = 0.5 - x2 * x2 - z2 * z2
    r0 = risen(r0)
    r1 = risen(r1)
    r2 = risen(r2)
    out[k] +=
      gain *
      (r0 * r0 * (r0 * r0) * (directionX[g00] * x0 + directionY[g00] * z0) +
        r1 * r1 * (r1 * r1) * (directionX[g1] * x1 + directionY[g1] * z1) +
        r2 * r2 * (r2 * r2) * (directionX[g11] * x2 + directionY[g11] * z2))
  }
}

function gradientOf(seed: number, i: number, j: number): number {
  return mix((Math.imul(i, 0x27d4eb2f) ^ Math.imul(j, 0x165667b1) ^ seed) | 0) & 15
}

/** The seed of an octave. */
export function octaveSeed(seed: number, octave: number): number {
  return (seed + Math.imul(octave, 0x3c6ef372)) | 0
}

/** Fills a column with `octaves` octaves, each of twice the frequency and half the height of the one before. */
export function fractalColumn(
  seed: number,
  x: Float64Array,
  z: Float64Array,
  count: number,
  scale: number,
  octaves: number,
  out: Float64Array,
): void {
  out.fill(0, 0, count)
  let height = 1
  let frequency = scale
  for (let o = 0; o < octaves; o++) {
    addSimplexOctave(octaveSeed(seed, o), x, z, count, frequency, height, out)
    height *= 0.5
    frequency *= 2
  }
}

const one = { x: new Float64Array(1), z: new Float64Array(1), out: new Float64Array(1) }

/** {@link fractalColumn} at one point, lattice units. */
export function fractal2(seed: number, x: number, z: number, octaves: number): number {
  one.x[0] = x
  one.z[0] = z
  fractalColumn(seed, one.x, one.z, 1, 1, octaves, one.out)
  return one.out[0]
}
