import type { Block, Sites } from '../columns.ts'
import { blockOf, moveNormal } from '../columns.ts'
import type { Weigh } from '../fields/conditions/define.ts'
import { uniformNoise } from '../fields/conditions/patchiness.ts'
import type { Driven } from '../fields/drivers/drive.ts'
import { prepareDrivers } from '../fields/drivers/drive.ts'
import type { SeatBases } from '../grounds/mesh-seat.ts'
import type { Rect } from '../grounds/terrain.ts'
import { landHeights } from '../grounds/terrain.ts'
import type { Naming } from '../identity.ts'
import { writeIds } from '../identity.ts'
import { CHANNEL, draw } from '../math/random.ts'
import type { Planting, Share } from '../meadow.ts'
import type { StanceValues } from '../stance/stance.ts'
import { closed, prepareStance, sizeDrawer } from '../stance/stance.ts'
import type { Around } from '../surroundings.ts'
import type { GrowContext } from '../plantings/define.ts'
import type { Habitat } from './habitat.ts'
import { habitatArea, prepareUse } from './habitat.ts'
import { byKeyThenId } from './order.ts'
import { fitWorkspace, workspace } from './arena.ts'

/** What a planting makes of candidate sites, whatever ground they lie on. */
export interface Members {
  /** Largest radius of room an instance can want, m. */
  readonly largestRoom: number
  /** How many different ranks of room the workspace can tell of. */
  readonly ranks: number
  /** Area that the conditions take, thinned out where they thin out, m². */
  area(bounds: Rect): number
  /**
   * Leaves in the workspace those of its sites that stand: weighed by all conditions, thinned by
   * their own ranks (below `limit`, of which `part` is wanted), with asset, size and room.
   */
  choose(limit: number, part: number, around: Around): void
  /** The block of the sites that stay, named; `seatElsewhere` seats their bases where they do not lie on the terrain. */
  finish(stay: Uint32Array, naming: Naming, seatElsewhere?: SeatBases): Block
}

interface MemberValues extends StanceValues {
  room: number
  ownKind: number
  grove: number
}

/** Prepares mix, drivers and stance of a planting. */
export function prepareMembers(planting: Planting, values: MemberValues, context: GrowContext, habitat: Habitat): Members {
  const { terrain, assets, assetNumbers } = context
  const seed = planting.seed >>> 0
  const work = workspace
  const sites = work.sites
  const drivers = prepareDrivers(planting.drivers, context, seed)
  const drawSizes = sizeDrawer(values)
  const stand = prepareStance(values, terrain)
  const bases = assets.map((asset) => asset.base)
  const rooms = Float64Array.from(assets, (asset) => asset.room * values.room)
  const [, largestSize] = closed(values.size)
  const largestRoom = rooms.reduce((most, room) => Math.max(most, room * largestSize * drivers.widest), 0)
  // Larger assets first; the same for all sizes of one asset, so that more density displaces none of its own.
  const rankOfAsset = rankBySize(assets.map((asset) => asset.room))
  const choose = prepareMix(planting.mix, values, context, seed)
  const asksHeights = drivers.thin !== null || drivers.stand !== null || planting.mix.some(({ where }) => where?.on)
  const landed = habitat.lands || asksHeights
  let driven: Driven | null = null

  function weigh(some: Sites, around: Around): void {
    habitat(some, around)
    if (asksHeights && !habitat.lands && !some.normals) landHeights(terrain, some)
    drivers.thin?.(some, around)
  }

  return {
    largestRoom,
    ranks: Math.max(1, new Set(rankOfAsset).size),
    area(bounds) {
      return habitatArea(weigh, bounds)
    },
    choose(limit, part, around) {
      if (assets.length === 0) sites.count = 0
      weigh(sites, around)
      fitWorkspace(work)
      thin(limit, limit * part, landed || sites.normals !== null)
      drawSizes(sites.draws, sites.count, work.size)
      choose(around)
      driven = drivers.stand?.(sites, around) ?? null
      measure(rooms, rankOfAsset, driven)
    },
    finish(stay, naming, seatElsewhere) {
      const { pick, girth, key, seat } = work
      const rows = byKeyThenId(stay, key, sites, pick, Math.max(1, bases.length))
      const block = blockOf(rows.length)
      fillBlock(block, rows, naming, assetNumbers, driven)
      stand({ sites, landed, rows: stay, seat, size: girth, pick, bases, driven, seatElsewhere: seatElsewhere ?? null }, block)
      return block
    },
  }
}

// At module level: made anew by every preparing, they would be compiled and optimised anew each time.

/** Drops sites by their own rank and weight; keeps what is needed of the rest, their heights if they are known. */
function thin(limit: number, wanted: number, landed: boolean): void {
  const work = workspace
  const { sites } = work
  const { x, y, z, rank, weight, draws, addressLow, addressHigh, normals, count } = sites
  const { key } = work
  let n = 0
  for (let i = 0; i < count; i++) {
    const r = rank[i]
    const w = weight[i]
    if (!(r < wanted * w)) continue
    key[n] = r / (limit * w)
    if (n !== i) {
      x[n] = x[i]
      if (landed) y[n] = y[i]
      z[n] = z[i]
      addressLow[n] = addressLow[i]
      addressHigh[n] = addressHigh[i]
      draws[n] = draws[i]
      if (normals) moveNormal(normals, i, n)
    }
    n++
  }
  sites.count = n
}

/** Writes rank, girth and room of all sites, driven sizes taken in. */
function measure(rooms: Float64Array, rankOfAsset: Uint16Array, driven: Driven | null): void {
  const { pick, rank, size, girth, radius, sites } = workspace
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

/** Fills the columns of a block, save where and how its rows stand; `rows` are the sites in the block's order. */
function fillBlock(block: Block, rows: Uint32Array, naming: Naming, assetNumbers: readonly number[], driven: Driven | null): void {
  const { sites, pick, size, girth, key, radius, seat } = workspace
  writeIds(naming, rows, { low: sites.addressLow, high: sites.addressHigh }, { low: block.idLow, high: block.idHigh })
  const { height = null, tint = null } = driven ?? {}
  if (!tint) block.tint.fill(0xffffffff)
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    seat[i] = k
    block.key[k] = key[i]
    block.room[k] = radius[i]
    block.asset[k] = assetNumbers[pick[i]]
    block.scale[3 * k] = block.scale[3 * k + 2] = girth[i]
    block.scale[3 * k + 1] = height ? size[i] * height[i] : size[i]
    if (tint) block.tint[k] = tint[i]
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
 * Picks one of the mix for every site of the workspace. Groves: a share of the sites takes its dice
 * from a noise whose values are as evenly spread as dice, so that shares stay true. Shares with a
 * condition count by its weight there; where none of them has any, the site is dropped.
 */
function prepareMix(mix: readonly Share[], { ownKind, grove }: MemberValues, context: GrowContext, seed: number): (around: Around) => void {
  const { sites } = workspace
  const work = workspace
  const shares = cumulativeShares(mix)
  const last = shares.length - 1
  const noise = ownKind > 0 && last > 0 ? uniformNoise(seed ^ 0x3ad8025f, 1 / grove, context.terrain.bounds) : null
  const prefers: readonly (Weigh | null)[] = mix.map(({ where }) => (where?.on ? prepareUse(where, context, seed) : null))
  const dice = (i: number) => draw(sites.draws[i], CHANNEL.asset)

  function fillDice(): void {
    const { dice: out } = work
    if (noise) noise(sites, out)
    for (let i = 0; i < sites.count; i++)
      if (!noise || draw(sites.draws[i], CHANNEL.mingle) >= ownKind) out[i] = dice(i)
  }

  if (prefers.every((one) => one === null))
    return () => {
      const { pick, dice: rolled } = work
      if (last <= 0) {
        pick.fill(0, 0, sites.count)
        return
      }
      fillDice()
      for (let i = 0; i < sites.count; i++) {
        let a = 0
        while (a < last && rolled[i] >= shares[a]) a++
        pick[i] = a
      }
    }

  const weights = mix.map(() => new Float64Array(0))
  return (around) => {
    const { pick, dice: rolled, key, size } = work
    prefers.forEach((prefer, a) => {
      const own = shares[a] - (a > 0 ? shares[a - 1] : 0)
      if (weights[a].length < sites.count) weights[a] = new Float64Array(2 * sites.count)
      sites.weight.fill(own, 0, sites.count)
      prefer?.(sites, around)
      weights[a].set(sites.weight.subarray(0, sites.count))
    })
    fillDice()
    let kept = 0
    for (let i = 0; i < sites.count; i++) {
      let total = 0
      for (let a = 0; a <= last; a++) total += weights[a][i]
      if (!(total > 0)) continue
      let left = rolled[i] * total
      let a = 0
      while (a < last && left >= weights[a][i]) left -= weights[a++][i]
      moveSite(i, kept)
      key[kept] = key[i]
      size[kept] = size[i]
      pick[kept++] = a
    }
    sites.count = kept
  }
}

function moveSite(from: number, to: number): void {
  const { sites } = workspace
  if (from === to) return
  for (const column of ['x', 'y', 'z', 'rank', 'weight', 'addressLow', 'addressHigh', 'draws'] as const) sites[column][to] = sites[column][from]
  if (sites.normals) moveNormal(sites.normals, from, to)
}
