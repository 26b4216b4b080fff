import { shorelineOf } from '../../grounds/shoreline.ts'
import { length, span } from '../../kinds.ts'
import { distancesIn } from '../bounds.ts'
import { bounded, defineCondition, DISTANCE_WORDS, distanceAt, ends, metres, spanPhrase } from './define.ts'
import { SOFT_EDGE, thinning, thinsParam, thinsPhrase } from './thinning.ts'
import { scratchColumn } from '../scratch.ts'

const columnOf = scratchColumn()

export const fromWater = defineCondition({
  kind: 'from-water',
  label: 'Distance to water',
  subject: 'water',
  help: 'Keeps near the shoreline, or away from it, measured over the ground in plan.',
  dear: true,
  params: {
    away: span('m', 0, 5, {
      label: 'From the shoreline',
      help: 'Nearest and farthest; below 0 is under water.',
      min: -10000,
      max: 10000,
      step: 0.1,
      open: true,
    }),
    thins: thinsParam(),
    soft: length(1, { label: 'Soft edge', help: 'Over how many metres it thins out towards each end.', max: 1000, shownWhen: SOFT_EDGE }),
  },
  sentence: (p) => [
    ...spanPhrase('away', '', p.away, p.away.from === null ? ' of the water' : ' from the water', 'at any distance from the water', DISTANCE_WORDS),
    ...thinsPhrase(p.thins, p.away),
  ],
  prepare(p, { terrain, waterLevel }) {
    const { from, to } = ends(p.away)
    // Farther off, on either side, the weight is the same everywhere.
    const limit = Math.max(...[from, to, from + p.soft, to - p.soft].filter(Number.isFinite).map(Math.abs), 0)
    const { weigh, bound } = thinning(p.thins, { from, to, soft: p.soft }, 0)
    const shoreline = shorelineOf(terrain, waterLevel)
    return bounded(
      ({ x, y, z, weight, count }) => {
        const work = columnOf(count)
        shoreline.distances(x, z, count, false, limit, work)
        for (let i = 0; i < count; i++) if (y[i] < waterLevel) work[i] = -work[i]
        weigh(weight, work, count)
      },
      (block) => {
        const [heights, off] = [block.heights(), distancesIn(block, shoreline, false, limit)]
        const [dry, wet] = [heights.low >= waterLevel, heights.high < waterLevel]
        return bound({ low: dry ? off.low : -off.high, high: wet ? -off.low : off.high })
      },
    )
  },
  explain(_p, { terrain, waterLevel }, place) {
    const away = distanceAt(shorelineOf(terrain, waterLevel), place, false)
    if (away === Infinity) return 'there is no shoreline'
    return `${metres(away)} from the shoreline${place.y < waterLevel ? ', under water' : ''}`
  },
})
