import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'

/** Says that something is gone and offers it back; nothing when its removal was refused. */
export function tellRemoved(session: FieldSession, name: string, removed: boolean, what = 'removed'): void {
  if (removed) notify('word', `“${name}” is ${what}.`, { label: 'Bring it back', run: session.undo })
}

/** Says under which name a habitat is kept; nothing when that was refused. */
export function tellKept(name: string | null): void {
  if (name !== null) notify('word', `The habitat is kept as “${name}”; any planting can take it from the same menu.`)
}
