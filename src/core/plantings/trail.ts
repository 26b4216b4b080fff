import { heightAt } from '../grounds/terrain.ts'
import type { Phrase, ValuesOf } from '../kinds.ts'
import { choice, flag, length, number, phrase, share } from '../kinds.ts'
import { framesOf } from '../order/frames.ts'
import { countOfTrail, framesOfTrail } from '../order/trail.ts'
import { OUTLINE } from '../things/outline.ts'
import { thingOf } from '../things/define.ts'
import { definePlanting } from './define.ts'
import { FACINGS, patternOf, PATTERN_PARAMS, prepareInOrder, tooMany } from './pattern.ts'

const fold = 'how-many'

const TRAIL_PARAMS = {
  by: choice('spacing', [{ value: 'spacing', label: 'a spacing' }, { value: 'count', label: 'a count' }], { fold, label: 'Say how many by', help: 'How far apart they stand along each line, or how many there are on it.' }),
  spacing: length(2, { fold, label: 'One every', help: 'Metres of line from one to the next.', min: 0.02, max: 1000, step: 0.05, shownWhen: { param: 'by', is: ['spacing'] } }),
  fit: flag(false, { fold, label: 'One at the end, too', help: 'The spacing gives way a little, so that one stands at each end.', shownWhen: { param: 'by', is: ['spacing'] } }),
  count: number('count', 9, { fold, label: 'Members', help: 'How many stand along each line, at both ends too.', min: 1, max: 400000, step: 1, shownWhen: { param: 'by', is: ['count'] } }),
  from: share(0, { fold, label: 'From', help: 'Where along each line the first one stands.', step: 0.01 }),
  to: share(1, { fold, label: 'To', help: 'Where along each line they end.', step: 0.01 }),
  sides: choice('on', [{ value: 'on', label: 'on the line' }, { value: 'left', label: 'on its left' }, { value: 'right', label: 'on its right' }, { value: 'both', label: 'on both sides' }, { value: 'turns', label: 'left and right by turns' }, { value: 'across', label: 'abreast, over a width' }], { fold, label: 'Sides', help: 'Seen along the line, from where it was begun.' }),
  off: length(2, { fold, label: 'Beside the line by', help: 'How far from the line they stand.', max: 1000, step: 0.1, shownWhen: { param: 'sides', is: ['left', 'right', 'both', 'turns', 'across'] } }),
  abreast: number('count', 5, { fold, label: 'Abreast', help: 'How many stand beside each other at each place, from one side to the other.', min: 1, max: 1000, step: 1, shownWhen: { param: 'sides', is: ['across'] } }),
  uneven: share(0, { fold, label: 'Uneven by', help: 'How far each comes to stand from its place along the line, in shares of the spacing.', step: 0.05 }),
  aside: length(0, { fold, label: 'Aside by up to', help: 'How far each comes to stand to either side of its place.', max: 1000, step: 0.05 }),
  between: choice('at', [{ value: 'at', label: 'at its places' }, { value: 'between', label: 'from each place to the next' }, { value: 'stretched', label: 'stretched from each place to the next' }], { fold, label: 'Each stands', help: 'At its place, or, like a rail, from one place to the next: as long as it is, or stretched to reach.' }),
  facing: choice('ahead', FACINGS, { fold: 'how-it-stands', label: 'Looking', help: 'Which way their fronts look, along the line.' }),
  stands: choice('upright', [{ value: 'upright', label: 'upright' }, { value: 'square', label: 'square to the path' }], { fold: 'how-it-stands', label: 'Stands', help: 'Upright, or leaning with the path itself where that climbs or lies off the ground.' }),
  ...PATTERN_PARAMS,
}

type TrailValues = ValuesOf<typeof TRAIL_PARAMS>

/** Things along paths, one after the other. */
export const trail = definePlanting({
  kind: 'trail',
  label: 'Trail',
  help: 'Stands along paths one after the other, by spacing or by count.',
  params: TRAIL_PARAMS,
  ...patternOf<TrailValues>(),
  lineReach: ({ off, aside }) => off + aside,
  based: false,
  howMany: ({ by, sides }): Phrase => [
    ...(by === 'spacing' ? phrase`one every ${{ param: 'spacing' }}` : phrase`${{ param: 'count' }}`),
    ...phrase` along a path, ${{ param: 'sides' }}`,
    ...(sides === 'on' ? [] : phrase` by ${{ param: 'off' }}`),
    ...phrase`, looking ${{ param: 'facing' }}`,
  ],
  apart: ({ spacing }) => spacing,
  needs: ({ along }) => (along.length === 0 ? 'It lies along no path yet: draw one over the ground, or choose one under Where.' : null),
  problem: (values, { along }, outlines) => {
    const lines = outlines.filter(({ id }) => along.includes(id))
    return tooMany(countOfTrail(lines, { ...values, abreast: Math.round(values.abreast), between: values.between !== 'at' }))
  },
  atFirst: (spacing) => ({ spacing }),
  prepare(planting, values, context, options) {
    const { terrain, things } = context
    const lines = planting.along.flatMap((id) => thingOf(things, OUTLINE, id) ?? [])
    const between = values.between !== 'at'
    const height = (x: number, z: number) => heightAt(terrain, x, z)
    const settings = { ...values, count: Math.round(values.count), abreast: Math.round(values.abreast), between }
    const made = tooMany(countOfTrail(lines, settings, height)) ? { ...framesOf(0), reach: new Float64Array(0) } : framesOfTrail(lines, settings, planting.seed >>> 0, height)
    // What reaches from place to place goes straight there, from heights that have come down already.
    const own = between ? { ...values, land: 0 } : values
    return prepareInOrder('trail 1', planting, own, context, options, [{ frames: made, axis: values.facing === 'ahead' || values.facing === 'back' ? 2 : 0, ...(values.between === 'stretched' && { reach: made.reach }) }])
  },
})
