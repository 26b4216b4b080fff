import { length, span } from '../../kinds.ts'
import { boundWithin, shifted } from '../bounds.ts'
import type { Phrase, Span } from '../../kinds.ts'
import { bounded, defineCondition, ends, metres, weighWithin } from './define.ts'

export const aboveWater = defineCondition({
  kind: 'above-water',
  label: 'Height above water',
  subject: 'water',
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
    soft: length(0.1, { label: 'Soft edge', help: 'Over how much height it thins out towards each end.', max: 1000, step: 0.05 }),
  },
  sentence: (p) => depthPhrase(p.above),
  prepare(p, { waterLevel }) {
    const { from, to } = ends(p.above)
    return bounded(
      ({ weight, y, count }) => weighWithin(weight, y, count, waterLevel, from, to, p.soft),
      (block) => boundWithin(shifted(block.heights(), -waterLevel), from, to, p.soft),
    )
  },
  explain: (_p, { waterLevel }, { y }) => (y < waterLevel ? `${metres(waterLevel - y)} under the water` : `${metres(y - waterLevel)} above the water`),
})

const WORDS = { under: 'less than', above: 'more than' }

/** Heights as one says them at a shore: above the water, or under it, never below 0 above it. */
function depthPhrase({ from, to }: Span): Phrase {
  const low = from ?? -Infinity
  const high = to ?? Infinity
  if (from === null && to === null) return [{ param: 'above', text: 'above or under the water' }]
  if (low >= 0 || (from === null && high > 0)) return [{ param: 'above', words: WORDS }, ' above the water']
  if (high <= 0) return [{ param: 'above', words: WORDS, turned: true }, ' under the water']
  const deepest = { param: 'above', end: 'from', turned: true } as const
  return to === null ? ['from ', deepest, ' under the water up'] : ['from ', deepest, ' under to ', { param: 'above', end: 'to' }, ' above the water']
}
