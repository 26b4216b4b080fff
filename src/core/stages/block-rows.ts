import type { Block } from '../columns.ts'
import { blockOf, UNTINTED } from '../columns.ts'
import type { Naming } from '../identity.ts'
import { writeIds } from '../identity.ts'
import type { StanceStage } from '../kernels/kernels.ts'
import type { BlockRows } from '../stance/stance.ts'
import type { Arena } from './arena.ts'
import type { Becoming } from './kernel-rows.ts'
import { kernelRows } from './kernel-rows.ts'
import { byKeyThenId } from './order.ts'

/** Makes rows of a block out of sites: by the kernels where there are any, and the same ones without. */
export function rowsOf(chosen: Becoming): BlockRows {
  return kernelRows(chosen) ?? plainRows(chosen)
}

/** {@link rowsOf} without kernels. */
export function plainRows({ arena, stay, naming, assetNumbers, driven }: Becoming): BlockRows {
  const classes = Math.max(1, assetNumbers.length)
  const sorted = byKeyThenId(stay, arena.key, arena.sites, arena.pick, classes)
  const block = blockOf(stay.length)
  fillBlock(arena, block, sorted, naming, assetNumbers, driven)
  const order = groupByClass(stay, arena.pick, classes)
  const { seat, sites, girth } = arena
  return {
    order,
    seat,
    lay: (stage) => layRows(sites.draws, girth, order, stage),
    write: (stage) => writeRows(sites, order, seat, stage, block),
    block: () => block,
  }
}

// At module level: made anew by every preparing, they would be compiled and optimised anew each time.

/** Fills the columns of a block, save where and how its rows stand; `rows` are the sites in the block's order. */
function fillBlock({ sites, pick, size, girth, key, radius, seat }: Arena, block: Block, rows: Uint32Array, naming: Naming, assetNumbers: readonly number[], driven: Becoming['driven']): void {
  writeIds(naming, rows, { low: sites.addressLow, high: sites.addressHigh }, { low: block.idLow, high: block.idHigh })
  const { height = null, tint = null } = driven ?? {}
  if (!tint) block.tint.fill(UNTINTED)
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

/** The rows in the order of their classes; the same one where there is only one class. Good until the next call. */
function groupByClass(rows: Uint32Array, classOf: Uint16Array, classes: number): Uint32Array {
  if (classes <= 1) return rows
  const starts = new Uint32Array(classes + 1)
  for (let k = 0; k < rows.length; k++) starts[classOf[rows[k]] + 1]++
  for (let c = 1; c <= classes; c++) starts[c] += starts[c - 1]
  if (grouped.length < rows.length) grouped = new Uint32Array(2 * rows.length)
  const out = grouped
  for (let k = 0; k < rows.length; k++) out[starts[classOf[rows[k]]]++] = rows[k]
  return out.subarray(0, rows.length)
}

let grouped = new Uint32Array(8192)

function layRows(draws: Int32Array, girth: Float64Array, order: Uint32Array, { draws: outDraws, size }: StanceStage): void {
  for (let k = 0; k < order.length; k++) {
    outDraws[k] = draws[order[k]]
    size[k] = girth[order[k]]
  }
}

function writeRows({ x, z }: Arena['sites'], order: Uint32Array, seat: Uint32Array, stage: StanceStage, { position, rotation }: Block): void {
  const { height, sink, rotation: turned } = stage
  for (let k = 0; k < order.length; k++) {
    const i = order[k]
    const to = seat[i]
    const by = sink[k]
    position[3 * to] = x[i]
    position[3 * to + 1] = by > 0 ? height[k] - by : height[k]
    position[3 * to + 2] = z[i]
    rotation[4 * to] = turned[4 * k]
    rotation[4 * to + 1] = turned[4 * k + 1]
    rotation[4 * to + 2] = turned[4 * k + 2]
    rotation[4 * to + 3] = turned[4 * k + 3]
  }
}
