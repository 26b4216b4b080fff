import { length, number, phrase, share } from '../../kinds.ts'
import { NOISE_BATCH, noiseStage, runNoise, runPatches } from '../../kernels/kernels.ts'
import { fractalColumn, octaveSeed } from '../../math/noise.ts'
import { saturate, smoothstep } from '../../math/portable.ts'
import type { Rect } from '../../grounds/terrain.ts'
import type { Sites } from '../../columns.ts'
import type { GroundBlock } from '../../grounds/blocks.ts'
import type { Bound } from '../bounds.ts'
import { ANYTHING, EVERYTHING, NOTHING, radiusOf } from '../bounds.ts'
import { bounded, defineCondition, fixed } from './define.ts'

/** Sites that the covered share is made true with. */
const QUANTILE_SITES = 32768

interface Noise {
  readonly seed: number
  /** Lattice cells per metre. */
  readonly scale: number
  readonly octaves: number
}

/** Halvings that find a threshold, to a few millionths. */
const HALVINGS = 20

/**
 * The middle of a ramp of half-width `ramp` that weighs a rectangle by just `coverage` in the mean,
 * over the R2 low-discrepancy sequence (M. Roberts, 2018; the plastic number's powers).
 */
function coverageThreshold(noise: Noise, bounds: Rect, coverage: number, ramp: number): number {
  if (coverage <= 0) return Infinity
  if (coverage >= 1) return -Infinity
  const values = sortedValues(noise, bounds)
  // The octaves together stay within ±2.
  let low = -2 - ramp
  let high = 2 + ramp
  for (let k = 0; k < HALVINGS; k++) {
    const middle = 0.5 * (low + high)
    if (meanAbove(values, middle, ramp) > coverage) low = middle
    else high = middle
  }
  return 0.5 * (low + high)
}

/** Mean weight of sorted values under a ramp around a threshold. */
function meanAbove(values: Float64Array, threshold: number, ramp: number): number {
  const whole = firstAtLeast(values, threshold + ramp)
  let sum = values.length - whole
  for (let i = firstAtLeast(values, threshold - ramp); i < whole; i++) sum += smoothstep(((values[i] - threshold) * 0.5) / ramp + 0.5)
  return sum / values.length
}

/** Where the first of sorted values that is no smaller than `value` stands. */
function firstAtLeast(values: Float64Array, value: number): number {
  let low = 0
  let high = values.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (values[middle] < value) low = middle + 1
    else high = middle
  }
  return low
}

// Kept from one preparing to the next: only few things that change a planting change its noise.
const MOST_KEPT = 48
const kept = new Map<string, Float64Array>()

function sortedValues({ seed, scale, octaves }: Noise, { x0, z0, x1, z1 }: Rect): Float64Array {
  const name = [seed, scale, octaves, x0, z0, x1, z1].join(' ')
  const found = kept.get(name)
  if (found) return found
  const x = new Float64Array(QUANTILE_SITES)
  const z = new Float64Array(QUANTILE_SITES)
  for (let i = 0; i < QUANTILE_SITES; i++) {
    x[i] = x0 + ((0.5 + i * 0.7548776662466927) % 1) * (x1 - x0)
    z[i] = z0 + ((0.5 + i * 0.5698402909980532) % 1) * (z1 - z0)
  }
  const values = new Float64Array(QUANTILE_SITES)
  fractalColumn(seed, x, z, QUANTILE_SITES, scale, octaves, values)
  values.sort()
  const [oldest] = kept.keys()
  if (kept.size >= MOST_KEPT) kept.delete(oldest)
  kept.set(name, values)
  return values
}

/** A noise over the ground whose values are as evenly spread over 0…1 as dice are. */
export function uniformNoise(seed: number, scale: number, bounds: Rect): (sites: Sites, out: Float64Array) => void {
  const noise = { seed, scale, octaves: 1 }
  const sorted = sortedValues(noise, bounds)
  const starts = startsIn(sorted)
  return ({ x, z, count }, out) => {
    fractalColumn(seed, x, z, count, scale, noise.octaves, out)
    rankAmong(sorted, starts, out, count)
  }
}

/** Equal parts of −1…1 for which is kept where their values begin. */
const PARTS = 4096

function startsIn(sorted: Float64Array): Uint32Array {
  return Uint32Array.from({ length: PARTS + 1 }, (_, part) => firstAtLeast(sorted, (2 * part) / PARTS - 1))
}

/** Turns values into the shares of the sorted ones that are below them. */
function rankAmong(sorted: Float64Array, starts: Uint32Array, values: Float64Array, count: number): void {
  for (let i = 0; i < count; i++) {
    const value = values[i]
    const part = Math.max(0, Math.min(PARTS - 1, Math.floor((value + 1) * (0.5 * PARTS))))
    // A part to each side, as the number of the part rounds.
    let low = part > 0 ? starts[part - 1] : 0
    let high = part < PARTS - 1 ? starts[part + 2] : sorted.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (sorted[middle] < value) low = middle + 1
      else high = middle
    }
    values[i] = low / (sorted.length + 1)
  }
}

/** Half-width of the ramp around the threshold, in noise units (the noise spans about ±1). */
function rampOf(contrast: number): number {
  return 0.6 * (1 - saturate(contrast)) + 1e-6
}

export const patchiness = defineCondition({
  kind: 'patchiness',
  label: 'Patchiness',
  subject: 'pattern',
  help: 'Leaves natural patches and gaps.',
  flat: true,
  params: {
    size: length(6, { label: 'Patch size', help: 'Typical width of a patch.', min: 0.1, max: 2000, step: 0.5 }),
    coverage: share(0.5, { label: 'Coverage', help: 'Share of the ground that is covered, thinned rims counted by how much grows there.' }),
    contrast: share(0.6, {
      label: 'Contrast',
      help: '100 % gives patches with hard edges, 0 % a gentle thinning between them.',
    }),
    octaves: number('count', 2, { label: 'Detail', help: 'How many finer layers ruffle the edges.', min: 1, max: 4 }),
    shift: number('count', 0, {
      label: 'Another pattern',
      help: 'Any other number gives other patches of the same kind.',
      min: 0,
      max: 9999,
    }),
  },
  sentence: () => phrase`in patches of ${{ param: 'size' }} over ${{ param: 'coverage' }} of the ground`,
  prepare(p, { terrain, seed }) {
    const scale = 1 / p.size
    const salted = (seed + Math.imul(p.shift, 0x632be5ab)) | 0
    const ramp = rampOf(p.contrast)
    const threshold = coverageThreshold({ seed: salted, scale, octaves: p.octaves }, terrain.bounds, p.coverage, ramp)
    const perRamp = 0.5 / ramp
    const seeds = Int32Array.from({ length: p.octaves }, (_, o) => octaveSeed(salted, o))
    const patches = { seeds, scale, threshold, perRamp }
    return bounded((s) => weigh(s, patches), (block) => patchesIn(block, patches))
  },
  explain(p, { terrain, seed }, { x, z }) {
    const noise = { seed: (seed + Math.imul(p.shift, 0x632be5ab)) | 0, scale: 1 / p.size, octaves: p.octaves }
    const value = new Float64Array(1)
    fractalColumn(noise.seed, Float64Array.of(x), Float64Array.of(z), 1, noise.scale, noise.octaves, value)
    const threshold = coverageThreshold(noise, terrain.bounds, p.coverage, rampOf(p.contrast))
    return `${value[0] >= threshold ? 'in a patch' : 'between patches'}: noise ${fixed(value[0], 2)}, patches above ${Number.isFinite(threshold) ? fixed(threshold, 2) : threshold < 0 ? 'anything' : 'everything'}`
  },
})

interface Patches {
  /** Seed of each octave. */
  readonly seeds: Int32Array
  readonly scale: number
  readonly threshold: number
  readonly perRamp: number
}

// At module level: made anew by every preparing, it would be compiled and optimised anew each time.
function weigh(s: Sites, patches: Patches): void {
  for (let from = 0; from < s.count; from += NOISE_BATCH) weighBatch(s, from, Math.min(NOISE_BATCH, s.count - from), patches)
}

function weighBatch(s: Sites, from: number, count: number, { seeds, scale, threshold, perRamp }: Patches): void {
  const { x, z, out } = noiseStage()
  const { weight } = s
  x.set(s.x.subarray(from, from + count))
  z.set(s.z.subarray(from, from + count))
  runPatches(seeds[0], seeds.length, count, scale, threshold, perRamp)
  for (let k = 0; k < count; k++) weight[from + k] *= out[k]
}

/**
 * The steepest that an octave of height 1 and frequency 1 can be: 7.35 by the greatest |(½ − r²)⁴ g − 8 (½ − r²)³ (g · d) d|
 * summed over the three corners of a cell, for any gradients, times what the kernel normalises by; and a little for rounding.
 */
const STEEPEST_NOISE = 7.45
/** Octaves that change more than so much within a block tell nothing of it. */
const MOST_CHANGE = 1.5

/** What patches leave of a block: of each octave, the values at the middles of its four quarters, and how far it can stray from the nearest. */
function patchesIn(block: GroundBlock, { seeds, scale, threshold, perRamp }: Patches): Bound {
  const { x, z, out } = noiseStage()
  const stray = STEEPEST_NOISE * scale * 0.5 * radiusOf(block)
  if (stray > MOST_CHANGE) return threshold === Infinity ? NOTHING : threshold === -Infinity ? EVERYTHING : ANYTHING
  const [wide, deep] = [block.x1 - block.x0, block.z1 - block.z0]
  const low = [0, 0, 0, 0]
  const high = [0, 0, 0, 0]
  let height = 1
  let frequency = scale
  for (let o = 0; o < seeds.length; o++) {
    for (let q = 0; q < 4; q++) {
      x[q] = block.x0 + (q & 1 ? 0.75 : 0.25) * wide
      z[q] = block.z0 + (q & 2 ? 0.75 : 0.25) * deep
    }
    runNoise(seeds[o], 1, 4, frequency, height)
    // Twice the frequency at half the height is as steep; and no octave leaves ±1.
    for (let q = 0; q < 4; q++) {
      low[q] += Math.max(-height, out[q] - stray)
      high[q] += Math.min(height, out[q] + stray)
    }
    height *= 0.5
    frequency *= 2
  }
  const slack = 1e-5
  return { low: smoothstep((Math.min(...low) - slack - threshold) * perRamp + 0.5), high: smoothstep((Math.max(...high) + slack - threshold) * perRamp + 0.5) }
}
