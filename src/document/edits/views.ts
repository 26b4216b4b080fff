import type { View } from '../../core/meadow.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'

/** The named edits of views. */

export function keepView(editor: Editor, view: Pick<View, 'position' | 'target'>): void {
  editor.edit('Keep a view', ({ views }) => void views.push({ id: newId(), name: `View ${views.length + 1}`, ...view }))
}

export function renameView(editor: Editor, id: string, name: string): void {
  changeOne(editor, 'views', id, 'Rename a view', (view) => void (view.name = name))
}

export function removeView(editor: Editor, id: string): boolean {
  return removeOne(editor, 'views', id, 'Remove a view')
}
