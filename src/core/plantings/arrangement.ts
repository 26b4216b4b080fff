import { exp } from '../math/portable.ts'

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
const PARENTS = { fewest: 0.002, tight: 0.012, loose: 0.11 }

/**
 * The gathering that gives an index below 1 at a density, for clumps of a width, m. Where clumps of
 * that width and looseness are not gathered enough they are set farther apart, and in the end made wider.
 */
export function gatheringOf(index: number, density: number, clump: number, looseness: number): Gathering {
  let spread = clump / ACROSS
  let s = PARENTS.tight + (PARENTS.loose - PARENTS.tight) * looseness
  const m = () => density * spread * spread
  if (indexOfGathering(1, m(), s) > index) {
    while (indexOfGathering(1, m(), PARENTS.fewest) > index) spread *= 1.25
    s = bisect(PARENTS.fewest, s, (one) => indexOfGathering(1, m(), one) < index)
    return { share: 1, parents: s / (spread * spread), spread }
  }
  const share = 1 - bisect(0, 1, (random) => indexOfGathering(1 - random, m(), s) < index)
  return { share, parents: s / (spread * spread), spread }
}

/** Where a condition that holds at the low end stops to hold. */
function bisect(low: number, high: number, holds: (value: number) => boolean): number {
  for (let k = 0; k < 20; k++) {
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
    if (free < 1e-7) break
  }
  return 2 * Math.sqrt(m) * mean
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
