import type { Asset, Share } from '../core/meadow.ts'
import { LIMITS, shortened } from '../core/limits.ts'

/** What a planting is called by its assets, the largest share first, as long as nobody has named it. */
export function nameOfMix(mix: readonly Share[], assets: readonly Pick<Asset, 'id' | 'name'>[]): string {
  const names = [...mix]
    .sort((a, b) => b.share - a.share)
    .flatMap(({ asset }) => assets.find(({ id }) => id === asset)?.name ?? [])
  if (names.length === 0) return 'New planting'
  const [first, ...others] = names
  const lower = others.map((name) => name.charAt(0).toLowerCase() + name.slice(1))
  const text = lower.length === 0 ? first : lower.length === 1 ? `${first} and ${lower[0]}` : `${first}, ${lower[0]} and ${lower.length - 1} more`
  return shortened(text, LIMITS.name)
}
