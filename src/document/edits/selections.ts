import type { KeptSelection } from '../../core/meadow.ts'
import { idsOf, membersFrom } from '../../core/things/members.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'

/** The named edits of kept selections. */

/** Keeps ids by plantings under a name; returns the name, null when it was refused. */
export function keepSelection(editor: Editor, ids: ReadonlyMap<string, Iterable<readonly [low: number, high: number]>>): string | null {
  const members = membersFrom([...ids].flatMap(([planting, own]) => [...own].map(([low, high]) => ({ planting, low, high }))))
  const name = `Selection ${editor.meadow().selections.length + 1}`
  return editor.edit('Keep a selection', (draft) => void draft.selections.push({ id: newId(), name, ...members })) ? name : null
}

/** The ids of a kept selection, by plantings. */
export function membersOf(selection: KeptSelection): ReadonlyMap<string, (readonly [number, number])[]> {
  const found = new Map<string, (readonly [number, number])[]>()
  for (const { planting, low, high } of idsOf(selection)) {
    const own = found.get(planting) ?? []
    found.set(planting, own)
    own.push([low, high])
  }
  return found
}

export function renameSelection(editor: Editor, id: string, name: string): void {
  changeOne(editor, 'selections', id, 'Rename a selection', (selection) => void (selection.name = name))
}

export function removeSelection(editor: Editor, id: string): boolean {
  return removeOne(editor, 'selections', id, 'Forget a selection')
}
