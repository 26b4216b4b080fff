import type { Meadow } from '../core/meadow.ts'
import { THINGS } from '../core/things/index.ts'

/** Lists of what can be locked against changes, and what one of them is called. */
const LOCKABLE: readonly { readonly list: string; readonly one: string }[] = [{ list: 'plantings', one: 'planting' }, ...THINGS.all.filter(({ fields }) => 'locked' in fields)]

interface Lockable {
  readonly id: string
  readonly name: string
  readonly locked: boolean
}

/** What of a locked thing may change all the same: whether it is locked, whether it is shown, and what hiding it means to others. */
const FREE = new Set(['locked', 'visible', 'freeWhileHidden'])

/**
 * The one rule of locks: an edit changes nothing of what is locked and takes none of it away. Returns one
 * sentence when an edit would, null when all is well. The order of a list may change.
 */
export function refusedByLock(before: Meadow, next: Meadow): string | null {
  const listsOf = (meadow: Meadow) => meadow as unknown as Readonly<Record<string, readonly Lockable[]>>
  for (const { list, one: word } of LOCKABLE) {
    const [was, is] = [listsOf(before)[list], listsOf(next)[list]]
    if (is === was) continue
    const after = new Map(is.map((one) => [one.id, one]))
    for (const thing of was) {
      if (!thing.locked || after.get(thing.id) === thing) continue
      const changed = after.get(thing.id)
      if (!changed || differs(thing, changed)) return `The ${word} “${thing.name}” is locked; unlock it first. Nothing was changed.`
    }
  }
  return refusedByHand(before, next)
}

/** Strokes and hand work are part of the planting that they change. */
function refusedByHand(before: Meadow, next: Meadow): string | null {
  if (before.strokes === next.strokes && before.hands === next.hands) return null
  for (const { id, name, locked } of before.plantings) {
    if (!locked) continue
    const [was, is] = [before, next].map(({ strokes }) => strokes.filter(({ planting }) => planting === id))
    const [held, holds] = [before, next].map(({ hands }) => hands.find((one) => one.id === id))
    if (held !== holds || was.length !== is.length || was.some((stroke, k) => stroke !== is[k])) return `The planting “${name}” is locked; unlock it first. Nothing was changed.`
  }
  return null
}

function differs(a: Lockable, b: Lockable): boolean {
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].some((key) => !FREE.has(key) && a[key as keyof Lockable] !== b[key as keyof Lockable])
}
