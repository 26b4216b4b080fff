import { angle, choice, flag, length, number, share } from '../kinds.ts'
import type { ValuesOf } from '../kinds.ts'
import { STANCE_PARAMS } from '../stance/stance.ts'

const howMany = 'how-many'

/** The parameters of a spread, on the terrain and on meshes alike. */
export const SPREAD_PARAMS = {
  by: choice(
    'spacing',
    [
      { value: 'spacing', label: 'a spacing' },
      { value: 'density', label: 'a density' },
      { value: 'count', label: 'an exact count' },
    ],
    { fold: howMany, label: 'Say how many by', help: 'The spacing between them, how many per area, or how many in all.' },
  ),
  spacing: length(2, {
    fold: howMany,
    label: 'Spacing',
    help: 'Distance between neighbours. Even placing guarantees it.',
    min: 0.02,
    max: 500,
    step: 0.05,
    shownWhen: { param: 'by', is: ['spacing'] },
  }),
  density: number('per-m2', 0.2, {
    fold: howMany,
    label: 'Density',
    help: 'Instances per square metre where all conditions are fully met.',
    min: 0.000001,
    max: 2000,
    step: 0.05,
    shownWhen: { param: 'by', is: ['density'] },
  }),
  count: number('count', 500, {
    fold: howMany,
    label: 'Count',
    help: 'Just so many, wherever the conditions and the room allow it.',
    min: 0,
    max: 2000000,
    step: 10,
    shownWhen: { param: 'by', is: ['count'] },
  }),
  placing: choice(
    'even',
    [
      { value: 'even', label: 'evenly' },
      { value: 'random', label: 'at random' },
      { value: 'natural', label: 'as in nature' },
    ],
    {
      fold: howMany,
      label: 'Placed',
      help: 'Evenly keeps a distance to all neighbours; at random lets some stand close; as in nature is anything from gathered to even.',
    },
  ),
  arrangement: number('index', 0.88, {
    fold: howMany,
    label: 'Arrangement',
    help: 'Clark–Evans index: below 1 they gather, 1 is random, above 1 they keep apart. Real stands lie between 0.73 and 1.29.',
    min: 0.7,
    max: 1.6,
    step: 0.01,
    presets: [
      { label: 'in groups', value: 0.75 },
      { label: 'loosely gathered', value: 0.88 },
      { label: 'at random', value: 1 },
      { label: 'keeping apart', value: 1.15 },
      { label: 'regular', value: 1.3 },
    ],
    shownWhen: { param: 'placing', is: ['natural'] },
  }),
  clump: length(6, {
    fold: howMany,
    label: 'Clump size',
    help: 'Width of a clump where they gather (arrangement below 1).',
    min: 0.1,
    max: 1000,
    step: 0.5,
    shownWhen: { param: 'placing', is: ['natural'] },
  }),
  looseness: share(0.4, {
    fold: howMany,
    label: 'Looseness',
    help: '0 % sets clumps far apart with wide gaps, 100 % lets them run into each other.',
    shownWhen: { param: 'placing', is: ['natural'] },
  }),
  ownKind: share(0, {
    fold: 'what',
    label: 'Gather with own kind',
    help: '0 % mingles the assets of the mix, 100 % lets each keep to groves of its own. The shares stay as they are.',
    step: 0.05,
  }),
  grove: length(15, { fold: 'what', label: 'Grove size', help: 'Width of the groves of one kind.', min: 0.2, max: 2000, step: 0.5 }),
  fill: choice(
    'above',
    [
      { value: 'above', label: 'from above' },
      { value: 'levels', label: 'from above, every level' },
      { value: 'all-over', label: 'all over' },
      { value: 'side', label: 'from one side' },
    ],
    { fold: 'where', label: 'On a mesh', help: 'What falling things would hit; every level below that too; every side, overhangs and undersides; or what things thrown from one side would hit.' },
  ),
  fromCompass: angle(270, {
    fold: 'where',
    label: 'Thrown from',
    help: 'Where they come from: 0° north, 90° east.',
    max: 360,
    step: 5,
    shownWhen: { param: 'fill', is: ['side'] },
  }),
  fromAbove: angle(20, {
    fold: 'where',
    label: 'Steepness of the throw',
    help: '0° comes level, 90° straight down.',
    max: 90,
    step: 5,
    shownWhen: { param: 'fill', is: ['side'] },
  }),
  room: share(1, {
    fold: howMany,
    label: 'Space kept around it',
    help: "Share of each asset's own room that is kept free around it; 0 % lets them overlap.",
    max: 5,
    step: 0.05,
  }),
  yields: flag(true, {
    fold: howMany,
    label: 'Keep out of the room of plantings above',
    help: 'Plantings higher in the list take their room first.',
  }),
  ...STANCE_PARAMS,
}

export type SpreadValues = ValuesOf<typeof SPREAD_PARAMS>

const { by } = SPREAD_PARAMS

/** The parameters of what is sown by hand: the strokes say how many there are in all, so that a count is only kept for when it becomes a spread. */
export const SOWN_PARAMS = {
  ...SPREAD_PARAMS,
  by: choice(
    'spacing',
    by.options.filter((option): option is { readonly value: 'spacing' | 'density'; readonly label: string } => option.value !== 'count'),
    { fold: howMany, label: by.label, help: 'The spacing between them, or how many per area.' },
  ),
}
