import type { View } from '../../core/meadow.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'

/** The named edits of views. */

export function keepView(editor: Editor, view: Pick<View, 'position' | 'target'>): void {
  editor.edit('Keep a view', ({ views }) => void views.push({ id: newId(), name: `View ${views.length + 1}`, ...view }))
}

export function renameView(editor: Editor, id: string, name: string): void {
  editor.edit('Rename a view', ({ views }) => {
    const view = views.find((one) => one.id === id)
    if (view) view.name = name
  })
}

export function removeView(editor: Editor, id: string): boolean {
  return editor.edit('Remove a view', (meadow) => void (meadow.views = meadow.views.filter((one) => one.id !== id)))
}
