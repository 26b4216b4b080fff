import { meanHeightAt, meanHeights, meanHeightsIn } from '../../grounds/relief.ts'
import { length, span } from '../../kinds.ts'
import { boundWithin } from '../bounds.ts'
import { bounded, defineCondition, ends, metres, SIGNED_WORDS, spanPhrase, within } from './define.ts'

export const hollow = defineCondition({
  kind: 'hollow',
  label: 'Hollow or ridge',
  subject: 'ground',
  help: 'Keeps to ground that lies lower or higher than its surroundings: hollows hold water, ridges catch the wind.',
  dear: true,
  params: {
    over: span('m', null, -0.2, {
      label: 'Above its surroundings',
      help: 'How much higher than the mean around it; below 0 is a hollow, above 0 a ridge.',
      min: -1000,
      max: 1000,
      step: 0.05,
      open: true,
    }),
    radius: length(15, { label: 'Surroundings', help: 'How far around the mean is taken.', min: 0.5, max: 2000, step: 0.5 }),
    soft: length(0.2, { label: 'Soft edge', help: 'Over how much height it thins out towards each end.', max: 500, step: 0.05 }),
  },
  sentence: (p) => [...spanPhrase('over', '', p.over, ' above', 'anywhere above', SIGNED_WORDS), ' the ground within ', { param: 'radius' }],
  prepare(p, { terrain }) {
    const { from, to } = ends(p.over)
    const means = meanHeights(terrain, p.radius)
    return bounded(
      ({ x, y, z, weight, count }) => {
        for (let i = 0; i < count; i++) weight[i] *= within(y[i] - meanHeightAt(means, x[i], z[i]), from, to, p.soft)
      },
      (block) => {
        const [heights, around] = [block.heights(), meanHeightsIn(means, block)]
        return boundWithin({ low: heights.low - around.high, high: heights.high - around.low }, from, to, p.soft)
      },
    )
  },
  explain(p, { terrain }, { x, y, z }) {
    const over = y - meanHeightAt(meanHeights(terrain, p.radius), x, z)
    return `${metres(Math.abs(over))} ${over < 0 ? 'below' : 'above'} the ground within ${metres(p.radius)}`
  },
})
