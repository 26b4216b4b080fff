import { moveSite } from '../columns.ts'
import type { Weigh } from '../fields/conditions/define.ts'
import { uniformNoise } from '../fields/conditions/patchiness.ts'
import type { Driven, PreparedDrivers } from '../fields/drivers/drive.ts'
import { CHANNEL, draw } from '../math/random.ts'
import type { Share } from '../meadow.ts'
import type { GrowContext } from './context.ts'
import type { StanceValues } from '../stance/stance.ts'
import { axesDrawer, closed, sizeDrawer } from '../stance/stance.ts'
import type { Around } from '../surroundings.ts'
import type { Arena } from './arena.ts'
import { prepareUse } from './habitat.ts'

export interface ChooseValues extends StanceValues {
  room: number
  ownKind: number
  grove: number
  /** How members of a pattern take theirs of the mix; missing where there is no pattern. */
  takes?: 'dice' | 'turns' | 'place'
}

/** The stage that gives each site one of the mix, its size and its room. */
export interface ChooseStage {
  /** Largest radius of room an instance can want, m. */
  readonly largestRoom: number
  /** How many different ranks of room there are. */
  readonly ranks: number
  /** Chooses for the arena's sites; those that nobody of the mix takes are dropped, and those that `thin` drops once their assets are known. Tells what drivers do to how they stand. */
  choose(around: Around, thin: () => void): Driven | null
}

export function prepareChoose(arena: Arena, mix: readonly Share[], values: ChooseValues, context: GrowContext, seed: number, drivers: PreparedDrivers): ChooseStage {
  const { assets } = context
  const drawSizes = sizeDrawer(values)
  const rooms = Float64Array.from(assets, (asset) => asset.room * values.room)
  const [, largestSize] = closed(values.size)
  const axes = axesDrawer(values)
  const widest = Math.max(closed(values.wide)[1], closed(values.deep)[1])
  // Larger assets first; the same for all sizes of one asset, so that more density displaces none of its own.
  const rankOfAsset = rankBySize(assets.map((asset) => asset.room))
  const pick = prepareMix(arena, mix, values, context, seed)
  return {
    largestRoom: rooms.reduce((most, room) => Math.max(most, room * largestSize * widest * drivers.widest), 0),
    ranks: Math.max(1, new Set(rankOfAsset).size),
    choose(around, thin) {
      const { sites, size } = arena
      drawSizes(sites.draws, sites.count, size)
      pick(around)
      thin()
      const driven = drivers.stand?.(sites, around, arena) ?? null
      measure(arena, rooms, rankOfAsset, driven)
      if (axes) widenRooms(arena, axes)
      return driven
    },
  }
}

// At module level: made anew by every preparing, it would be compiled and optimised anew each time.

/** Writes rank, girth and room of all sites, driven sizes taken in. */
function measure(arena: Arena, rooms: Float64Array, rankOfAsset: Uint16Array, driven: Driven | null): void {
  const { pick, rank, size, girth, radius, sites } = arena
  const { count } = sites
  const by = driven?.size
  if (by) for (let i = 0; i < count; i++) size[i] *= by[i]
  const widened = driven?.girth
  for (let i = 0; i < count; i++) {
    const wide = widened ? size[i] * widened[i] : size[i]
    girth[i] = wide
    rank[i] = rankOfAsset[pick[i]]
    radius[i] = rooms[pick[i]] * wide
  }
}

/** Widens rooms by what is wider or deeper than it is large. */
function widenRooms({ radius, sites }: Arena, axes: NonNullable<ReturnType<typeof axesDrawer>>): void {
  for (let i = 0; i < sites.count; i++) {
    const [wide, , deep] = axes(sites.draws[i])
    radius[i] *= Math.max(wide, deep)
  }
}

/** Rank 0 for the largest room, 1 for the next, equal for equal ones. */
function rankBySize(rooms: readonly number[]): Uint16Array {
  const falling = [...new Set(rooms)].sort((a, b) => b - a)
  return Uint16Array.from(rooms, (room) => falling.indexOf(room))
}

/** Cumulative shares of a mix, ending in 1; an empty mix gives none. */
function cumulativeShares(mix: readonly Share[]): Float64Array {
  let total = 0
  for (const entry of mix) total += Math.max(entry.share, 0)
  const sums = new Float64Array(mix.length)
  let sum = 0
  mix.forEach((entry, i) => {
    sum += total > 0 ? Math.max(entry.share, 0) / total : 1 / mix.length
    sums[i] = sum
  })
  if (sums.length > 0) sums[sums.length - 1] = 1
  return sums
}

/**
 * Picks one of the mix for every site of the arena. Groves: a share of the sites takes its dice from a
 * noise whose values are as evenly spread as dice, so that shares stay true. A share with a condition counts
 * whole where the condition holds and down to `elsewhere` of it where it refuses; only where no share of the
 * mix counts at all, the site is dropped.
 */
function prepareMix(arena: Arena, mix: readonly Share[], { ownKind, grove, takes = 'dice' }: ChooseValues, context: GrowContext, seed: number): (around: Around) => void {
  const { sites } = arena
  const shares = cumulativeShares(mix)
  const last = shares.length - 1
  const noise = ownKind > 0 && last > 0 ? uniformNoise(seed ^ 0x3ad8025f, 1 / grove, context.terrain.bounds) : null
  const prefers: readonly (Weigh | null)[] = mix.map(({ where }) => (where?.on ? prepareUse(where, context, seed) : null))

  function fillDice({ runs }: Around): void {
    const { dice } = arena
    if (runs && takes !== 'dice') {
      const { addressLow, count } = sites
      const turns = takes === 'turns' ? turnsOf(shares, runs.index) : null
      for (let i = 0; i < count; i++) dice[i] = Math.min(BELOW_ONE, turns ? turns[runs.index[addressLow[i]]] : runs.along[addressLow[i]])
      return
    }
    if (noise) noise(sites, dice)
    for (let i = 0; i < sites.count; i++)
      if (!noise || draw(sites.draws[i], CHANNEL.mingle) >= ownKind) dice[i] = draw(sites.draws[i], CHANNEL.asset)
  }

  if (prefers.every((one) => one === null))
    return (around) => {
      const { pick, dice } = arena
      if (last <= 0) {
        pick.fill(0, 0, sites.count)
        return
      }
      fillDice(around)
      for (let i = 0; i < sites.count; i++) {
        let a = 0
        while (a < last && dice[i] >= shares[a]) a++
        pick[i] = a
      }
    }

  return (around) => {
    const weights = prefers.map((prefer, a) => {
      const share = shares[a] - (a > 0 ? shares[a - 1] : 0)
      const own = arena.borrow(sites.count)
      if (prefer) {
        const least = mix[a].elsewhere ?? 0
        sites.weight.fill(1, 0, sites.count)
        prefer(sites, around, arena)
        for (let i = 0; i < sites.count; i++) own[i] = share * (least + (1 - least) * sites.weight[i])
      } else own.fill(share, 0, sites.count)
      return own
    })
    fillDice(around)
    pickByWeight(arena, weights)
    for (let a = 0; a <= last; a++) arena.giveBack()
  }
}

const BELOW_ONE = 1 - 1e-12

/** The dice of each number in a run, so that those of the mix take turns as evenly as their shares let them: each time whose share is most behind. */
function turnsOf(shares: Float64Array, index: Float64Array): Float64Array {
  const most = index.reduce((high, one) => Math.max(high, one), 0)
  const dice = new Float64Array(most + 1)
  const had = new Float64Array(shares.length)
  const shareOf = (a: number) => shares[a] - (a > 0 ? shares[a - 1] : 0)
  for (let k = 0; k <= most; k++) {
    let next = 0
    for (let a = 1; a < shares.length; a++) if (shareOf(a) * (k + 1) - had[a] > shareOf(next) * (k + 1) - had[next] + 1e-9) next = a
    had[next]++
    dice[k] = shares[next] - 0.5 * shareOf(next)
  }
  return dice
}

/** Picks by dice and the weights that each of the mix has at a site; moves those that somebody takes together. */
function pickByWeight(arena: Arena, weights: readonly Float64Array[]): void {
  const { sites, pick, dice, key, size } = arena
  const last = weights.length - 1
  let kept = 0
  for (let i = 0; i < sites.count; i++) {
    let total = 0
    for (let a = 0; a <= last; a++) total += weights[a][i]
    if (!(total > 0)) continue
    let left = dice[i] * total
    let a = 0
    while (a < last && left >= weights[a][i]) left -= weights[a++][i]
    moveSite(arena.sites, i, kept)
    key[kept] = key[i]
    size[kept] = size[i]
    pick[kept++] = a
  }
  sites.count = kept
}
