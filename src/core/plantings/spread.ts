import { groundsOf } from '../grounds/index.ts'
import type { Ground, Place } from '../grounds/ground.ts'
import type { Planting } from '../meadow.ts'
import type { GrowContext } from '../stages/context.ts'
import type { Surroundings } from '../surroundings.ts'
import type { Phrase } from '../kinds.ts'
import { phrase } from '../kinds.ts'
import { leastRoom } from '../stance/stance.ts'
import { createArena } from '../stages/arena.ts'
import { siteAt } from '../stages/site.ts'
import { densityForCount, densityOf } from '../stages/candidates/sources.ts'
import type { GroundArea, PreparedPlot, SpreadGround } from '../stages/plot.ts'
import { prepareStages } from '../stages/stages.ts'
import type { PreparedPlanting, PrepareOptions } from './define.ts'
import { definePlanting } from './define.ts'
import type { SpreadValues } from './spread-params.ts'
import { SOWN_PARAMS, SPREAD_PARAMS } from './spread-params.ts'
import { thrownWords } from './words.ts'

/** What grows by rule over grounds, wherever its coverage lets it; `base` is the coverage where nothing is painted. */
const overGrounds = (base: number) => ({
  base,
  lineReach: null,
  based: false,
  problem: () => null,
  needs: () => null,
  atFirst: (spacing: number) => ({ spacing }),
  howMany(p: SpreadValues): Phrase {
    const byHand = base === 0 ? ['sown by hand, '] : []
    const placed = p.placing === 'natural' ? phrase`${{ param: 'placing' }} (${{ param: 'arrangement' }})` : phrase`${{ param: 'placing' }}`
    if (p.by === 'spacing') return [...byHand, ...phrase`about every ${{ param: 'spacing' }}, `, ...placed]
    if (p.by === 'density') return [...byHand, ...phrase`${{ param: 'density' }}, `, ...placed]
    return [...phrase`${{ param: 'count' }} in all, `, ...placed]
  },
  howItStands: (p: SpreadValues): Phrase => thrownWords(p),
  yieldsToEarlier: (p: SpreadValues) => p.yields && p.room > 0,
  leastRoom,
  apart: ({ by, spacing, density, count }: SpreadValues, area: number) => (by === 'spacing' ? spacing : by === 'density' ? 1 / Math.sqrt(density) : Math.sqrt(area / Math.max(1, count))),
  bars(planting: Planting, values: SpreadValues, surroundings: Surroundings, { ground: id, place }: { readonly ground: string; readonly place: Place }): string | null {
    const grounds = groundsOf(planting.grounds, surroundings)
    const at = grounds.findIndex((ground) => ground.id === id)
    const missed = grounds[at]?.misses?.(values, place)
    if (missed) return missed
    const site = siteAt(place)
    for (const before of grounds.slice(0, Math.max(at, 0))) {
      before.cover(site)
      if (!(site.weight[0] > 0)) return 'This place lies within another of its grounds that comes first in its list.'
    }
    return null
  },
  prepare(planting: Planting, values: SpreadValues, context: GrowContext, { finer = 0, arena = createArena() }: PrepareOptions): PreparedPlanting {
    const seed = planting.seed >>> 0
    const grounds = groundsOf(planting.grounds, context)
    const stages = prepareStages(planting, values, context, arena, base)
    const counted = values.by === 'count'
    const known = counted ? grounds.map((ground) => ground.area(values, stages, false)) : []
    // What is known exactly need not be told about.
    const takens = new Map<Ground, number>(known.map(({ taken }, at) => [grounds[at], taken]))
    const takenOf = (ground: SpreadGround) => {
      const taken = takens.get(ground) ?? ground.area(values, stages, true).taken
      takens.set(ground, taken)
      return taken
    }
    const density = counted ? densityForCount(values, context.assets, togetherOf(known), finer) : densityOf(values)
    const meant = counted ? Math.max(values.count, 1) / Math.max(togetherOf(known).taken, LEAST_AREA) : density
    const before: Ground[] = []
    const plots: PreparedPlot[] = []
    for (const ground of grounds) {
      plots.push(ground.plot({ values, seed, density, meant, stages, taken: () => takenOf(ground), yields: values.yields, before: [...before] }))
      before.push(ground)
    }
    // An exact count takes the lowest keys of all grounds together.
    const densest = plots.reduce((most, plot) => Math.max(most, plot.density), 0)
    return {
      plots,
      largestRoom: stages.largestRoom,
      exactCount: counted ? Math.round(values.count) : null,
      expected: () => (counted ? values.count : grounds.reduce((sum, ground, at) => sum + plots[at].density * takenOf(ground), 0)),
      grow: ({ plot, rect }, near, part) => plots[plot].grow(rect, near, part, counted ? plots[plot].density / densest : 1),
    }
  },
})

export const spread = definePlanting({ kind: 'spread', label: 'Spread', help: 'Fills the ground by rule.', params: SPREAD_PARAMS, ...overGrounds(1) })

export const sown = definePlanting({ kind: 'sown', label: 'Sown', help: 'Grows by the same rules, where it is sown by strokes of a brush.', params: SOWN_PARAMS, ...overGrounds(0) })

/** A ground of less is taken for one of so much, m². */
const LEAST_AREA = 1e-6

/** Several grounds as one. */
function togetherOf(areas: readonly GroundArea[]): GroundArea {
  return areas.reduce((sum, { whole, taken, spare }) => ({ whole: sum.whole + whole, taken: sum.taken + taken, spare: Math.max(sum.spare, spare) }), { whole: 0, taken: 0, spare: 1 })
}
