import { length, ref, span } from '../../kinds.ts'
import { indexOf } from '../../outlines/outline.ts'
import { thingOf } from '../../things/define.ts'
import { OUTLINE } from '../../things/outline.ts'
import { boundWithin, distancesIn, shifted } from '../bounds.ts'
import { bounded, defineCondition, DISTANCE_WORDS, distanceAt, ends, metres, spanPhrase, weighWithin } from './define.ts'
import { scratchColumn } from '../scratch.ts'

const columnOf = scratchColumn()

export const path = defineCondition({
  kind: 'path',
  label: 'Distance to a path',
  help: 'Keeps along a path, or off it: between two distances from its sides.',
  flat: true,
  dear: true,
  params: {
    path: ref('path', { label: 'Path', help: 'Which path; draw them in the drawer Outlines.' }),
    away: span('m', 0, 3, {
      label: 'From its sides',
      help: 'Nearest and farthest, counted from the sides of the path; below 0 is on the path itself.',
      min: -500,
      max: 10000,
      step: 0.1,
      open: true,
    }),
    soft: length(0.5, { label: 'Soft ends', help: 'Over how many metres it thins out towards each end.', max: 1000 }),
  },
  sentence: (p) => [
    ...spanPhrase('away', '', p.away, '', 'at any distance', DISTANCE_WORDS),
    p.away.from === null && p.away.to !== null ? ' of ' : ' from ',
    { param: 'path' },
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
    return bounded(
      ({ x, z, weight, count }) => {
        const work = columnOf(count)
        index.distances(x, z, count, false, limit, work)
        weighWithin(weight, work, count, half, from, to, p.soft)
      },
      (block) => boundWithin(shifted(distancesIn(block, index, false, limit), -half), from, to, p.soft),
    )
  },
  explain(p, { things }, place) {
    const outline = thingOf(things, OUTLINE, p.path)
    if (!outline) return 'no path is chosen'
    const away = distanceAt(indexOf(outline), place, false) - outline.width / 2
    return away < 0 ? `on the path, ${metres(-away)} from its side` : `${metres(away)} from the side of the path`
  },
})
