import type { Asset } from '../../core/meadow.ts'
import type { Editor } from './editor.ts'
import { removeOne } from './editor.ts'

/** The named edits of the nursery. */

/** Puts an asset on the shelf; its number is given to no other one, even after it has gone. */
export function addAsset(editor: Editor, asset: Omit<Asset, 'number'>): boolean {
  return editor.edit('Bring in a model', (meadow) => void meadow.assets.push({ ...asset, number: meadow.nextAsset++ }))
}

/** The planting that an asset grows in; null when it may go. */
export function userOf(editor: Editor, { id }: Asset): string | null {
  return editor.meadow().plantings.find(({ mix }) => mix.some(({ asset }) => asset === id))?.name ?? null
}

export function removeAsset(editor: Editor, { id }: Asset): boolean {
  return removeOne(editor, 'assets', id, 'Remove an asset')
}
