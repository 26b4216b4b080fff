import type { Group } from '../../core/meadow.ts'
import type { MemberId } from '../../core/things/members.ts'
import { idsOf, keyOfMember, membersFrom } from '../../core/things/members.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne } from './editor.ts'

/** The named edits of groups: instances and other groups that are chosen and moved as one. */

/** Makes a group of instances and of other groups whole; those that were in groups leave them. Returns its id, null when it was refused. */
export function addGroup(editor: Editor, ids: readonly MemberId[], groups: readonly string[]): string | null {
  const id = newId()
  const own = new Set(ids.map(keyOfMember))
  const { groups: before } = editor.meadow()
  const name = `Group ${before.length + 1}`
  const done = editor.edit('Group', (draft) => {
    const left = before.map((group) => without(group, own, groups)).filter((group) => group.groups.length > 0 || idsOf(group).length > 0)
    draft.groups = [...left, { id, name, groups: [...groups], ...membersFrom(ids) }]
  })
  return done ? id : null
}

function without(group: Group, members: ReadonlySet<string>, groups: readonly string[]): Group {
  const ids = idsOf(group)
  const kept = ids.filter((one) => !members.has(keyOfMember(one)))
  const inner = group.groups.filter((one) => !groups.includes(one))
  return kept.length === ids.length && inner.length === group.groups.length ? group : { ...group, groups: inner, ...membersFrom(kept) }
}

/** Dissolves a group: what is in it stays, in the group around it where there is one. */
export function dissolveGroup(editor: Editor, id: string): boolean {
  const gone = editor.meadow().groups.find((one) => one.id === id)
  if (!gone) return false
  return editor.edit('Dissolve a group', (draft) => {
    const { groups } = editor.meadow()
    draft.groups = groups
      .filter((one) => one.id !== id)
      .map((one) => (one.groups.includes(id) ? { ...one, groups: [...one.groups.filter((inner) => inner !== id), ...gone.groups], ...membersFrom([...idsOf(one), ...idsOf(gone)]) } : one))
  })
}

export function renameGroup(editor: Editor, id: string, name: string): boolean {
  return changeOne(editor, 'groups', id, 'Rename a group', (group) => void (group.name = name))
}
