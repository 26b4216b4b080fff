import type { Asset } from '../../core/meadow.ts'
import type { Editor } from './editor.ts'
import { removeOne } from './editor.ts'

/** The named edits of the nursery. */

/** Puts assets on the shelf in one step; the number of one is given to no other, even after it has gone. */
export function addAssets(editor: Editor, assets: readonly Omit<Asset, 'number'>[]): boolean {
  return editor.edit(assets.length === 1 ? 'Bring in a model' : `Bring in ${assets.length} models`, (meadow) => {
    for (const asset of assets) meadow.assets.push({ ...asset, number: meadow.nextAsset++ })
  })
}

/** The planting that an asset grows in; null when it may go. */
export function userOf(editor: Editor, { id }: Asset): string | null {
  return editor.meadow().plantings.find(({ mix }) => mix.some(({ asset }) => asset === id))?.name ?? null
}

export function removeAsset(editor: Editor, { id }: Asset): boolean {
  return removeOne(editor, 'assets', id, 'Remove an asset')
}
