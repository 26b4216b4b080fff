import { heightAt } from '../grounds/terrain.ts'
import type { Phrase, ValuesOf } from '../kinds.ts'
import { angle, choice, length, phrase, share } from '../kinds.ts'
import { framesOf } from '../order/frames.ts'
import { framesOfBed, mostInBeds } from '../order/bed.ts'
import { OUTLINE } from '../things/outline.ts'
import { thingOf } from '../things/define.ts'
import { definePlanting } from './define.ts'
import { FACINGS, patternOf, PATTERN_PARAMS, prepareInOrder, tooMany } from './pattern.ts'

const fold = 'how-many'

const BED_PARAMS = {
  every: length(1, { fold, label: 'One every', help: 'Metres of row from one to the next.', min: 0.02, max: 1000, step: 0.05 }),
  rowsApart: length(1, { fold, label: 'Rows apart', help: 'Metres from one row to the next.', min: 0.02, max: 1000, step: 0.05 }),
  staggered: share(0, { fold, label: 'Staggered by', help: 'By how much of the way to the next each second row is moved on; 50 % sets it into the gaps.', step: 0.05 }),
  runs: angle(90, { fold, label: 'Rows run to', help: 'The compass direction of the rows: 0° north, 90° east. The first runs through the first point of its patch.', min: 0, max: 360, step: 5 }),
  inset: length(0, { fold, label: 'Kept from the rim', help: 'Nearer to the rim of the patch than this nothing stands.', max: 1000, step: 0.1 }),
  facing: choice('ahead', FACINGS, { fold: 'how-it-stands', label: 'Looking', help: 'Which way their fronts look, along the row.' }),
  level: choice('mean', [{ value: 'high', label: 'as the highest of its rim' }, { value: 'mean', label: 'as the mean of its rim' }, { value: 'low', label: 'as the lowest of its rim' }], { fold: 'how-it-stands', label: 'Its own height', help: 'How high all of a patch stand where they do not come down to the ground.' }),
  ...PATTERN_PARAMS,
}

type BedValues = ValuesOf<typeof BED_PARAMS>

/** Things in rows that fill patches. */
export const bed = definePlanting({
  kind: 'bed',
  label: 'Bed',
  help: 'Fills patches with rows, over the ground or level at a height of their own.',
  params: BED_PARAMS,
  ...patternOf<BedValues>(),
  lineReach: () => 0,
  within: true,
  based: false,
  howMany: ({ staggered, inset }): Phrase => [
    ...phrase`one every ${{ param: 'every' }} in rows ${{ param: 'rowsApart' }} apart that run to ${{ param: 'runs' }}`,
    ...(staggered > 0 ? phrase`, staggered by ${{ param: 'staggered' }}` : []),
    ...phrase`, within a patch`,
    ...(inset > 0 ? phrase`, ${{ param: 'inset' }} from its rim` : []),
  ],
  apart: ({ every, rowsApart }) => Math.min(every, rowsApart),
  needs: ({ along }) => (along.length === 0 ? 'It fills no patch yet: draw one over the ground, or choose one under Where.' : null),
  problem: (values, { along }, outlines) => tooMany(mostInBeds(outlines.filter(({ id }) => along.includes(id)), values)),
  atFirst: (spacing) => ({ every: spacing, rowsApart: spacing }),
  prepare(planting, values, context, options) {
    const patches = planting.along.flatMap((id) => thingOf(context.things, OUTLINE, id) ?? [])
    const frames = tooMany(mostInBeds(patches, values)) ? framesOf(0) : framesOfBed(patches, values, (x, z) => heightAt(context.terrain, x, z))
    return prepareInOrder('bed 1', planting, values, context, options, [{ frames }])
  },
})
