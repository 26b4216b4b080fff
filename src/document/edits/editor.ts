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
