import type { Histogram } from '../../runner/io-refs.ts'

/** The share of a histogram's values below one: within a bin they are taken to lie evenly. */
export function shareBelow({ low, high, counts }: Histogram, value: number): number {
  const total = counts.reduce((sum, count) => sum + count, 0)
  if (total === 0 || value <= low) return 0
  if (value >= high) return 1
  const at = ((value - low) / (high - low)) * counts.length
  const bin = Math.min(counts.length - 1, Math.floor(at))
  let below = counts[bin] * (at - bin)
  for (let i = 0; i < bin; i++) below += counts[i]
  return below / total
}

/** How much of the ground is under water, in words. */
export function underWords(share: number): string {
  if (share <= 0) return 'None of the ground is under water.'
  if (share >= 1) return 'All of the ground is under water.'
  const percent = 100 * share
  return `${percent < 1 ? 'Less than 1' : percent > 99 ? 'More than 99' : Math.round(percent)} % of the ground is under water.`
}
