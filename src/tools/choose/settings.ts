import type { ValuesOf } from '../../core/kinds.ts'
import { choice, flag, span } from '../../core/kinds.ts'

/** Settings of what is done with what is chosen, kept beside those of tools. */

const CHOOSE_PARAMS = {
  around: choice('box', [{ value: 'box', label: 'a box' }, { value: 'line', label: 'a free line' }], { label: 'Drag draws', help: 'What a drag over the picture draws around things that are to be chosen.' }),
  hidden: choice('seen', [{ value: 'seen', label: 'of what the ground does not hide' }, { value: 'all', label: 'of what lies behind hills, too' }], { label: 'Takes', help: 'Whether what the ground hides is taken, too.' }),
  handles: choice('move', [{ value: 'move', label: 'moves' }, { value: 'turn', label: 'turns' }, { value: 'size', label: 'sizes' }, { value: 'none', label: 'do not show' }], { label: 'The handles', help: 'What the handles at what is chosen do.' }),
  axes: choice('world', [{ value: 'world', label: 'the world’s axes' }, { value: 'own', label: 'the things’ own axes' }, { value: 'ground', label: 'the ground, over it and up from it' }], { label: 'Along', help: 'Which axes the handles go by: east, south and up; those of each thing itself; or over the ground as it rises and falls.' }),
  about: choice('own', [{ value: 'own', label: 'each about its own place' }, { value: 'middle', label: 'all about their middle' }], { label: 'Turned and sized', help: 'Whether things are turned and sized about their own places, or about their common middle.' }),
}

export type ChooseValues = ValuesOf<typeof CHOOSE_PARAMS>

/** How things are chosen, and what their handles do. */
export const CHOOSE = { kind: 'choose', params: CHOOSE_PARAMS }

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
