import { defineCondition, metres } from '../src/core/fields/conditions/define.ts'
import { length, phrase } from '../src/core/kinds.ts'

/** A condition that no part of the application knows of: stripes of ground across the meadow, from north to south. */
export const madeUp = defineCondition({
  kind: 'made-up-stripes',
  label: 'Stripes',
  subject: 'pattern',
  help: 'Takes every other stripe of ground.',
  params: { width: length(10, { label: 'Stripe width', help: 'How wide each stripe is.', min: 1, max: 100, step: 1 }) },
  sentence: () => phrase`in stripes of ${{ param: 'width' }}`,
  prepare:
    ({ width }) =>
    ({ x, weight, count }) => {
      for (let i = 0; i < count; i++) if (Math.floor(x[i] / width) % 2 !== 0) weight[i] = 0
    },
  explain: ({ width }, _context, { x }) => `stripe ${Math.floor(x / width)}, which begins at ${metres(Math.floor(x / width) * width)}`,
})
