import type { GroundImage } from '../../core/meadow.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'
import { giveToWaiting } from './waiting.ts'

/** The named edits of images on the ground. */

/** Lays a picture over the whole ground. */
export function addImage(editor: Editor, image: Pick<GroundImage, 'name' | 'blob' | 'columns' | 'rows'>): boolean {
  const id = newId()
  return editor.edit('Bring in an image', (meadow) => {
    const { sizeX, sizeZ } = meadow.ground
    meadow.images.push({ ...image, id, x: 0, z: 0, sizeX, sizeZ, turn: 0 })
    giveToWaiting(meadow, id)
  })
}

export function placeImage(editor: Editor, id: string, values: Partial<Omit<GroundImage, 'id'>>, gesture?: string): void {
  changeOne(editor, 'images', id, 'Place an image', (one) => void Object.assign(one, values), gesture)
}

export function removeImage(editor: Editor, { id }: GroundImage): boolean {
  return removeOne(editor, 'images', id, 'Remove the image')
}
