import type { Editor } from '../document/edits/editor.ts'
import { plantingsNaming } from '../document/named-in.ts'
import { notify } from './notices.ts'

/** Says which plantings have taken a thing that was just made, as they waited for one; nothing when none has. */
export function tellTaken(editor: Pick<Editor, 'meadow'>, thing: { readonly id: string; readonly name: string } | undefined): void {
  if (!thing) return
  const names = plantingsNaming(editor.meadow(), thing.id).map(({ name }) => `“${name}”`)
  if (names.length > 0) notify('word', `${names.join(', ')} waited for it: “${thing.name}” is taken.`)
}
