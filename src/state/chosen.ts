import type { Block } from '../core/columns.ts'
import { groundOfTile } from '../core/grow.ts'
import type { Sight } from '../core/grounds/ground.ts'
import type { IdSet } from '../core/hand/id-set.ts'
import { idSet } from '../core/hand/id-set.ts'
import { random } from '../core/math/random.ts'
import { conjugate, turned } from '../core/math/quaternion.ts'
import type { Asset, Meadow } from '../core/meadow.ts'
import { assetsByNumber } from '../core/meadow.ts'
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

/** What of all that stands is taken by a test; of plantings that are shown and open to change. `block` may pass over whole blocks. */
export function chooseWhere({ tiles }: InstanceTiles, meadow: Meadow, takes: (of: RowOf) => boolean, passes: (block: Block) => boolean = () => false): Chosen {
  const open = new Set(meadow.plantings.filter(({ visible, locked }) => visible && !locked).map(({ id }) => id))
  const found = new Map<string, IdSet>()
  for (const [planting, own] of tiles) {
    if (!open.has(planting)) continue
    const ids: (readonly [number, number])[] = []
    // One object for all rows: a million of them would be as many.
    const of = { planting, tile: '', block: null as unknown as Block, row: 0 }
    for (const [tile, { block }] of own) {
      if (passes(block)) continue
      of.tile = tile
      of.block = block
      for (let row = 0; row < block.count; row++) {
        of.row = row
        if (takes(of)) ids.push([block.idLow[row], block.idHigh[row]])
      }
    }
    if (ids.length > 0) found.set(planting, idSet(ids))
  }
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
  const places = new Float32Array(3 * countChosen(chosen))
  const byAsset = new Map<number, number>()
  let there = 0
  eachStanding(instances, chosen, (_planting, _tile, { position, asset }, row) => {
    for (let c = 0; c < 3; c++) places[3 * there + c] = position[3 * row + c]
    byAsset.set(asset[row], (byAsset.get(asset[row]) ?? 0) + 1)
    there++
  })
  return { there, byAsset, places: places.subarray(0, 3 * there) }
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
    place: [p[3 * row], p[3 * row + 1], p[3 * row + 2]],
    turn: [q[4 * row], q[4 * row + 1], q[4 * row + 2], q[4 * row + 3]],
    size: [s[3 * row], s[3 * row + 1], s[3 * row + 2]],
  }
}

/** Two choices together, or one without the other. */
export function joined(a: Chosen, b: Chosen): Chosen {
  return new Map([...new Set([...a.keys(), ...b.keys()])].map((planting) => [planting, idSet([...(a.get(planting) ?? []), ...(b.get(planting) ?? [])])]))
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
 * for what is small; none that lies farther than `limit`, m.
 */
export function instanceUnder({ tiles }: InstanceTiles, meadow: Pick<Meadow, 'plantings' | 'assets'>, { origin, direction }: Sight, limit: number): RowOf | null {
  const assets = assetsByNumber(meadow.assets)
  let best: RowOf | null = null
  let nearest = limit
  let beside: RowOf | null = null
  let nearestBeside = limit
  for (const { id, visible } of meadow.plantings) {
    if (!visible) continue
    for (const [tile, { block }] of tiles.get(id) ?? []) {
      if (!crosses(boxOfBlock(block, assets), origin, direction, nearest)) continue
      for (let row = 0; row < block.count; row++) {
        const away = hit(block, row, assets, origin, direction, nearest, 0)
        if (away < nearest) {
          nearest = away
          best = { planting: id, tile, block, row }
        } else if (!best) {
          // What lies a little beside counts where nothing is met.
          const close = hit(block, row, assets, origin, direction, nearestBeside, BESIDE)
          if (close >= nearestBeside) continue
          nearestBeside = close
          beside = { planting: id, tile, block, row }
        }
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
  const box = Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity)
  const { position, scale, asset, count } = block
  let widest = 0
  for (let i = 0; i < count; i++) {
    for (let c = 0; c < 3; c++) {
      const value = position[3 * i + c]
      if (value < box[c]) box[c] = value
      if (value > box[c + 3]) box[c + 3] = value
    }
    const size = assets.get(asset[i])?.size
    const largest = size ? Math.max(size[0], size[1], size[2]) * Math.max(scale[3 * i], scale[3 * i + 1], scale[3 * i + 2]) : 0
    if (largest > widest) widest = largest
  }
  for (let c = 0; c < 3; c++) {
    box[c] -= DIAGONAL * widest
    box[c + 3] += DIAGONAL * widest
  }
  boxes.set(block, box)
  return box
}

/** No corner of a box that stands on its middle is farther from there than so many times its longest side. */
const DIAGONAL = 1.3

/** Whether a line of sight meets a box, with what may lie beside it, before it has gone too far. */
function crosses(box: Float64Array, origin: Sight['origin'], direction: Sight['direction'], limit: number): boolean {
  let [near, far] = [0, limit]
  const beside = BESIDE * Math.min(limit, Math.abs(box[0] - origin[0]) + Math.abs(box[2] - origin[2]) + Math.abs(box[1] - origin[1]))
  for (let c = 0; c < 3; c++) {
    const [o, d, low, high] = [origin[c], direction[c], box[c] - beside, box[c + 3] + beside]
    if (Math.abs(d) < 1e-12) {
      if (o < low || o > high) return false
      continue
    }
    const [a, b] = d > 0 ? [(low - o) / d, (high - o) / d] : [(high - o) / d, (low - o) / d]
    if (a > near) near = a
    if (b < far) far = b
  }
  return near <= far
}

/** How far along a line of sight a row is met, or passed by so closely (see {@link BESIDE}); infinite where it is not. */
function hit({ position: p, rotation: q, scale: s, asset }: Block, row: number, assets: ReadonlyMap<number, Asset>, [ox, oy, oz]: Sight['origin'], [dx, dy, dz]: Sight['direction'], limit: number, close: number): number {
  const px = p[3 * row] - ox
  const py = p[3 * row + 1] - oy
  const pz = p[3 * row + 2] - oz
  const along = px * dx + py * dy + pz * dz
  const of = assets.get(asset[row])
  if (!of) return Infinity
  const [wide, tall, deep] = [of.size[0] * s[3 * row], of.size[1] * s[3 * row + 1], of.size[2] * s[3 * row + 2]]
  const radius = Math.sqrt(wide * wide + 4 * tall * tall + deep * deep) / 2
  if (along < -radius || along - radius > limit) return Infinity
  const beside = close * Math.max(along, 0)
  const off = px * px + py * py + pz * pz - along * along
  if (off > (radius + beside) * (radius + beside)) return Infinity
  // The line in the thing's own frame, against its box.
  const back = conjugate([q[4 * row], q[4 * row + 1], q[4 * row + 2], q[4 * row + 3]])
  const from = turned(back, [-px, -py, -pz])
  const ahead = turned(back, [dx, dy, dz])
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
