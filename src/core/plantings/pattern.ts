import type { Ground } from '../grounds/ground.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import { groundsOf } from '../grounds/index.ts'
import type { Solid } from '../grounds/solid.ts'
import { namingOf } from '../identity.ts'
import { cos, DEGREE, sin } from '../math/portable.ts'
import type { Quaternion } from '../math/quaternion.ts'
import { turned } from '../math/quaternion.ts'
import { drawKeyOf, drawSalt } from '../math/random.ts'
import type { Phrase, ValuesOf } from '../kinds.ts'
import { angle, choice, share } from '../kinds.ts'
import type { Planting } from '../meadow.ts'
import { meshGroundsOf } from '../meadow.ts'
import type { Frames } from '../order/frames.ts'
import { framesOf, MOST_MEMBERS } from '../order/frames.ts'
import { baseInWorld, putOnBase } from '../order/base.ts'
import type { Drop } from '../order/drop.ts'
import { dropped } from '../order/drop.ts'
import { createArena } from '../stages/arena.ts'
import type { GrowContext } from '../stages/context.ts'
import { plotInOrder, shiftAlong } from '../stages/in-order.ts'
import { prepareStages } from '../stages/stages.ts'
import type { StanceValues } from '../stance/stance.ts'
import { closed, leastRoom } from '../stance/stance.ts'
import { thingOf } from '../things/define.ts'
import { MESH } from '../things/mesh.ts'
import type { PreparedPlanting, PrepareOptions } from './define.ts'
import { SPREAD_PARAMS } from './spread-params.ts'
import { membersWords } from './words.ts'

const { ownKind, grove, room, yields, turn, size, sizeSpread, wide, tall, deep, lean, leanTo, wind, follow, eastBy, southBy, lift, liftAlong, seat } = SPREAD_PARAMS

/** Which way fronts look along a line or a row. */
export const FACINGS = [{ value: 'ahead', label: 'ahead' }, { value: 'back', label: 'back' }, { value: 'left', label: 'to the left' }, { value: 'right', label: 'to the right' }, { value: 'same', label: 'all the same way' }] as const

/** What patterns have in common: things in order are all alike at first, and stand where they are put. */
export const PATTERN_PARAMS = {
  leftOut: share(0, { fold: 'how-many', label: 'Left out', help: 'Which share of them is left out, each by its own dice.', step: 0.05 }),
  takes: choice('dice', [{ value: 'dice', label: 'at random, by their shares' }, { value: 'turns', label: 'by turns' }, { value: 'place', label: 'by their place in the run' }], { fold: 'what', label: 'Those of the mix come', help: 'Thrown for each, one after the other, or the first at the beginning and the last at the end.' }),
  ownKind,
  grove,
  room: { ...room, default: 0 },
  yields: { ...yields, default: false },
  land: share(1, { fold: 'how-it-stands', label: 'Down to the ground', help: '100 % puts each on the ground where it is, 0 % leaves them at the pattern’s own heights.', step: 0.05 }),
  dropTo: choice('down', [{ value: 'down', label: 'straight down' }, { value: 'own', label: 'along its own down' }, { value: 'side', label: 'to a side' }], { fold: 'how-it-stands', label: 'Coming down', help: 'Straight down; along its own down, which is that of what the pattern stands on; or to a compass side, on what it meets there.' }),
  dropCompass: angle(0, { fold: 'how-it-stands', label: 'Comes down to', help: 'The compass side that it comes down to: 0° north, 90° east.', max: 360, step: 5, shownWhen: { param: 'dropTo', is: ['side'] } }),
  dropSteep: angle(0, { fold: 'how-it-stands', label: 'Steepness of coming down', help: '0° goes level, 90° straight down.', max: 90, step: 5, shownWhen: { param: 'dropTo', is: ['side'] } }),
  turn: { ...turn, default: { from: 0, to: 0 } },
  size: { ...size, default: { from: 1, to: 1 } },
  sizeSpread,
  wide,
  tall,
  deep,
  eastBy,
  southBy,
  lean: { ...lean, default: { from: 0, to: 0 } },
  leanTo,
  wind,
  follow: { ...follow, default: 0 },
  lift,
  liftAlong,
  seat: { ...seat, default: 'centre' as const },
}

export type PatternValues = ValuesOf<typeof PATTERN_PARAMS>

/** What the kinds of patterns say alike. */
export const patternOf = <V extends Omit<StanceValues, 'follow' | 'seat'> & Pick<PatternValues, 'leftOut' | 'room' | 'yields'>>() => ({
  base: 1,
  inOrder: true as const,
  howItStands: (p: V): Phrase => membersWords(p),
  yieldsToEarlier: (p: V) => p.yields && p.room > 0,
  leastRoom,
  bars: () => 'It stands in order, at its own places only.',
})

/** More than the patterns can hold, in words; null when they can. */
export function tooMany(count: number): string | null {
  return count > MOST_MEMBERS ? `This would be ${Math.round(count).toLocaleString('en')} in order, and at most ${MOST_MEMBERS.toLocaleString('en')} can stand in one pattern; lower a count.` : null
}

/** The members of a pattern, in the world, on a ground. */
export interface Members {
  /** The ground that they belong to; missing of what stands on the base of its planting. */
  readonly ground?: Ground
  readonly frames: Frames
  readonly reach?: Float64Array
  readonly axis?: 0 | 2
}

/** Frames of a pattern put on the base of its planting; none when the base's host is gone. */
export function onBase({ base }: Planting, frames: () => Frames, context: GrowContext): Frames {
  const at = base && baseInWorld(base, context)
  if (!at) return framesOf(0)
  const made = frames()
  putOnBase(made, at)
  return made
}

/** The meshes among the grounds of a planting, as far as they are there. */
export function solidsOf(planting: Planting, { things }: Pick<GrowContext, 'things'>): Solid[] {
  return meshGroundsOf(planting).flatMap((id) => thingOf(things, MESH, id) ?? [])
}

/** Prepares a pattern whose members are known: those of each ground grow in one go. `source` names how they are made, for their ids. */
export function prepareInOrder(source: string, planting: Planting, values: PatternValues, context: GrowContext, { arena = createArena() }: PrepareOptions, sets: readonly Members[]): PreparedPlanting {
  const stages = prepareStages(planting, values, context, arena, 1)
  const [terrain] = groundsOf([TERRAIN_ID], context)
  const area = Math.max(1e-6, (terrain.bounds.x1 - terrain.bounds.x0) * (terrain.bounds.z1 - terrain.bounds.z0))
  const lengths = (of: 0 | 2) => context.assets.map(({ size }) => size[of])
  const largestRoom = sets.reduce((most, members) => Math.max(most, largestRoomOf(members, stages.largestRoom, lengths, context, values)), 0)
  const { land, leftOut } = values
  const drop = land > 0 && values.dropTo !== 'down' ? dropOf(planting, values, context) : null
  const solids = solidsOf(planting, context)
  const alike = { land, leftOut, seed: planting.seed >>> 0, eastBy: closed(values.eastBy), southBy: closed(values.southBy), largestRoom, lengths }
  const plots = sets.map(({ ground, frames: made, reach = null, axis = 0 }) => {
    const came = drop && !ground && !reach ? dropped(made, drop(made)) : null
    const frames = came?.frames ?? made
    const over = { density: frames.count / area, meant: frames.count / area, stages, taken: () => area, yields: values.yields, before: [] }
    // What stands on a mesh is of its ground: it goes along with it.
    const on = ground ?? { ...terrain, id: planting.base?.host ?? TERRAIN_ID }
    return plotInOrder(on, { ...alike, ...(came && UNSHIFTED), frames, reach, axis, normal: came?.normal ?? null, onOwn: ground !== undefined, solids: ground || reach ? [] : solids, onGround: planting.grounds.includes(TERRAIN_ID) }, namingOf(source, 0, on.id), over)
  })
  return {
    plots,
    largestRoom,
    exactCount: null,
    expected: () => sets.reduce((sum, { frames }) => sum + frames.count, 0),
    grow: ({ plot, rect }, near, part) => plots[plot].grow(rect, near, part, 1),
  }
}

/** Shifts of what is shifted already. */
const UNSHIFTED = { eastBy: [0, 0], southBy: [0, 0] } as const

/** How members come down along ways that are not straight down. */
function dropOf(planting: Planting, values: PatternValues, context: GrowContext): (frames: Frames) => Drop {
  const level = cos(values.dropSteep * DEGREE)
  const side = [sin(values.dropCompass * DEGREE) * level, -sin(values.dropSteep * DEGREE), -cos(values.dropCompass * DEGREE) * level] as const
  const salt = drawSalt(planting.seed >>> 0)
  const [eastBy, southBy] = [closed(values.eastBy), closed(values.southBy)]
  const grounds = groundsOf(planting.grounds, context)
  return ({ turn, low, high }) => {
    const turnAt = (k: number): Quaternion => [turn[4 * k], turn[4 * k + 1], turn[4 * k + 2], turn[4 * k + 3]]
    return {
      way: values.dropTo === 'side' ? () => side : (k) => turned(turnAt(k), [0, -1, 0]),
      share: values.land,
      grounds,
      terrain: context.terrain,
      shift: (k) => shiftAlong(turnAt(k), drawKeyOf(salt, low[k], high[k]), eastBy, southBy),
    }
  }
}

/** Largest radius of room that any of some members can want, m: `most` is that of an instance of size 1. */
function largestRoomOf({ frames, reach, axis = 0 }: Members, most: number, lengths: (axis: 0 | 2) => readonly number[], { assets }: GrowContext, values: PatternValues): number {
  const widest = frames.size.reduce((high, one) => Math.max(high, one), 1)
  // What is drawn out to reach the next place wants so much more room.
  const farthest = reach?.reduce((high, one) => Math.max(high, one), 0) ?? 0
  const drawnOut = farthest > 0 ? lengths(axis).map((long, a) => (long > 0 ? (assets[a].room * values.room * farthest) / long : 0)) : []
  return Math.max(most * widest, ...drawnOut)
}
