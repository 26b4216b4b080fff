import type { Asset, Planting, Share } from '../core/meadow.ts'

/** An asset with its part of a mix. */
export interface PartOf {
  readonly asset: Asset
  readonly share: number
}

/** The assets of a mix that are there and have a part in it. */
export function partsOfMix(mix: readonly Share[], assets: readonly Asset[]): PartOf[] {
  return mix.flatMap(({ asset, share }) => {
    const found = assets.find(({ id }) => id === asset)
    return found && share > 0 ? [{ asset: found, share }] : []
  })
}

/** The one of a mix that a throw of 0…1 means, by their parts; undefined of an empty mix. */
export function oneOf(parts: readonly PartOf[], dice: number): PartOf | undefined {
  let left = dice * parts.reduce((sum, { share }) => sum + share, 0)
  return parts.find(({ share }) => (left -= share) < 0) ?? parts.at(-1)
}

/** The asset that a planting has most of, else the first that there is. */
export function mostOf(planting: Pick<Planting, 'mix'> | undefined, assets: readonly Asset[]): string | undefined {
  return [...(planting?.mix ?? [])].sort((a, b) => b.share - a.share)[0]?.asset ?? assets[0]?.id
}
