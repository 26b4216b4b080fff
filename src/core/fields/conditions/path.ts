import { length, ref, span } from '../../kinds.ts'
import { indexOf } from '../../outlines/outline.ts'
import { thingOf } from '../../things/define.ts'
import { OUTLINE } from '../../things/outline.ts'
import { distancesIn } from '../bounds.ts'
import { bounded, defineCondition, DISTANCE_WORDS, distanceAt, ends, metres, spanPhrase } from './define.ts'
import { SOFT_EDGE, thinning, thinsParam, thinsPhrase } from './thinning.ts'
import { scratchColumn } from '../scratch.ts'

const columnOf = scratchColumn()

export const path = defineCondition({
  kind: 'path',
  label: 'Distance to a path',
  subject: 'drawn',
  help: 'Keeps along a path, or off it: between two distances from its edge.',
  flat: true,
  dear: true,
  params: {
    path: ref('path', { label: 'Path', help: 'Which path; draw them in the drawer Outlines.' }),
    away: span('m', null, 3, {
      label: 'From its edge',
      help: 'Nearest and farthest, counted from the edge of the path; below 0 is on the path itself. Leave the nearest empty to take the path in.',
      min: -500,
      max: 10000,
      step: 0.1,
      open: true,
    }),
    thins: thinsParam(),
    soft: length(0.5, { label: 'Soft edge', help: 'Over how many metres it thins out towards each end.', max: 1000, shownWhen: SOFT_EDGE }),
  },
  sentence: (p) => [
    ...spanPhrase('away', '', p.away, '', 'at any distance', DISTANCE_WORDS),
    p.away.from === null && p.away.to !== null ? ' of ' : ' from ',
    { param: 'path' },
    ...thinsPhrase(p.thins, p.away),
  ],
  // Farther off the weight is the same everywhere.
  reach: ({ away: { from, to }, soft }) => Math.max(Math.abs(from ?? 0), Math.abs(to ?? 0), Math.abs((from ?? 0) + soft)),
  prepare(p, { things }) {
    const outline = thingOf(things, OUTLINE, p.path)
    if (!outline) return () => undefined
    const index = indexOf(outline)
    const half = outline.width / 2
    const { from, to } = ends(p.away)
    // Farther off the weight is the same everywhere.
    const limit = half + Math.max(0, to < Infinity ? to : from + p.soft)
    const { weigh, bound } = thinning(p.thins, { from, to, soft: p.soft }, half)
    return bounded(
      ({ x, z, weight, count }) => {
        const work = columnOf(count)
        index.distances(x, z, count, false, limit, work)
        weigh(weight, work, count)
      },
      (block) => bound(distancesIn(block, index, false, limit)),
    )
  },
  explain(p, { things }, place) {
    const outline = thingOf(things, OUTLINE, p.path)
    if (!outline) return 'no path is chosen'
    const away = distanceAt(indexOf(outline), place, false) - outline.width / 2
    return away < 0 ? `on the path, ${metres(-away)} from its edge` : `${metres(away)} from the edge of the path`
  },
})
