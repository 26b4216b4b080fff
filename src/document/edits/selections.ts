import { listOf, valuesOf } from '../../core/long-list.ts'
import type { KeptSelection } from '../../core/meadow.ts'
import { MEMBER } from '../../core/things/members.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'

/** The named edits of kept selections. */

/** Keeps ids by plantings under a name; returns the name, null when it was refused. */
export function keepSelection(editor: Editor, ids: ReadonlyMap<string, Iterable<readonly [low: number, high: number]>>): string | null {
  const plantings = [...ids.keys()]
  const members = listOf(plantings.flatMap((id, k) => [...(ids.get(id) ?? [])].flatMap(([low, high]) => [k, low, high])))
  const name = `Selection ${editor.meadow().selections.length + 1}`
  return editor.edit('Keep a selection', (draft) => void draft.selections.push({ id: newId(), name, plantings, members: [members as number[]] })) ? name : null
}

/** The ids of a kept selection, by plantings. */
export function membersOf({ plantings, members }: KeptSelection): ReadonlyMap<string, (readonly [number, number])[]> {
  const values = valuesOf(members[0] ?? [])
  const found = new Map<string, (readonly [number, number])[]>()
  for (let k = 0; k < values.length; k += MEMBER) {
    const planting = plantings[values[k]]
    if (planting === undefined) continue
    const own = found.get(planting) ?? []
    found.set(planting, own)
    own.push([values[k + 1], values[k + 2]])
  }
  return found
}

export function renameSelection(editor: Editor, id: string, name: string): void {
  changeOne(editor, 'selections', id, 'Rename a selection', (selection) => void (selection.name = name))
}

export function removeSelection(editor: Editor, id: string): boolean {
  return removeOne(editor, 'selections', id, 'Forget a selection')
}
