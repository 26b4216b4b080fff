import { flag, span } from '../../core/kinds.ts'

/** Settings of what is done with what is chosen, kept beside those of tools. */

/** From–to of what comes at random. */
export const CHANGES = {
  kind: 'at-random',
  params: {
    turn: span('deg', 0, 360, { label: 'Turned', help: 'How far each is turned about its own up.', min: -360, max: 360, step: 5 }),
    size: span('factor', 0.85, 1.2, { label: 'Sized', help: 'Factor on the size that each has.', min: 0.05, max: 20, step: 0.05 }),
    lean: span('deg', 0, 0, { label: 'Leaned', help: 'How far each is leaned to any side.', max: 90, step: 1 }),
  },
}

/** What is kept of what is swapped. */
export const SWAPS = {
  kind: 'swapping',
  params: {
    turn: flag(true, { label: 'Turn', help: 'Keeps how each is turned.' }),
    size: flag(true, { label: 'Size', help: 'Keeps how each is sized.' }),
  },
}
