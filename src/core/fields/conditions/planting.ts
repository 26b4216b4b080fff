import { choice, length, ref } from '../../kinds.ts'
import { smoothstep } from '../../math/portable.ts'
import { ANYTHING, awayIn, boundTurned } from '../bounds.ts'
import type { Weigh } from './define.ts'
import { bounded, defineCondition, metres } from './define.ts'
import { FALLOFFS } from '../falloff.ts'

export const planting = defineCondition({
  kind: 'planting',
  label: 'Another planting',
  subject: 'things',
  help: 'Keeps away from what another planting has grown, or gathers near it. The other one stands above in the list.',
  flat: true,
  dear: true,
  params: {
    planting: ref('planting', { label: 'Planting', help: 'Which one; it must come before in the list.' }),
    manner: choice(
      'away',
      [
        { value: 'away', label: 'more than' },
        { value: 'near', label: 'within' },
      ],
      { label: 'Grows', help: 'More than a distance from its instances, or within it only.' },
    ),
    distance: length(2, { label: 'Distance', help: 'From the nearest instance, in plan.', min: 0.05, max: 500, step: 0.1 }),
    profile: choice(
      'steady',
      [
        { value: 'steady', label: 'at a soft edge' },
        { value: 'straight', label: 'all the way' },
        { value: 'close', label: 'all the way, steep' },
      ],
      { label: 'Thins out', help: 'At a soft edge only, all the way to the distance, or quickly at first and slowly farther off.' },
    ),
  },
  sentence: (p) => [{ param: 'manner' }, ' ', { param: 'distance' }, p.manner === 'near' ? ' of ' : ' from ', { param: 'planting' }],
  reach: (p) => p.distance,
  prepare(p) {
    const near = p.manner === 'near'
    const nearness = PROFILES[p.profile]
    const weigh: Weigh = ({ x, z, weight, count }, around) => {
      const places = around.plantings.get(p.planting)
      if (!places) return
      for (let i = 0; i < count; i++) {
        if (!(weight[i] > 0)) continue
        const away = places.nearest(x[i], z[i], p.distance) / p.distance
        const close = away < 1 ? nearness(away) : 0
        weight[i] *= near ? close : 1 - close
      }
    }
    return bounded(weigh, (block, around) => {
      const places = around.plantings.get(p.planting)
      if (!places) return ANYTHING
      const { low, high } = awayIn(block, places, p.distance)
      const close = { low: high < p.distance ? nearness(high / p.distance) : 0, high: low < p.distance ? nearness(low / p.distance) : 0 }
      return near ? close : boundTurned(close)
    })
  },
  explain(p, _context, { x, z }, around) {
    const places = around.plantings.get(p.planting)
    if (!places) return 'the other planting is not known here'
    const away = places.nearest(x, z, p.distance)
    return away < Infinity ? `the nearest one stands ${metres(away)} away` : `none stands within ${metres(p.distance)}`
  },
})

/** Nearness 1…0 for a distance 0…1. */
const PROFILES = {
  steady: (away: number) => 1 - smoothstep((away - 0.8) / 0.2),
  straight: FALLOFFS.straight,
  close: FALLOFFS.steep,
} as const
