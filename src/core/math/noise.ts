import { NOISE_BATCH, noiseStage, runNoise } from '../kernels/kernels.ts'

/**
 * Adds one octave to a column: out[k] += height · noise(x[k] · scale, z[k] · scale).
 *
 * Simplex noise in two dimensions, after S. Gustavson, "Simplex noise demystified" (2012), with the
 * gradient of each lattice point drawn by an integer hash instead of a permutation table, so that
 * it never repeats. Range about −1…1, mean 0; lattice spacing about 1. Worked out by the kernel in
 * single precision, the place within its cell in double.
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
  const stage = noiseStage()
  for (let from = 0; from < count; from += NOISE_BATCH) {
    const some = Math.min(NOISE_BATCH, count - from)
    for (let k = 0; k < some; k++) {
      stage.x[k] = x[from + k]
      stage.z[k] = z[from + k]
    }
    runNoise(seed, some, scale, height)
    for (let k = 0; k < some; k++) out[from + k] += stage.out[k]
  }
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
