import type { FieldState } from '../../state/field-state.ts'
import type { FieldToolState } from '../../state/field-tool.ts'

/** What the first steps look at. */
export interface Seen {
  readonly field: FieldState
  readonly tool: FieldToolState
}

/** One of the first steps: what to do next, and when it is done. */
export interface FirstStep {
  readonly key: string
  readonly words: string
  /** Whether it makes sense now; always, without this. */
  wanted?(seen: Seen): boolean
  done(seen: Seen): boolean
}

const undone = ({ field }: Seen) => field.history.past.map(({ name }) => name)

/** In the order in which they are shown; whatever is done in another order counts as well. */
export const FIRST_STEPS: readonly FirstStep[] = [
  {
    key: 'plant',
    words: 'Nothing grows here yet. Press A, and choose what to plant; a height file can be dropped on the picture any time.',
    done: ({ field }) => field.history.meadow.plantings.length > 0,
  },
  {
    key: 'open',
    words: 'Click on the name of a planting to open it.',
    done: ({ tool }) => tool.open !== null,
  },
  {
    key: 'change',
    words: 'Drag a bold number in its sentence sideways, and watch it grow anew. Click one to type it, with any unit.',
    wanted: ({ tool }) => tool.open !== null,
    done: (seen) => undone(seen).some((name) => name.startsWith('Change ')),
  },
  {
    key: 'throw',
    words: 'Press T to throw it again: other places by the same rules. Ctrl+Z undoes it, as everything.',
    wanted: ({ tool }) => tool.open !== null,
    done: (seen) => undone(seen).includes('Throw again'),
  },
  {
    key: 'where',
    words: 'Under Where, add a condition: say how high, how steep, how near to water it likes to be.',
    wanted: ({ tool }) => tool.open !== null,
    done: (seen) => undone(seen).includes('Add a condition'),
  },
  {
    key: 'ask',
    words: 'Press Y and click on the ground: it says why something grows there, or why not.',
    wanted: ({ tool }) => tool.open !== null,
    done: ({ tool }) => tool.asking !== null,
  },
]

/** The steps that are done with what was done before. */
export function doneSteps(seen: Seen, before: ReadonlySet<string>): ReadonlySet<string> {
  const more = FIRST_STEPS.filter((step) => !before.has(step.key) && step.done(seen))
  return more.length > 0 ? new Set([...before, ...more.map(({ key }) => key)]) : before
}

/** The step to show; null when all are done. A step that makes no sense now gives way to the one that leads to it. */
export function nextStep(seen: Seen, done: ReadonlySet<string>): FirstStep | null {
  const left = FIRST_STEPS.filter(({ key }) => !done.has(key))
  if (left.length === 0) return null
  return left.find(({ wanted }) => wanted?.(seen) ?? true) ?? FIRST_STEPS.find((step) => !step.done(seen)) ?? null
}
