import { groundsOf } from '../grounds/index.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import { namingOf } from '../identity.ts'
import type { Phrase } from '../kinds.ts'
import { choice, length, phrase } from '../kinds.ts'
import type { Planting } from '../meadow.ts'
import { distanceAt } from '../fields/conditions/define.ts'
import { leastRoom } from '../stance/stance.ts'
import { createArena } from '../stages/arena.ts'
import { reachOfLines, sourceAlongLines } from '../stages/candidates/along-lines.ts'
import { farthestShift, shiftedSource } from '../stages/candidates/shifted.ts'
import { plotAsWhole } from '../stages/as-whole.ts'
import { plotInTiles } from '../stages/in-tiles.ts'
import { prepareStages } from '../stages/stages.ts'
import type { Surroundings } from '../surroundings.ts'
import { thingOf } from '../things/define.ts'
import { OUTLINE } from '../things/outline.ts'
import { indexOf } from '../outlines/outline.ts'
import { definePlanting } from './define.ts'
import { SPREAD_PARAMS } from './spread-params.ts'
import { thrownWords } from './words.ts'

const fold = 'how-many'
const { ownKind, grove, room, yields, turn, size, sizeSpread, wide, tall, deep, lean, leanTo, wind, follow, eastBy, southBy, lift, liftAlong, seat } = SPREAD_PARAMS

const PARAMS = {
  every: length(0.5, { fold, label: 'One every', help: 'Metres of line to each of them, in the mean.', min: 0.01, max: 500, step: 0.05 }),
  toSides: length(1, { fold, label: 'Spread to the sides', help: 'How far from the line they come to lie at most.', max: 500, step: 0.1 }),
  profile: choice('middle', [{ value: 'middle', label: 'most by the line' }, { value: 'even', label: 'as many far off as near' }], { fold, label: 'Across the line', help: 'Whether they grow fewer away from the line.' }),
  sides: choice('both', [{ value: 'both', label: 'on both sides' }, { value: 'left', label: 'on the left' }, { value: 'right', label: 'on the right' }], { fold, label: 'Sides', help: 'Seen along the line, from where it was begun.' }),
  placing: choice('even', [{ value: 'even', label: 'evenly' }, { value: 'random', label: 'at random' }], { fold, label: 'Along the line', help: 'Evenly gives each stretch of the line its share; at random lets some lie close and leaves gaps.' }),
  ownKind,
  grove,
  room: { ...room, default: 0 },
  yields,
  ...{ turn, size, sizeSpread, wide, tall, deep, lean, leanTo, wind, follow, eastBy, southBy, lift, liftAlong, seat },
}

/** Things that lie along lines drawn on the terrain. */
export const strewn = definePlanting({
  kind: 'strewn',
  label: 'Strewn',
  help: 'Lies along lines that are drawn on the ground, with a spread to the sides.',
  params: PARAMS,
  base: 1,
  lineReach: (values) => reachOfLines(values) + farthestShift(values),
  based: false,
  problem: () => null,
  howMany: ({ sides }): Phrase => phrase`strewn along a line, one every ${{ param: 'every' }}, ${{ param: 'placing' }}, up to ${{ param: 'toSides' }} ${sides === 'both' ? 'to the sides' : `to the ${sides}`}`,
  howItStands: (p): Phrase => thrownWords(p),
  yieldsToEarlier: (p) => p.yields && p.room > 0,
  leastRoom,
  apart: ({ every }) => every,
  bars(planting, { toSides }, surroundings, { ground, place }) {
    if (ground !== TERRAIN_ID) return 'It lies along lines on the terrain only.'
    const lines = linesOf(planting, surroundings)
    if (lines.length === 0) return 'It has no lines yet that anything could lie along.'
    const away = lines.reduce((least, line) => Math.min(least, Math.abs(distanceAt(indexOf(line), place, false))), Infinity)
    return away > toSides ? `This place is ${Number(away.toPrecision(3))} m from the nearest of its lines; things lie up to ${toSides} m from them.` : null
  },
  needs: ({ along }) => (along.length === 0 ? 'Nothing is strewn yet: take up Strew (R) and draw a line over the ground.' : null),
  atFirst: (spacing) => ({ every: Number((spacing / 2).toPrecision(2)), toSides: Number((1.5 * spacing).toPrecision(2)) }),
  prepare(planting, values, context, { arena = createArena() }) {
    const seed = planting.seed >>> 0
    const stages = prepareStages(planting, values, context, arena, 1)
    const along = sourceAlongLines(linesOf(planting, context), seed, values)
    const source = shiftedSource(along, values)
    const covered = along.count / along.density
    // Named by the spacing alone: one line more changes nothing of the others.
    const over = { density: 1 / values.every, meant: 1 / values.every, stages, taken: () => covered, yields: values.yields, before: [] }
    const naming = (ground: string) => namingOf(`strewn ${values.placing} 1`, seed, ground)
    // On meshes stands only what a hand placed there.
    const plots = groundsOf(planting.grounds, context).map((ground) =>
      ground.id === TERRAIN_ID ? plotInTiles(ground, source, naming(ground.id), over) : plotAsWhole(ground, { density: 0, fill: () => 1 }, naming(ground.id), over),
    )
    return {
      plots,
      largestRoom: stages.largestRoom,
      exactCount: null,
      expected: () => along.count,
      grow: ({ plot, rect }, near, part) => plots[plot].grow(rect, near, part, 1),
    }
  },
})

/** The lines of a planting, as far as they are there. */
function linesOf({ along }: Planting, { things }: Pick<Surroundings, 'things'>) {
  return along.flatMap((id) => thingOf(things, OUTLINE, id) ?? [])
}
