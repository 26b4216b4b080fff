import { length, span } from '../../kinds.ts'
import { boundWithin } from '../bounds.ts'
import { bounded, defineCondition, ends, metres, spanPhrase, weighWithin } from './define.ts'

export const height = defineCondition({
  kind: 'height',
  label: 'Height',
  subject: 'ground',
  help: 'Keeps to ground between two heights.',
  params: {
    height: span('m', null, null, {
      label: 'Height',
      help: 'Lowest and highest ground that is taken; leave an end empty for no limit.',
      min: -12000,
      max: 12000,
      step: 0.1,
      open: true,
      shownOver: 'height',
    }),
    soft: length(0.5, { label: 'Soft edge', help: 'Over how much height it thins out towards each end.', max: 1000, step: 0.1 }),
  },
  sentence: (p) => spanPhrase('height', 'at heights ', p.height, '', 'at any height'),
  prepare(p) {
    const { from, to } = ends(p.height)
    return bounded(
      ({ weight, y, count }) => weighWithin(weight, y, count, 0, from, to, p.soft),
      (block) => boundWithin(block.heights(), from, to, p.soft),
    )
  },
  explain: (_p, _context, { y }) => `at a height of ${metres(y)}`,
})
