import type { Members, SpacedRun } from '../../core/meadow.ts'
import type { MemberId } from '../../core/things/members.ts'
import { idsOf, keyOfMember, membersFrom } from '../../core/things/members.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'

/** The named edits of runs: what is spaced out keeps its numbers. Where its members stand is changed beside, in the same gesture. */

/** What a run is made of. */
export type NewRun = Omit<SpacedRun, 'id' | 'name' | keyof Members> & { readonly ids: readonly MemberId[] }

const KINDS: Readonly<Record<SpacedRun['kind'], string>> = { line: 'Row', ring: 'Ring', path: 'Run along a path' }

/** Keeps a run; others that had any of its members are forgotten. Returns its id, null when it was refused. */
export function addRun(editor: Editor, name: string, { ids, ...shape }: NewRun, gesture?: string): string | null {
  const id = newId()
  const own = new Set(ids.map(keyOfMember))
  const done = editor.edit(
    name,
    (draft) => {
      const before = editor.meadow().runs
      const left = before.filter((run) => !idsOf(run).some((one) => own.has(keyOfMember(one))))
      if (left.length < before.length) draft.runs = left
      draft.runs.push({ id, name: `${KINDS[shape.kind]} ${draft.runs.length + 1}`, ...shape, ...membersFrom(ids) })
    },
    gesture,
  )
  return done ? id : null
}

/** Changes the numbers of a run. */
export function setRun(editor: Editor, id: string, name: string, change: Partial<Pick<SpacedRun, 'spacing' | 'arc' | 'to' | 'name'>>, gesture?: string): boolean {
  return changeOne(editor, 'runs', id, name, (run) => void Object.assign(run, change), gesture)
}

/** Forgets a run: its members stay where they are. */
export function removeRun(editor: Editor, id: string): boolean {
  return removeOne(editor, 'runs', id, 'Forget a run')
}
