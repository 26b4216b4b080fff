import { S, SINGLE, T, TOUCH } from '../../core/hand/layout.ts'
import type { NumberList } from '../../core/long-list.ts'
import { valuesOf } from '../../core/long-list.ts'
import type { Asset } from '../../core/meadow.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'

/** The named edits of the nursery. */

/** Puts assets on the shelf in one step; the number of one is given to no other, even after it has gone. */
export function addAssets(editor: Editor, assets: readonly Omit<Asset, 'number'>[]): boolean {
  return editor.edit(assets.length === 1 ? 'Bring in a model' : `Bring in ${assets.length} models`, (meadow) => {
    for (const asset of assets) meadow.assets.push({ ...asset, number: meadow.nextAsset++ })
  })
}

/** Puts another model in the place of an asset's: all that stand of it, and posies of it, have it at once. Its number stays. */
export function changeAsset(editor: Editor, id: string, asset: Omit<Asset, 'number' | 'id'>): boolean {
  return changeOne(editor, 'assets', id, 'Change an asset', (own) => void Object.assign(own, asset, { id: own.id, number: own.number }))
}

/** The planting that an asset grows in, or that has it by hand, or the posy that it is a part of; null when it may go. */
export function userOf(editor: Editor, { id, number }: Asset): string | null {
  const { plantings, hands, assets } = editor.meadow()
  const posy = assets.find(({ parts }) => parts.some(({ asset }) => asset === id))
  if (posy) return posy.name
  const grown = plantings.find(({ mix }) => mix.some(({ asset }) => asset === id))
  if (grown) return grown.name
  const byHand = hands.find(({ singles, touched }) => names(singles[0], SINGLE, S.asset, number) || names(touched[0], TOUCH, T.swap, number))
  return byHand ? (plantings.find((one) => one.id === byHand.id)?.name ?? null) : null
}

/** Whether a row of a list has a number at a place. */
function names(list: NumberList | undefined, numbers: number, place: number, number: number): boolean {
  const values = valuesOf(list ?? [])
  for (let k = place; k < values.length; k += numbers) if (values[k] === number) return true
  return false
}

export function removeAsset(editor: Editor, { id }: Asset): boolean {
  return removeOne(editor, 'assets', id, 'Remove an asset')
}
