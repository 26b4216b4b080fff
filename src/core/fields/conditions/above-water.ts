import { length, span } from '../../kinds.ts'
import { boundWithin, shifted } from '../bounds.ts'
import { bounded, defineCondition, ends, metres, spanPhrase, weighWithin } from './define.ts'

export const aboveWater = defineCondition({
  kind: 'above-water',
  label: 'Height above water',
  help: 'Keeps to ground between two heights over the water level; below 0 is under water.',
  params: {
    above: span('m', 0, null, {
      label: 'Above the water',
      help: 'Lowest and highest ground, counted from the water level; leave an end empty for no limit.',
      min: -12000,
      max: 12000,
      step: 0.05,
      open: true,
      shownOver: 'above-water',
    }),
    soft: length(0.1, { label: 'Soft ends', help: 'Over how much height it thins out towards each end.', max: 1000, step: 0.05 }),
  },
  sentence: (p) => spanPhrase('above', '', p.above, ' above the water', 'above or under the water'),
  prepare(p, { waterLevel }) {
    const { from, to } = ends(p.above)
    return bounded(
      ({ weight, y, count }) => weighWithin(weight, y, count, waterLevel, from, to, p.soft),
      (block) => boundWithin(shifted(block.heights(), -waterLevel), from, to, p.soft),
    )
  },
  explain: (_p, { waterLevel }, { y }) => (y < waterLevel ? `${metres(waterLevel - y)} under the water` : `${metres(y - waterLevel)} above the water`),
})
