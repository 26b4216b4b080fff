import type { Block } from '../core/columns.ts'
import { groundOfTile } from '../core/grow.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import type { HeightAt } from '../core/grounds/terrain.ts'
import type { Sight } from '../core/grounds/ground.ts'
import type { IdSet } from '../core/hand/id-set.ts'
import { idSet, newIdSet } from '../core/hand/id-set.ts'
import { random } from '../core/math/random.ts'
import { conjugate, turned } from '../core/math/quaternion.ts'
import type { Asset, Meadow } from '../core/meadow.ts'
import { assetsByNumber } from '../core/meadow.ts'
import type { LeavesByNumber } from '../core/posy/apart.ts'
import { leavesByNumber } from '../core/posy/apart.ts'
import type { Standing } from '../core/posy/posy.ts'
import { standDraped } from '../core/posy/posy.ts'
import type { InstanceAt } from '../document/edits/hands.ts'
import type { InstanceTiles } from './instances.ts'

/** What is chosen: ids by plantings. */
export type Chosen = ReadonlyMap<string, IdSet>

export const NOTHING_CHOSEN: Chosen = new Map()

/** One row of the grown tiles. */
export interface RowOf {
  readonly planting: string
  readonly tile: string
  readonly block: Block
  readonly row: number
}

export function countChosen(chosen: Chosen): number {
  let sum = 0
  for (const { size } of chosen.values()) sum += size
  return sum
}

/** What of all that stands is taken by a test; of plantings that are shown and open to change; while a posy lies open, of its parts. `block` may pass over whole blocks. */
export function chooseWhere(instances: InstanceTiles, meadow: Meadow, takes: (of: RowOf) => boolean, passes: (block: Block) => boolean = () => false): Chosen {
  const open = new Set(meadow.plantings.filter(({ id, visible, locked }) => visible && !locked && (meadow.opened?.planting ?? id) === id).map(({ id }) => id))
  const found = new Map<string, IdSet>()
  const census = newCensus()
  for (const [planting, own] of instances.tiles) {
    if (!open.has(planting)) continue
    const ids = newIdSet()
    // One object for all rows: a million of them would be as many.
    const of = { planting, tile: '', block: null as unknown as Block, row: 0 }
    for (const [tile, { block }] of own) {
      if (passes(block)) continue
      of.tile = tile
      of.block = block
      for (let row = 0; row < block.count; row++) {
        of.row = row
        if (!takes(of)) continue
        ids.add(block.idLow[row], block.idHigh[row])
        census.count(block, row)
      }
    }
    if (ids.size > 0) found.set(planting, ids)
  }
  // All that was taken stands: it need not be looked for again.
  told.set(found, { instances, version: instances.version, facts: census.facts() })
  return found
}

/** Tells of each chosen row that stands now. */
function eachStanding({ tiles }: InstanceTiles, chosen: Chosen, tell: (planting: string, tile: string, block: Block, row: number) => void): void {
  for (const [planting, ids] of chosen) {
    if (ids.size === 0) continue
    for (const [tile, { block }] of tiles.get(planting) ?? []) for (let row = 0; row < block.count; row++) if (ids.has(block.idLow[row], block.idHigh[row])) tell(planting, tile, block, row)
  }
}

/** The chosen instances as they stand now; those that are not there are passed over. */
export function standing(instances: InstanceTiles, chosen: Chosen): InstanceAt[] {
  const found: InstanceAt[] = []
  eachStanding(instances, chosen, (planting, tile, block, row) => found.push(instanceAt({ planting, tile, block, row })))
  return found
}

/** One instance as it stands now; null where it is not there. */
export function instanceOf({ tiles }: InstanceTiles, planting: string, low: number, high: number): InstanceAt | null {
  for (const [tile, { block }] of tiles.get(planting) ?? []) {
    const { idLow, idHigh, count } = block
    for (let row = 0; row < count; row++) if (idLow[row] === low && idHigh[row] === high) return instanceAt({ planting, tile, block, row })
  }
  return null
}

/** What is chosen in numbers: how many stand now, of which assets, and where (x y z …, m). */
export interface ChosenFacts {
  readonly there: number
  readonly byAsset: ReadonlyMap<number, number>
  readonly places: Float32Array
}

/** What each choice was told last. */
const told = new WeakMap<Chosen, { readonly instances: InstanceTiles; readonly version: number; readonly facts: ChosenFacts }>()

/** What is chosen in numbers; whoever asks again while nothing has grown is told the same, as each telling looks through all rows. */
export function factsOf(instances: InstanceTiles, chosen: Chosen): ChosenFacts {
  const known = told.get(chosen)
  if (known?.instances === instances && known.version === instances.version) return known.facts
  const facts = gatherFacts(instances, chosen)
  told.set(chosen, { instances, version: instances.version, facts })
  return facts
}

function gatherFacts(instances: InstanceTiles, chosen: Chosen): ChosenFacts {
  const census = newCensus()
  eachStanding(instances, chosen, (_planting, _tile, block, row) => census.count(block, row))
  return census.facts()
}

/** Counts rows, and gathers where they stand. */
function newCensus() {
  let places = new Float32Array(3 * 256)
  let there = 0
  const byAsset = new Map<number, number>()
  return {
    count({ position, asset }: Block, row: number): void {
      if (3 * there === places.length) {
        const wider = new Float32Array(2 * places.length)
        wider.set(places)
        places = wider
      }
      for (let c = 0; c < 3; c++) places[3 * there + c] = position[3 * row + c]
      byAsset.set(asset[row], (byAsset.get(asset[row]) ?? 0) + 1)
      there++
    },
    facts: (): ChosenFacts => ({ there, byAsset, places: places.slice(0, 3 * there) }),
  }
}

/** A row as an instance in the world. */
export function instanceAt({ planting, tile, block, row }: RowOf): InstanceAt {
  const { position: p, rotation: q, scale: s } = block
  return {
    planting,
    low: block.idLow[row],
    high: block.idHigh[row],
    ground: groundOfTile(tile),
    asset: block.asset[row],
    tint: block.tint[row],
    place: [p[3 * row], p[3 * row + 1], p[3 * row + 2]],
    turn: [q[4 * row], q[4 * row + 1], q[4 * row + 2], q[4 * row + 3]],
    size: [s[3 * row], s[3 * row + 1], s[3 * row + 2]],
  }
}

/** Two choices together, or one without the other. */
export function joined(a: Chosen, b: Chosen): Chosen {
  return new Map(
    [...new Set([...a.keys(), ...b.keys()])].map((planting) => {
      const both = newIdSet()
      for (const ids of [a.get(planting), b.get(planting)]) for (const [low, high] of ids ?? []) both.add(low, high)
      return [planting, both]
    }),
  )
}

export function without(a: Chosen, b: Chosen): Chosen {
  return new Map([...a].map(([planting, ids]): [string, IdSet] => [planting, idSet([...ids].filter(([low, high]) => !b.get(planting)?.has(low, high)))]).filter(([, { size }]) => size > 0))
}

/** A share of what is chosen, thrown by a seed: each with the same likelihood, the number exact to the nearest whole. */
export function shareOf(chosen: Chosen, share: number, seed: number): Chosen {
  const all = [...chosen].flatMap(([planting, ids]) => [...ids].map(([low, high]) => ({ planting, low, high, dice: random(seed, low, high, 0) })))
  all.sort((a, b) => a.dice - b.dice || a.high - b.high || a.low - b.low)
  return chosenOf(all.slice(0, Math.round(share * all.length)))
}

/** A choice of these instances. */
export function chosenOf(instances: readonly Pick<InstanceAt, 'planting' | 'low' | 'high'>[]): Chosen {
  const found = new Map<string, [number, number][]>()
  for (const { planting, low, high } of instances) {
    const own = found.get(planting) ?? []
    found.set(planting, own)
    own.push([low, high])
  }
  return new Map([...found].map(([planting, ids]) => [planting, idSet(ids)]))
}

/** Only one instance. */
export function onlyOne(one: Pick<InstanceAt, 'planting' | 'low' | 'high'>): Chosen {
  return chosenOf([one])
}

/** How far beside a thing a line of sight may pass and still mean it, as a share of how far off it is: some four px. */
const BESIDE = 0.004

/**
 * The instance that a line of sight meets first: its box as the asset has it, turned and sized, with a little beside
 * for what is small; none that lies farther than `limit`, m. `heightAt` tells the heights of the terrain, for what drapes over it.
 */
export function instanceUnder({ tiles }: InstanceTiles, meadow: Pick<Meadow, 'plantings' | 'assets' | 'opened'>, sight: Sight, limit: number, heightAt: HeightAt | null = null): RowOf | null {
  const assets = assetsByNumber(meadow.assets)
  const posies = leavesByNumber(meadow.assets)
  const crossed: { readonly planting: string; readonly tile: string; readonly block: Block; readonly from: number }[] = []
  for (const { id, visible } of meadow.plantings) {
    // While a posy lies open, its parts are what is meant.
    if (!visible || (meadow.opened && meadow.opened.planting !== id)) continue
    for (const [tile, { block }] of tiles.get(id) ?? []) {
      const from = metFrom(boxOfBlock(block, assets), sight, limit)
      if (from < limit) crossed.push({ planting: id, tile, block, from })
    }
  }
  // What is met in a near block hides all that begins behind it.
  crossed.sort((a, b) => a.from - b.from)
  let best: RowOf | null = null
  let nearest = limit
  let beside: RowOf | null = null
  let nearestBeside = limit
  for (const { planting, tile, block, from } of crossed) {
    if (from > nearest) break
    const lookup: Lookup = { assets, posies, heightAt: groundOfTile(tile) === TERRAIN_ID ? heightAt : null }
    for (let row = 0; row < block.count; row++) {
      if (!mayMeet(block, row, assets, sight, nearest)) continue
      const away = hit(block, row, lookup, sight, 0)
      if (away < nearest) {
        nearest = away
        best = { planting, tile, block, row }
      } else if (!best) {
        // What lies a little beside counts where nothing is met.
        const close = hit(block, row, lookup, sight, BESIDE)
        if (close >= nearestBeside) continue
        nearestBeside = close
        beside = { planting, tile, block, row }
      }
    }
  }
  return best ?? beside
}

/** Boxes around all that stands in a block, x0 y0 z0 x1 y1 z1, m: each is measured once. */
const boxes = new WeakMap<Block, Float64Array>()

/** The box around all that stands in a block, whichever way it is turned. */
export function boxOfBlock(block: Block, assets: ReadonlyMap<number, Asset>): Float64Array {
  const found = boxes.get(block)
  if (found) return found
  const { position, scale, asset, count } = block
  let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  let widest = 0
  // Rows of one asset lie together: it is looked up where another one begins.
  let number = -1
  let side = 0
  for (let i = 0; i < count; i++) {
    const x = position[3 * i]
    const y = position[3 * i + 1]
    const z = position[3 * i + 2]
    if (x < x0) x0 = x
    if (x > x1) x1 = x
    if (y < y0) y0 = y
    if (y > y1) y1 = y
    if (z < z0) z0 = z
    if (z > z1) z1 = z
    if (asset[i] !== number) {
      number = asset[i]
      side = Math.max(0, ...(assets.get(number)?.size ?? []))
    }
    const largest = side * Math.max(scale[3 * i], scale[3 * i + 1], scale[3 * i + 2])
    if (largest > widest) widest = largest
  }
  const box = Float64Array.of(x0, y0, z0, x1, y1, z1)
  for (let c = 0; c < 3; c++) {
    box[c] -= DIAGONAL * widest
    box[c + 3] += DIAGONAL * widest
  }
  boxes.set(block, box)
  return box
}

/** No corner of a box that stands on its middle is farther from there than so many times its longest side. */
const DIAGONAL = 1.3

/** How far along a line of sight a box begins, with what may lie beside it; infinite where it is not met, or too far off. */
function metFrom(box: Float64Array, { origin, direction }: Sight, limit: number): number {
  let near = 0
  let far = limit
  const beside = BESIDE * Math.min(limit, Math.abs(box[0] - origin[0]) + Math.abs(box[2] - origin[2]) + Math.abs(box[1] - origin[1]))
  for (let c = 0; c < 3; c++) {
    const low = box[c] - beside - origin[c]
    const high = box[c + 3] + beside - origin[c]
    const d = direction[c]
    if (Math.abs(d) < 1e-12) {
      if (low > 0 || high < 0) return Infinity
      continue
    }
    near = Math.max(near, Math.min(low / d, high / d))
    far = Math.min(far, Math.max(low / d, high / d))
  }
  return near <= far ? near : Infinity
}

/** Whether the ball around a row, and what may lie beside it, comes near a line of sight: quick, as nearly all do not. */
function mayMeet({ position: p, scale: s, asset }: Block, row: number, assets: ReadonlyMap<number, Asset>, { origin, direction }: Sight, limit: number): boolean {
  const of = assets.get(asset[row])
  if (!of) return false
  const px = p[3 * row] - origin[0]
  const py = p[3 * row + 1] - origin[1]
  const pz = p[3 * row + 2] - origin[2]
  const along = px * direction[0] + py * direction[1] + pz * direction[2]
  const wide = of.size[0] * s[3 * row]
  const tall = of.size[1] * s[3 * row + 1]
  const deep = of.size[2] * s[3 * row + 2]
  const radius = Math.sqrt(wide * wide + 4 * tall * tall + deep * deep) / 2
  if (along < -radius || along - radius > limit) return false
  const reach = radius + BESIDE * Math.max(along, 0)
  return px * px + py * py + pz * pz - along * along <= reach * reach
}

/** How far along a line of sight a row's box is met, or passed by so closely (see {@link BESIDE}); infinite where it is not. */
function hit(block: Block, row: number, { assets, posies, heightAt }: Lookup, sight: Sight, close: number): number {
  const { position: p, rotation: q, scale: s, asset } = block
  const of = assets.get(asset[row])
  if (!of) return Infinity
  const stand: Standing = { place: [p[3 * row], p[3 * row + 1], p[3 * row + 2]], turn: [q[4 * row], q[4 * row + 1], q[4 * row + 2], q[4 * row + 3]], size: [s[3 * row], s[3 * row + 1], s[3 * row + 2]] }
  const leaves = posies.get(asset[row])
  // Of a posy the boxes of its models count: between them one sees through it.
  return leaves ? leaves.reduce((nearest, leaf) => Math.min(nearest, boxHit(leaf.asset.size, standDraped(stand, leaf, heightAt), sight, close)), Infinity) : boxHit(of.size, stand, sight, close)
}

interface Lookup {
  readonly assets: ReadonlyMap<number, Asset>
  readonly posies: LeavesByNumber
  /** Heights of the terrain where the rows stand on it. */
  readonly heightAt: HeightAt | null
}

function boxHit(size: Asset['size'], { place, turn, size: sized }: Standing, { origin: [ox, oy, oz], direction }: Sight, close: number): number {
  const [px, py, pz] = [place[0] - ox, place[1] - oy, place[2] - oz]
  const [wide, tall, deep] = [size[0] * sized[0], size[1] * sized[1], size[2] * sized[2]]
  const beside = close * Math.max(px * direction[0] + py * direction[1] + pz * direction[2], 0)
  // The line in the thing's own frame, against its box.
  const back = conjugate(turn)
  const from = turned(back, [-px, -py, -pz])
  const ahead = turned(back, direction)
  let [near, far] = [0, Infinity]
  for (const [c, low, high] of [[0, -wide / 2, wide / 2], [1, 0, tall], [2, -deep / 2, deep / 2]] as const) {
    if (Math.abs(ahead[c]) < 1e-12) {
      if (from[c] < low - beside || from[c] > high + beside) return Infinity
      continue
    }
    const [a, b] = [(low - beside - from[c]) / ahead[c], (high + beside - from[c]) / ahead[c]]
    near = Math.max(near, Math.min(a, b))
    far = Math.min(far, Math.max(a, b))
  }
  return near <= far ? near : Infinity
}
