import type { Meadow } from '../core/meadow.ts'
import { checkChange } from '../document/check-change.ts'
import type { Editor } from '../document/edits/editor.ts'
import type { Follow, History } from '../document/history.ts'
import { amend, edit, redo, startHistory, undo } from '../document/history.ts'
import { refusedByLock } from '../document/locks.ts'

/** Whether changes are taken now, wait until they can be, or are refused. */
export type Leave = 'now' | 'later' | 'never'

/** The document of an open meadow with its past and future. Knows no page: who holds it says when it may be changed. */
export interface OpenDocument extends Editor {
  undo(): void
  redo(): void
  /** Puts another meadow in its place, without past and future. */
  replace(meadow: Meadow): void
  /** Changes the name, though nothing else may be changed now. */
  renamed(name: string): void
  /** Lets what is only known now join the last step; nothing where this may not change the document. */
  settle(recipe: (draft: Meadow) => void): void
  /** Makes the changes that waited. */
  runWaiting(): void
}

export interface DocumentOptions {
  readonly get: () => History
  readonly set: (history: History) => void
  readonly leave: () => Leave
  /** What follows of each edit by itself. */
  readonly follows?: readonly Follow[]
  /** A change was made. */
  readonly onChange: (change: History['change']) => void
  /** A change was refused: why, in a sentence; null when nothing may be changed now. */
  readonly onRefused: (sentence: string | null) => void
}

export function createOpenDocument({ get, set, leave, follows = [], onChange, onRefused }: DocumentOptions): OpenDocument {
  let waiting: (() => void)[] = []

  /** `byHand`: an edit, which locks hold off; to take one back or make it again is not kept from. */
  function apply(next: History, byHand: boolean): boolean {
    const before = get()
    if (next === before) return true
    const refusal = (byHand ? refusedByLock(before.meadow, next.meadow) : null) ?? checkChange(before.meadow, next.meadow)
    if (refusal) {
      onRefused(refusal)
      return false
    }
    set(next)
    if (next.meadow !== before.meadow) onChange(next.change)
    return true
  }

  /** Makes a change now, later or not at all. */
  function change(make: () => History, byHand: boolean): boolean {
    const may = leave()
    if (may === 'now') return apply(make(), byHand)
    if (may === 'later') waiting.push(() => void apply(make(), byHand))
    else onRefused(null)
    return may === 'later'
  }

  return {
    meadow: () => get().meadow,
    edit: (name, recipe, gesture) => change(() => edit(get(), name, recipe, gesture ?? null, follows), true),
    undo: () => void change(() => undo(get()), false),
    redo: () => void change(() => redo(get()), false),
    settle(recipe) {
      if (leave() === 'now') apply(amend(get(), recipe), false)
    },
    replace: (meadow) => set(startHistory(meadow)),
    renamed: (name) => set(edit(get(), 'Rename at the gate', (draft) => void (draft.name = name))),
    runWaiting() {
      const held = waiting
      waiting = []
      for (const run of held) run()
    },
  }
}
