import type { Block } from '../core/columns.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import type { Asset, Planting } from '../core/meadow.ts'
import type { Attached, TouchOf } from './hands.ts'

/**
 * Touch-ups and the instances that they are for. One whose instance is there is applied by its id. Where it is not, as
 * the rules have changed, the nearest instance of the same asset that nobody else claims takes it, nearest pairs first;
 * where there is none it is loose: kept, told, and applied again once its instance is back.
 * What is found so is kept nowhere, so that setting the rules back gives the state before.
 */

/** A tile as the rules make it, with those touch-ups whose instances are there. */
export interface PlainTile {
  readonly name: string
  readonly ground: string
  /** How far around it was looked, m. */
  readonly reach: number
  readonly block: Block
  /** Numbers of the touch-ups of what stood in it and is not there. */
  readonly missing: readonly number[]
}

/** What has become of a planting's touch-ups. */
export interface TouchState {
  readonly attached: ReadonlyMap<number, Attached>
  /** Numbers of those whose instances are gone. */
  readonly loose: readonly number[]
}

export const ALL_THERE: TouchState = { attached: new Map(), loose: [] }

interface Pair {
  readonly touch: TouchOf
  readonly away: number
  readonly found: Attached
}

/** How far the instance may stand that takes a touch-up of an asset, m. */
export interface Reach {
  readonly widest: number
  of(asset: number): number
}

/** Of so many spacings, squared, a circle holds five places: one in two hundred holds none of those thrown at random. */
const CIRCLE = 2.4

/**
 * The spacing, as half of it would reach but every other instance of another pattern; wider for an asset that is a
 * share of a mix, as its instances, thrown among the places, lie the farther apart the rarer they are.
 */
export function reachFor({ mix }: Planting, assets: readonly Asset[], apart: number): Reach {
  const all = mix.reduce((sum, { share }) => sum + share, 0)
  const shares = new Map(mix.map(({ asset, share }) => [assets.find(({ id }) => id === asset)?.number, share / all]))
  const of = (asset: number) => {
    const share = shares.get(asset) ?? 0
    return share > 0 ? apart * Math.sqrt(1 + (CIRCLE * (1 - share)) / share) : apart
  }
  return { widest: Math.max(apart, ...assets.map(({ number }) => of(number))), of }
}

/** Finds instances that take the touch-ups whose own are missing from some tiles. */
export function attach(touches: readonly TouchOf[], tiles: readonly PlainTile[], reach: Reach): TouchState {
  const missing = new Set(tiles.flatMap((tile) => tile.missing))
  if (missing.size === 0) return ALL_THERE
  const claimed = new Set(touches.flatMap(({ number, low, high }) => (missing.has(number) ? [] : [idOf(low, high)])))
  const wanted = touches.filter(({ number }) => missing.has(number))
  const cells = byCell(wanted, reach.widest)
  const pairs: Pair[] = []
  for (const tile of tiles) pairsIn(tile, cells, reach, claimed, pairs)
  pairs.sort((a, b) => a.away - b.away || a.touch.number - b.touch.number || a.found.high - b.found.high || a.found.low - b.found.low)
  const attached = new Map<number, Attached>()
  const taken = new Set<string>()
  for (const { touch, found } of pairs) {
    const id = idOf(found.low, found.high)
    if (attached.has(touch.number) || taken.has(id)) continue
    attached.set(touch.number, found)
    taken.add(id)
  }
  return { attached, loose: wanted.flatMap(({ number }) => (attached.has(number) ? [] : [number])) }
}

function idOf(low: number, high: number): string {
  return `${high}:${low}`
}

type Cells = ReadonlyMap<string, readonly TouchOf[]>

function byCell(touches: readonly TouchOf[], side: number): Cells {
  const cells = new Map<string, TouchOf[]>()
  for (const touch of touches) {
    const key = `${Math.floor(touch.home[0] / side)} ${Math.floor(touch.home[2] / side)}`
    const own = cells.get(key)
    if (own) own.push(touch)
    else cells.set(key, [touch])
  }
  return cells
}

function pairsIn({ ground, block: { count, position, asset, idLow, idHigh } }: PlainTile, cells: Cells, reach: Reach, claimed: ReadonlySet<string>, pairs: Pair[]): void {
  // Of the terrain only the place in plan counts: it may have become higher or lower.
  const upright = ground === TERRAIN_ID ? 0 : 1
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [position[3 * i], position[3 * i + 1], position[3 * i + 2]]
    const [c, r] = [Math.floor(x / reach.widest), Math.floor(z / reach.widest)]
    for (let dc = -1; dc <= 1; dc++)
      for (let dr = -1; dr <= 1; dr++)
        for (const touch of cells.get(`${c + dc} ${r + dr}`) ?? []) {
          if (touch.asset !== asset[i] || touch.ground !== ground) continue
          const away = Math.sqrt((touch.home[0] - x) ** 2 + upright * (touch.home[1] - y) ** 2 + (touch.home[2] - z) ** 2)
          if (away > reach.of(touch.asset) || claimed.has(idOf(idLow[i], idHigh[i]))) continue
          pairs.push({ touch, away, found: { low: idLow[i], high: idHigh[i], place: [x, y, z] } })
        }
  }
}
