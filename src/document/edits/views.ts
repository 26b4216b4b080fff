import type { View } from '../../core/meadow.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'
import { giveToWaiting } from './waiting.ts'

/** The named edits of views. */

export function keepView(editor: Editor, view: Pick<View, 'position' | 'target'>): void {
  const id = newId()
  editor.edit('Keep a view', (meadow) => {
    meadow.views.push({ id, name: `View ${meadow.views.length + 1}`, ...view })
    giveToWaiting(meadow, id)
  })
}

export function renameView(editor: Editor, id: string, name: string): void {
  changeOne(editor, 'views', id, 'Rename a view', (view) => void (view.name = name))
}

export function removeView(editor: Editor, id: string): boolean {
  return removeOne(editor, 'views', id, 'Remove a view')
}
