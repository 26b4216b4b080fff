import { shorelineOf } from '../ground/shoreline.ts'
import { length, span } from '../kinds.ts'
import { defineCondition, ends, spanPhrase, within } from './define.ts'

export const fromWater = defineCondition({
  kind: 'from-water',
  label: 'Distance to water',
  help: 'Keeps near the shoreline, or away from it, measured over the ground in plan.',
  params: {
    away: span('m', 0, 5, {
      label: 'From the shoreline',
      help: 'Nearest and farthest; below 0 is under water.',
      min: -10000,
      max: 10000,
      step: 0.1,
      open: true,
    }),
    soft: length(1, { label: 'Soft ends', help: 'Over how many metres it thins out towards each end.', max: 1000 }),
  },
  sentence: (p) => spanPhrase('away', '', p.away, ' from the water', 'at any distance from the water'),
  prepare(p, { terrain, waterLevel }) {
    const { from, to } = ends(p.away)
    const shoreline = shorelineOf(terrain, waterLevel)
    return ({ x, y, z, weight, count }) => {
      if (work.length < count) work = new Float64Array(2 * count)
      shoreline.distances(x, z, count, false, work)
      for (let i = 0; i < count; i++) weight[i] *= within(y[i] < waterLevel ? -work[i] : work[i], from, to, p.soft)
    }
  },
})

// Working column, shared by all uses in a thread.
let work = new Float64Array(8192)
