import { exp, log } from '../../math/portable.ts'

/**
 * The dial from gathered over random to even. Its number is the Clark–Evans index R (1954): mean
 * distance to the nearest neighbour over 1/(2·√density), that of a random pattern.
 *
 * Above 1 a share of the candidates comes from the even pattern and the rest is random; below 1 a
 * share gathers around parents (a Thomas process) and the rest is random. Both parts only gain when
 * the density grows, so that nothing ever moves.
 */
export interface Gathering {
  /** Share of the candidates that gather around parents. */
  readonly share: number
  /** Parents per m². */
  readonly parents: number
  /** Standard deviation of the children's distance along each axis, m. */
  readonly spread: number
}

/** R of mixtures of the even pattern (share 0, 0.1, … 1) with random candidates, measured on 40,000 of each. */
const EVEN_MIXTURES = [1, 1.003, 1.008, 1.029, 1.073, 1.142, 1.235, 1.354, 1.485, 1.636, 1.806]

/** The share of even candidates that gives an index of 1 or more. */
export function evenShareOf(index: number): number {
  const last = EVEN_MIXTURES.length - 1
  if (index <= EVEN_MIXTURES[0]) return 0
  for (let i = 1; i <= last; i++)
    if (index <= EVEN_MIXTURES[i]) return (i - 1 + (index - EVEN_MIXTURES[i - 1]) / (EVEN_MIXTURES[i] - EVEN_MIXTURES[i - 1])) / last
  return 1
}

/** Standard deviations across a clump: 86 % of it lies within. */
const ACROSS = 4
/** Parents in a square of the spread: few for tight gatherings with wide gaps, more for loose ones. */
const PARENTS = { fewest: 1e-7, tight: 0.012, loose: 0.11 }

/**
 * The gathering that gives an index below 1 at a density, for clumps of a width, m. Where clumps of
 * that width and looseness are not gathered enough they are set farther apart. The clumps' width is
 * as asked for at any density, and neither parents, children of each nor the random rest become fewer
 * when it grows: so nothing moves and nothing goes.
 */
export function gatheringOf(index: number, density: number, clump: number, looseness: number): Gathering {
  const spread = clump / ACROSS
  const m = density * spread * spread
  // So loose that even where very many stand in a clump the index comes out: with more, parents would have to go as the density grows.
  const wanted = PARENTS.tight + (PARENTS.loose - PARENTS.tight) * looseness
  const most = parentsFor(index - SPARE, CROWDED, wanted)
  const s = parentsFor(index, m, most)
  const share = s < most ? 1 : 1 - bisect(0, 1, (random) => indexOfGathering(1 - random, m, most) < index)
  return { share, parents: s / (spread * spread), spread }
}

/** Instances in a square of the spread from which on more hardly change the index. */
const CROWDED = 300
/** Kept between the index there and the one asked for, so that a random rest is left that can grow. */
const SPARE = 0.02

/** Parents in a square of the spread, at most so many, of which m instances have the index or a lower one. */
function parentsFor(index: number, m: number, most: number): number {
  if (indexOfGathering(1, m, most) <= index) return most
  // They change over orders of magnitude.
  return exp(bisect(log(PARENTS.fewest), log(most), (s) => indexOfGathering(1, m, exp(s)) < index))
}

/** Where a condition that holds at the low end stops to hold. */
function bisect(low: number, high: number, holds: (value: number) => boolean): number {
  for (let k = 0; k < 24; k++) {
    const middle = 0.5 * (low + high)
    if (holds(middle)) low = middle
    else high = middle
  }
  return low
}

/**
 * R of a Thomas process of which a share q gathers, superposed with a random rest. Lengths are in
 * spreads: m instances and s parents per square. From the probability that nobody stands within r of
 * one of them: S(r) = e^(−(1−q)·m·π·r²) · V(r) · (q·B(r) + 1 − q), with V for the children of all
 * other parents, B for its own siblings; R = 2·√m·∫S dr.
 */
export function indexOfGathering(q: number, m: number, s: number): number {
  const { radii, within, kernel, ring } = (tables ??= makeTables())
  const mu = (q * m) / s
  let mean = 0
  let before = 1
  for (let j = 1; j < RADII; j++) {
    let siblings = 0
    let others = 0
    for (let i = 0; i < STEPS; i++) {
      const none = exp(-mu * within[i * RADII + j])
      siblings += kernel[i] * none
      others += ring[i] * (1 - none)
    }
    const r = radii[j]
    const free = exp(-(1 - q) * m * Math.PI * r * r - s * others) * (q * siblings + 1 - q)
    mean += 0.5 * (free + before) * (r - radii[j - 1])
    before = free
    if (free < 1e-7) return 2 * Math.sqrt(m) * mean
  }
  return 2 * Math.sqrt(m) * (mean + beyondTables(before, (1 - q) * m + s * (1 - exp(-mu))))
}

/**
 * ∫ S dr from the farthest radius of the tables on, where S is `left` there. So far out only whole clumps count,
 * those that have anybody, as a random pattern of a density n: S(r) = left · e^(−n·π·(r² − FARTHEST²)).
 */
function beyondTables(left: number, n: number): number {
  const a = Math.PI * n
  // Simpson's rule over the way to where the rest is below e^−20.
  const end = Math.sqrt(FARTHEST * FARTHEST + 20 / a)
  const step = (end - FARTHEST) / 40
  let sum = 0
  for (let k = 0; k <= 40; k++) {
    const r = FARTHEST + k * step
    sum += (k === 0 || k === 40 ? 1 : k % 2 === 1 ? 4 : 2) * exp(-a * (r * r - FARTHEST * FARTHEST))
  }
  return (left * sum * step) / 3
}

const RADII = 128
const FARTHEST = 16
const STEP = 0.15
const STEPS = Math.ceil((FARTHEST + 5) / STEP)

interface Tables {
  readonly radii: Float64Array
  /** Chance that a child lies within radius j of a place at distance i from its parent. */
  readonly within: Float64Array
  /** Weight of a child's own distance from its parent, and area of the ring, by distance i. */
  readonly kernel: Float64Array
  readonly ring: Float64Array
}

let tables: Tables | undefined

function makeTables(): Tables {
  // Denser near 0, where neighbours are when many stand in a clump.
  const radii = Float64Array.from({ length: RADII }, (_, j) => FARTHEST * (j / (RADII - 1)) * (j / (RADII - 1)))
  const within = new Float64Array(STEPS * RADII)
  const kernel = new Float64Array(STEPS)
  const ring = new Float64Array(STEPS)
  let total = 0
  for (let i = 0; i < STEPS; i++) {
    const c = (i + 0.5) * STEP
    ring[i] = 2 * Math.PI * c * STEP
    kernel[i] = c * exp(-0.5 * c * c) * STEP
    total += kernel[i]
    for (let j = 1; j < RADII; j++) {
      const [a, b] = [radii[j - 1], radii[j]]
      const simpson = ((b - a) / 6) * (rice(a, c) + 4 * rice(0.5 * (a + b), c) + rice(b, c))
      within[i * RADII + j] = within[i * RADII + j - 1] + simpson
    }
  }
  for (let i = 0; i < STEPS; i++) kernel[i] /= total
  return { radii, within, kernel, ring }
}

/** Density of the Rice distribution with unit spread at t, for an offset c. */
function rice(t: number, c: number): number {
  return t * exp(-0.5 * (t - c) * (t - c)) * scaledBessel(t * c)
}

/** e^(−x)·I₀(x) for x ≥ 0, within 2e-7 (Abramowitz & Stegun 1964, 9.8.1 and 9.8.2). */
function scaledBessel(x: number): number {
  if (x < 3.75) {
    const t = (x / 3.75) * (x / 3.75)
    return (
      exp(-x) *
      (1 + t * (3.5156229 + t * (3.0899424 + t * (1.2067492 + t * (0.2659732 + t * (0.0360768 + t * 0.0045813))))))
    )
  }
  const t = 3.75 / x
  return (
    (0.39894228 +
      t *
        (0.01328592 +
          t *
            (0.00225319 +
              t * (-0.00157565 + t * (0.00916281 + t * (-0.02057706 + t * (0.02635537 + t * (-0.01647633 + t * 0.00392377)))))))) /
    Math.sqrt(x)
  )
}
