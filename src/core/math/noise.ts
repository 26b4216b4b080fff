import { NOISE_BATCH, noiseStage, runNoise } from '../kernels/kernels.ts'

/** The seed of an octave. */
export function octaveSeed(seed: number, octave: number): number {
  return (seed + Math.imul(octave, 0x3c6ef372)) | 0
}

/**
 * Fills a column with `octaves` octaves of noise(x · scale, z · scale), each of twice the frequency and half the
 * height of the one before.
 *
 * Simplex noise in two dimensions, after S. Gustavson, "Simplex noise demystified" (2012), with the
 * gradient of each lattice point drawn by an integer hash instead of a permutation table, so that
 * it never repeats. Range about −1…1, mean 0; lattice spacing about 1. Worked out by the kernel in
 * single precision, the place within its cell in double.
 */
export function fractalColumn(
  seed: number,
  x: Float64Array,
  z: Float64Array,
  count: number,
  scale: number,
  octaves: number,
  out: Float64Array,
): void {
  const stage = noiseStage()
  for (let from = 0; from < count; from += NOISE_BATCH) {
    const some = Math.min(NOISE_BATCH, count - from)
    stage.x.set(x.subarray(from, from + some))
    stage.z.set(z.subarray(from, from + some))
    runNoise(seed, octaves, some, scale, 1)
    out.set(some < NOISE_BATCH ? stage.out.subarray(0, some) : stage.out, from)
  }
}

/** {@link fractalColumn} at one point, lattice units. */
export function fractal2(seed: number, x: number, z: number, octaves: number): number {
  const stage = noiseStage()
  stage.x[0] = x
  stage.z[0] = z
  runNoise(seed, octaves, 1, 1, 1)
  return stage.out[0]
}
