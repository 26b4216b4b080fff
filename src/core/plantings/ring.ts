import type { Phrase, ValuesOf } from '../kinds.ts'
import { angle, choice, length, number, phrase } from '../kinds.ts'
import { framesOf } from '../order/frames.ts'
import { framesOfRing } from '../order/ring.ts'
import { definePlanting } from './define.ts'
import { onBase, patternOf, PATTERN_PARAMS, prepareInOrder, tooMany } from './pattern.ts'

const fold = 'how-many'

const RING_PARAMS = {
  count: number('count', 9, { fold, label: 'Members', help: 'How many stand round it.', min: 1, max: 400000, step: 1 }),
  radius: length(3, { fold, label: 'Radius', help: 'How far they stand from its middle.', min: 0.01, max: 10000, step: 0.1 }),
  across: length(0, { fold, label: 'Radius across', help: 'Across the first one, for an ellipse; 0 makes it a circle.', max: 10000, step: 0.1 }),
  start: angle(0, { fold, label: 'Begins at', help: 'Where the first one stands: 0° to the north of its base, 90° to the east.', min: -360, max: 360, step: 5 }),
  arc: angle(360, { fold, label: 'Goes round', help: '360° closes it; below 0 goes round the other way.', min: -360, max: 360, step: 5 }),
  facing: choice('out', [{ value: 'out', label: 'outwards' }, { value: 'in', label: 'inwards' }, { value: 'ahead', label: 'ahead' }, { value: 'same', label: 'all the same way' }], { fold: 'how-it-stands', label: 'Looking', help: 'Which way their fronts look.' }),
  ...PATTERN_PARAMS,
}

type RingValues = ValuesOf<typeof RING_PARAMS>

/** Things round a ring or along an arc. */
export const ring = definePlanting({
  kind: 'ring',
  label: 'Ring',
  help: 'Stands evenly round a circle or an ellipse, or along an arc.',
  params: RING_PARAMS,
  ...patternOf<RingValues>(),
  lineReach: null,
  based: true,
  howMany: ({ across, radius, arc }): Phrase => [
    ...phrase`${{ param: 'count' }} in a ring of ${{ param: 'radius' }}`,
    ...(across > 0 && across !== radius ? phrase` by ${{ param: 'across' }}` : []),
    ...(Math.abs(arc) < 360 ? phrase`, ${{ param: 'arc' }} of it` : []),
    ...phrase`, looking ${{ param: 'facing' }}`,
  ],
  apart: ({ radius, count }) => Math.max(0.05, (2 * Math.PI * radius) / count),
  needs: () => null,
  problem: ({ count }) => tooMany(count),
  atFirst: (spacing) => ({ radius: Number(((9 * spacing) / (2 * Math.PI)).toPrecision(2)) }),
  prepare: (planting, values, context, options) => {
    const { radius, across, start, arc, facing } = values
    const count = Math.round(values.count)
    const frames = () => (tooMany(count) ? framesOf(0) : framesOfRing({ count, radius, across: across > 0 ? across : radius, start, arc, facing }))
    return prepareInOrder('ring 1', planting, values, context, options, [{ frames: onBase(planting, frames, context) }])
  },
})
