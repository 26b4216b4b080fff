import type { Meadow } from '../../core/meadow.ts'

/** Whoever holds a meadow that is edited: an open session, a test, a command. */
export interface Editor {
  /** The meadow as it is now. */
  meadow(): Meadow
  /**
   * Makes a named edit, one step of undo; edits with the same gesture are one step. False when it was refused:
   * what no meadow can hold, or what is locked, is told in a sentence and nothing is changed.
   */
  edit(name: string, recipe: (draft: Meadow) => void, gesture?: string): boolean
}

/** The lists of a meadow whose things have ids. */
type Listed = { [K in keyof Meadow]: Meadow[K] extends { id: string }[] ? K : never }[keyof Meadow]
type OneOf<K extends Listed> = Meadow[K][number]

/** Makes a named edit of one thing of a list; nothing when it is not there. */
export function changeOne<K extends Listed>(editor: Editor, list: K, id: string, name: string, recipe: (one: OneOf<K>) => void, gesture?: string): boolean {
  return editor.edit(
    name,
    (meadow) => {
      const one = (meadow[list] as OneOf<K>[]).find((candidate) => candidate.id === id)
      if (one) recipe(one)
    },
    gesture,
  )
}

/** Takes one thing out of a list. */
export function removeOne<K extends Listed>(editor: Editor, list: K, id: string, name: string): boolean {
  return editor.edit(name, (meadow) => void (meadow[list] = (meadow[list] as OneOf<K>[]).filter((one) => one.id !== id) as Meadow[K]))
}
