import type { Patch } from 'immer'
import { applyPatches, enablePatches, produceWithPatches } from 'immer'
import type { Meadow } from '../core/meadow.ts'

enablePatches()

let gestures = 0

/** A name for one gesture of the hand (one drag of one control): its edits are one step of undo. */
export function newGesture(): string {
  return `gesture ${++gestures}`
}

/** One named step that can be taken back. */
interface Step {
  readonly name: string
  readonly patches: Patch[]
  readonly inverse: Patch[]
  /** Edits with the same gesture are one step. */
  readonly gesture: string | null
}

/** A document with its past and future; plain data, replaced on every edit. */
export interface History {
  readonly meadow: Meadow
  readonly past: readonly Step[]
  readonly future: readonly Step[]
  /** What led from the document before to this one. */
  readonly change: readonly Patch[]
}

/** What follows of an edit by itself, in the same step: it is told the document before the edit, and that after it, to draft what follows. */
export type Follow = (before: Meadow, draft: Meadow, now: Meadow) => void

export function startHistory(meadow: Meadow): History {
  return { meadow, past: [], future: [], change: [] }
}

/**
 * Makes an edit. With a `gesture` (one drag of one control) it joins the step before when that came
 * from the same gesture. An edit that changes nothing leaves no step.
 */
export function edit(
  history: History,
  name: string,
  recipe: (draft: Meadow) => void,
  gesture: string | null = null,
  follows: readonly Follow[] = [],
): History {
  let [meadow, patches, inverse] = produceWithPatches(history.meadow, recipe)
  if (patches.length === 0) return history
  for (const follow of follows) {
    const now = meadow
    const [next, more, back] = produceWithPatches(now, (draft) => follow(history.meadow, draft, now))
    meadow = next
    patches = [...patches, ...more]
    inverse = [...back, ...inverse]
  }
  const last = history.past.at(-1)
  if (gesture !== null && last?.gesture === gesture) {
    const joined = { name, gesture, patches: [...last.patches, ...patches], inverse: [...inverse, ...last.inverse] }
    return { meadow, past: [...history.past.slice(0, -1), joined], future: [], change: patches }
  }
  return { meadow, past: [...history.past, { name, patches, inverse, gesture }], future: [], change: patches }
}

/** Lets what is only known later join the step before, whichever that is: it is taken back and made again with it. What was taken back can still be made again. */
export function amend(history: History, recipe: (draft: Meadow) => void): History {
  const [meadow, patches, inverse] = produceWithPatches(history.meadow, recipe)
  if (patches.length === 0) return history
  const last = history.past.at(-1)
  const past = last ? [...history.past.slice(0, -1), { ...last, patches: [...last.patches, ...patches], inverse: [...inverse, ...last.inverse] }] : history.past
  return { ...history, meadow, past, change: patches }
}

/** Takes the last step back; the same history when there is none. */
export function undo(history: History): History {
  const step = history.past.at(-1)
  if (!step) return history
  return {
    meadow: applyPatches(history.meadow, step.inverse),
    past: history.past.slice(0, -1),
    future: [{ ...step, gesture: null }, ...history.future],
    change: step.inverse,
  }
}

/** Takes the next step again; the same history when there is none. */
export function redo(history: History): History {
  const [step, ...future] = history.future
  if (!step) return history
  return { meadow: applyPatches(history.meadow, step.patches), past: [...history.past, step], future, change: step.patches }
}
