import type { Planting } from '../../core/meadow.ts'

/** Shares of a mix scaled so that they add up to 1. */
export function normalShares(mix: Planting['mix']): number[] {
  const total = mix.reduce((sum, entry) => sum + entry.share, 0)
  return mix.map((entry) => (total > 0 ? entry.share / total : 1 / mix.length))
}

/** Gives one entry a share of the whole; the others keep their proportions in the rest. */
export function withShare(mix: Planting['mix'], at: number, share: number): Planting['mix'] {
  const shares = normalShares(mix)
  const rest = 1 - shares[at]
  return mix.map((entry, i) => {
    if (i === at) return { ...entry, share }
    const part = rest > 0 ? shares[i] / rest : 1 / (mix.length - 1)
    return { ...entry, share: part * (1 - share) }
  })
}
