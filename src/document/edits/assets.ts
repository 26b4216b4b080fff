import type { Asset, Meadow } from '../../core/meadow.ts'

/** Edits of the nursery. */

/** Puts an asset on the shelf; its number is given to no other one, even after it has gone. */
export function addAsset(meadow: Meadow, asset: Omit<Asset, 'number'>): void {
  meadow.assets.push({ ...asset, number: meadow.nextAsset++ })
}
