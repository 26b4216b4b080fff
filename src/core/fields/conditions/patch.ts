import { choice, length, phrase, ref } from '../../kinds.ts'
import { indexOf } from '../../outlines/outline.ts'
import { thingOf } from '../../things/define.ts'
import { OUTLINE } from '../../things/outline.ts'
import { boundFade, distancesIn } from '../bounds.ts'
import { bounded, defineCondition, distanceAt, fadeIn, metres } from './define.ts'
import { scratchColumn } from '../scratch.ts'

const columnOf = scratchColumn()

export const patch = defineCondition({
  kind: 'patch',
  label: 'Patch',
  subject: 'drawn',
  help: 'Grows inside a patch that is drawn on the ground, or keeps out of it.',
  flat: true,
  dear: true,
  params: {
    patch: ref('patch', { label: 'Patch', help: 'Which patch; draw them in the drawer Outlines.' }),
    side: choice(
      'inside',
      [
        { value: 'inside', label: 'inside' },
        { value: 'outside', label: 'outside' },
      ],
      { label: 'Grow', help: 'Inside the patch only, or anywhere but there.' },
    ),
    soft: length(0, { label: 'Soft edge', help: 'Over how many metres it thins out towards the edge of the patch.', max: 1000 }),
  },
  sentence: () => phrase`${{ param: 'side' }} ${{ param: 'patch' }}`,
  reach: (p) => p.soft,
  prepare(p, { things }) {
    const outline = thingOf(things, OUTLINE, p.patch)
    if (!outline) return () => undefined
    const index = indexOf(outline)
    const inward = p.side === 'inside' ? -1 : 1
    return bounded(
      ({ x, z, weight, count }) => {
        const work = columnOf(count)
        index.distances(x, z, count, true, p.soft, work)
        for (let i = 0; i < count; i++) weight[i] *= fadeIn(inward * work[i], p.soft)
      },
      (block) => {
        const { low, high } = distancesIn(block, index, true, p.soft)
        return boundFade(inward > 0 ? { low, high } : { low: -high, high: -low }, p.soft)
      },
    )
  },
  explain(p, { things }, place) {
    const outline = thingOf(things, OUTLINE, p.patch)
    if (!outline) return 'no patch is chosen'
    const away = distanceAt(indexOf(outline), place, true)
    return away < 0 ? `${metres(-away)} inside the patch` : `${metres(away)} outside the patch`
  },
})
