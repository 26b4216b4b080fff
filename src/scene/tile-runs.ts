import type { Block } from '../core/columns.ts'
import { assetRuns } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'

/** Columns of a tile that are drawn, as in a block; the tint in bytes. */
export interface DrawnColumns {
  readonly position: Float32Array<ArrayBuffer>
  readonly rotation: Float32Array<ArrayBuffer>
  readonly scale: Float32Array<ArrayBuffer>
  readonly tint: Uint8Array<ArrayBuffer>
}

/** Rows of one asset, lowest keys first, and where they stand in plan, m. */
export interface DrawnRun {
  readonly asset: number
  readonly start: number
  readonly end: number
  readonly rect: Rect
}

/** Tiles that hold more are drawn in parts, each in a form of its own, as long as the parts are not smaller than half of this, m. */
const MANY = 400
const WIDE = 32

/** What of a tile is drawn together: all of an asset, or of wide tiles that hold many what stands in each part of them. */
export function runsOfTile(block: Block, tile: Rect): { readonly columns: DrawnColumns; readonly runs: readonly DrawnRun[] } {
  const side = Math.max(tile.x1 - tile.x0, tile.z1 - tile.z0)
  let along = 1
  while (side / along >= WIDE && block.count > MANY * along * along) along *= 2
  const rect = covering(tile, block)
  if (along === 1) return { columns: columnsOf(block), runs: assetRuns(block).map((run) => ({ ...run, rect })) }
  return inParts(block, rect, along)
}

/** A rectangle, enlarged to all that stands in a block: what a hand moved off the mesh that it is of lies beyond. */
function covering({ x0, z0, x1, z1 }: Rect, { position, count }: Block): Rect {
  let [left, top, right, bottom] = [x0, z0, x1, z1]
  for (let i = 0; i < count; i++) {
    const x = position[3 * i]
    const z = position[3 * i + 2]
    if (x < left) left = x
    if (x > right) right = x
    if (z < top) top = z
    if (z > bottom) bottom = z
  }
  return { x0: left, z0: top, x1: right, z1: bottom }
}

function columnsOf({ buffer, count, position, rotation, scale, tint }: Block): DrawnColumns {
  return { position, rotation, scale, tint: new Uint8Array(buffer, tint.byteOffset, 4 * count) }
}

/** Moves the rows of each asset together by the part they stand in, otherwise in their order. */
function inParts(block: Block, rect: Rect, along: number): { readonly columns: DrawnColumns; readonly runs: readonly DrawnRun[] } {
  const { count } = block
  const part = partsOf(block, rect, along)
  const tint = new Uint32Array(count)
  const columns = { position: new Float32Array(3 * count), rotation: new Float32Array(4 * count), scale: new Float32Array(3 * count), tint: new Uint8Array(tint.buffer) }
  const runs: DrawnRun[] = []
  const next = new Uint32Array(along * along + 1)
  for (const { asset, start, end } of assetRuns(block)) {
    next.fill(0)
    for (let i = start; i < end; i++) next[part[i] + 1]++
    next[0] = start
    for (let p = 0; p < along * along; p++) {
      next[p + 1] += next[p]
      if (next[p + 1] > next[p]) runs.push({ asset, start: next[p], end: next[p + 1], rect: partRect(rect, along, p) })
    }
    for (let i = start; i < end; i++) copyRow(block, i, columns, tint, next[part[i]]++)
  }
  return { columns, runs }
}

/** The part that each row stands in; what roots on the rim, or was lifted over it, counts to the nearest. */
function partsOf({ count, position }: Block, { x0, z0, x1, z1 }: Rect, along: number): Uint16Array {
  const part = new Uint16Array(count)
  const last = along - 1
  for (let i = 0; i < count; i++) {
    const u = Math.max(0, Math.min(last, Math.floor(((position[3 * i] - x0) / (x1 - x0)) * along)))
    const v = Math.max(0, Math.min(last, Math.floor(((position[3 * i + 2] - z0) / (z1 - z0)) * along)))
    part[i] = v * along + u
  }
  return part
}

function partRect({ x0, z0, x1, z1 }: Rect, along: number, part: number): Rect {
  const [wide, deep] = [(x1 - x0) / along, (z1 - z0) / along]
  const [u, v] = [part % along, Math.floor(part / along)]
  return { x0: x0 + u * wide, z0: z0 + v * deep, x1: x0 + (u + 1) * wide, z1: z0 + (v + 1) * deep }
}

function copyRow(from: Block, i: number, { position, rotation, scale }: DrawnColumns, tint: Uint32Array, to: number): void {
  for (let c = 0; c < 3; c++) {
    position[3 * to + c] = from.position[3 * i + c]
    scale[3 * to + c] = from.scale[3 * i + c]
  }
  for (let c = 0; c < 4; c++) rotation[4 * to + c] = from.rotation[4 * i + c]
  tint[to] = from.tint[i]
}
