import type { Block } from '../columns.ts'
import { blockOf, copyRow, createSites } from '../columns.ts'
import type { HandNear } from '../hand/held.ts'
import { H, HELD, M, MEANT } from '../hand/held.ts'
import type { Ground } from '../grounds/ground.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import type { Rect } from '../grounds/terrain.ts'
import { widened } from '../grounds/terrain.ts'
import type { Naming } from '../identity.ts'
import { writeIds } from '../identity.ts'
import type { Quaternion } from '../math/quaternion.ts'
import { multiply, normalised } from '../math/quaternion.ts'
import type { Rooms } from './rooms.ts'
import type { Chosen, Stages } from './stages.ts'

/**
 * Hand work comes in before room is settled: what is taken out gives its room free, what is held (singles, and
 * instances that were moved, turned, sized, swapped or tinted) claims its room first and stands where the hand put it.
 */
export interface Held {
  /** All that is held near the tile. */
  readonly block: Block
  /** Whether a site is held or taken out, so that it does not grow by the rule. */
  readonly taken: (site: number) => boolean
  /** Numbers of the touch-ups whose instances are not there. */
  readonly missing: readonly number[]
}

/** Grows the candidates of a small area, as they would be without any hand; tells what was chosen. */
export type GrowArea = (area: Rect) => Chosen

/** How far about the place of an instance its candidate is looked for, m; places are kept as single floats. */
const ABOUT = 0.02
const ROUNDED = 2e-7
/** Rooms of both, and of sizes that are drawn larger than 1. */
const ROOMY = 3

/**
 * Instances that stand outside an area, but are moved into it: their rows as the rule would have them, by the number
 * of their touch-up. To be called before the area's own candidates are chosen, as it works in the same arena.
 */
export function fetchMoved({ touched }: HandNear, within: Rect, stages: Stages, naming: Naming, grow: GrowArea): Map<number, Block> {
  const found = new Map<number, Block>()
  for (let k = 0; k < touched.length / MEANT; k++) {
    const at = MEANT * k
    const [x, z] = [touched[at + M.home], touched[at + M.home + 2]]
    // It concerns what its room can reach.
    const wide = Math.max(touched[at + M.size], touched[at + M.size + 2], 1)
    const reach = ROOMY * wide * Math.max(stages.largestRoom, touched[at + M.room])
    if (touched[at + M.out] > 0 || holds(within, x, z) || !holds(widened(within, reach), x + touched[at + M.move], z + touched[at + M.move + 2])) continue
    const by = ABOUT + ROUNDED * Math.max(Math.abs(x), Math.abs(z))
    const chosen = grow({ x0: x - by, z0: z - by, x1: x + by, z1: z + by })
    const site = findSites(stages, naming, touched.subarray(at, at + MEANT))[0]
    if (site >= 0) found.set(k, stages.stand(Uint32Array.of(site), naming, chosen))
  }
  return found
}

/** Hand work that concerns a tile. */
interface ByHand {
  readonly hand: HandNear
  /** What {@link fetchMoved} has found. */
  readonly moved: ReadonlyMap<number, Block>
  /** The tile, which answers for the touch-ups of what stands in it; null where all of a ground grows in one go. */
  readonly tile: Rect | null
}

/** Puts the hand work near a tile to its chosen sites. */
export function holdByHand({ hand, moved, tile }: ByHand, stages: Stages, naming: Naming, chosen: Chosen): Held {
  const { singles, touched } = hand
  const sites = findSites(stages, naming, touched)
  const taken = new Set<number>()
  const missing: number[] = []
  const ruled: { readonly block: Block; readonly row: number; readonly touch: number }[] = []
  const standing: number[] = []
  sites.forEach((site, k) => {
    if (site >= 0) taken.add(site)
    else if (!moved.has(k) && (!tile || holds(tile, touched[MEANT * k + M.home], touched[MEANT * k + M.home + 2]))) missing.push(k)
    if (site >= 0 && touched[MEANT * k + M.out] === 0) standing.push(k)
  })
  const own = stages.stand(Uint32Array.from(standing, (k) => sites[k]), naming, chosen)
  const rowOf = new Map(Array.from({ length: own.count }, (_, row) => [idOf(own.idLow[row], own.idHigh[row]), row]))
  for (const k of standing) ruled.push({ block: own, row: rowOf.get(idOf(touched[MEANT * k], touched[MEANT * k + 1])) as number, touch: k })
  for (const [k, block] of moved) ruled.push({ block, row: 0, touch: k })
  const count = singles.length / HELD + ruled.length
  const block = blockOf(count)
  ruled.forEach(({ block: from, row, touch }, k) => {
    copyRow(from, row, block, k)
    touchRow(block, k, touched, MEANT * touch, chosen.ground)
  })
  for (let k = 0; k < singles.length / HELD; k++) placeRow(block, ruled.length + k, singles, HELD * k, chosen.ground)
  return { block, taken: (site) => taken.has(site), missing }
}

/** Rooms of what is held. */
export function roomsOfHeld({ block: { count, position, room } }: Held): Rooms {
  const columns = new Float32Array(4 * count)
  for (let i = 0; i < count; i++) {
    for (let c = 0; c < 3; c++) columns[c * count + i] = position[3 * i + c]
    columns[3 * count + i] = room[i]
  }
  return { columns, from: 0, to: count }
}

/** A block with what is held inside an area among its rows, in their order. */
export function withHeld(block: Block, { block: held }: Held, within: Rect | null): Block {
  const rows: number[] = []
  for (let i = 0; i < held.count; i++) if (!within || holds(within, held.position[3 * i], held.position[3 * i + 2])) rows.push(i)
  if (rows.length === 0) return block
  const order = new Map<number, number>()
  const rank = (asset: number) => {
    const known = order.get(asset) ?? order.size
    order.set(asset, known)
    return known
  }
  for (let i = 0; i < block.count; i++) rank(block.asset[i])
  for (const asset of [...new Set(rows.map((i) => held.asset[i]))].sort((a, b) => a - b)) rank(asset)
  const before = (a: Block, i: number, b: Block, j: number) =>
    rank(a.asset[i]) - rank(b.asset[j]) || a.key[i] - b.key[j] || a.idHigh[i] - b.idHigh[j] || a.idLow[i] - b.idLow[j]
  rows.sort((i, j) => before(held, i, held, j))
  const out = blockOf(block.count + rows.length)
  let next = 0
  let to = 0
  for (let i = 0; i < block.count; i++) {
    while (next < rows.length && before(held, rows[next], block, i) < 0) copyRow(held, rows[next++], out, to++)
    copyRow(block, i, out, to++)
  }
  while (next < rows.length) copyRow(held, rows[next++], out, to++)
  return out
}

function holds({ x0, z0, x1, z1 }: Rect, x: number, z: number): boolean {
  return x >= x0 && x < x1 && z >= z0 && z < z1
}

function idOf(low: number, high: number): string {
  return `${high}:${low}`
}

/** The chosen site of each touch-up's instance; −1 where it is not there. */
function findSites({ arena: { sites } }: Stages, naming: Naming, touched: Float64Array): Int32Array {
  const found = new Int32Array(touched.length / MEANT).fill(-1)
  if (found.length === 0 || sites.count === 0) return found
  const rows = Uint32Array.from({ length: sites.count }, (_, i) => i)
  const ids = { low: new Uint32Array(sites.count), high: new Uint32Array(sites.count) }
  writeIds(naming, rows, { low: sites.addressLow, high: sites.addressHigh }, ids)
  const wanted = new Map<string, number>()
  for (let k = 0; k < found.length; k++) wanted.set(idOf(touched[MEANT * k], touched[MEANT * k + 1]), k)
  const lows = new Set(Array.from(found, (_, k) => touched[MEANT * k]))
  for (let i = 0; i < sites.count; i++) {
    if (!lows.has(ids.low[i])) continue
    const k = wanted.get(idOf(ids.low[i], ids.high[i]))
    if (k !== undefined) found[k] = i
  }
  return found
}

/** Changes a row of the rule's as a hand did. */
function touchRow(block: Block, row: number, touched: Float64Array, at: number, ground: Ground): void {
  const { position, rotation, scale, room, asset, tint } = block
  const p = 3 * row
  const widest = Math.max(scale[p], scale[p + 2])
  const [x, z] = [position[p] + touched[at + M.move], position[p + 2] + touched[at + M.move + 2]]
  const rise = ground.id === TERRAIN_ID ? heightOn(ground, x, z) - heightOn(ground, position[p], position[p + 2]) : 0
  position[p + 1] += rise + touched[at + M.move + 1]
  position[p] = x
  position[p + 2] = z
  const by: Quaternion = [touched[at + M.turn], touched[at + M.turn + 1], touched[at + M.turn + 2], touched[at + M.turn + 3]]
  // What is not turned keeps its last bit.
  if (by[0] !== 0 || by[1] !== 0 || by[2] !== 0) rotation.set(normalised(multiply(by, [rotation[4 * row], rotation[4 * row + 1], rotation[4 * row + 2], rotation[4 * row + 3]])), 4 * row)
  for (let c = 0; c < 3; c++) scale[p + c] *= touched[at + M.size + c]
  const wide = Math.max(scale[p], scale[p + 2])
  if (touched[at + M.swap] >= 0) {
    asset[row] = touched[at + M.swap]
    room[row] = touched[at + M.room] * wide
  } else if (widest > 0) room[row] *= wide / widest
  if (touched[at + M.tint] >= 0) tint[row] = touched[at + M.tint]
}

/** Writes a single; it comes before all that grows. */
function placeRow({ idLow, idHigh, asset, tint, key, room, position, rotation, scale }: Block, row: number, singles: Float64Array, at: number, ground: Ground): void {
  idLow[row] = singles[at + H.low]
  idHigh[row] = singles[at + H.high]
  asset[row] = singles[at + H.asset]
  tint[row] = singles[at + H.tint]
  key[row] = 0
  room[row] = singles[at + H.room]
  const [x, y, z] = [singles[at + H.place], singles[at + H.place + 1], singles[at + H.place + 2]]
  position.set([x, y + (ground.id === TERRAIN_ID ? heightOn(ground, x, z) : 0), z], 3 * row)
  rotation.set(singles.subarray(at + H.turn, at + H.turn + 4), 4 * row)
  scale.set(singles.subarray(at + H.size, at + H.size + 3), 3 * row)
}

const one = createSites(1)

/** Height of a terrain at a place, 0 where it has none. */
function heightOn(ground: Ground, x: number, z: number): number {
  one.count = 1
  one.x[0] = x
  one.z[0] = z
  ground.raise(one)
  return Number.isFinite(one.y[0]) ? one.y[0] : 0
}
