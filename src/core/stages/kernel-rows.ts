import { blockBytes, blockOf } from '../columns.ts'
import type { Driven } from '../fields/drivers/drive.ts'
import type { Naming } from '../identity.ts'
import type { LoopKernels } from '../kernels/kernel-set.ts'
import { freeBehind, placesOf, loopKernels } from '../kernels/kernels.ts'
import type { BlockRows } from '../stance/stance.ts'
import type { Arena } from './arena.ts'
import { MOST_INSERTED } from './order.ts'

/** The sites of an arena that become a block, and what it says of them besides where and how they stand. */
export interface Becoming {
  readonly arena: Arena
  /** Those that become rows. */
  readonly stay: Uint32Array
  readonly naming: Naming
  /** Number of each of the mix; what the block's asset column holds. */
  readonly assetNumbers: readonly number[]
  readonly driven: Pick<Driven, 'height' | 'tint'> | null
}

/** More sites are not copied into the kernels' memory, which never shrinks. */
const MOST_SITES = 65536

/** Rows of a block made by the kernels; null where there are none, and for what does not suit them. */
export function kernelRows(chosen: Becoming): BlockRows | null {
  const { arena, stay, assetNumbers } = chosen
  const { count } = arena.sites
  if (!loopKernels || stay.length === 0 || count > MOST_SITES || assetNumbers.length === 0) return null
  const yard = layOut(count, stay.length, assetNumbers.length)
  copyIn(chosen, yard)
  return sortAndFill(chosen, yard, loopKernels)
}

/** Places in the kernels' memory, bytes. */
interface Yard {
  readonly buffer: ArrayBuffer
  readonly x: number
  readonly z: number
  readonly radius: number
  readonly size: number
  readonly girth: number
  readonly draws: number
  readonly low: number
  readonly high: number
  readonly key: number
  readonly seat: number
  readonly pick: number
  readonly numbers: number
  readonly rows: number
  readonly order: number
  readonly sorted: number
  readonly bucketOf: number
  readonly values: number
  readonly starts: number
  readonly block: number
}

/** Bytes of a site, of a row, and of a class in a yard; and what its columns need to begin on whole registers. */
const PER_SITE = 5 * 8 + 5 * 4 + 2
const PER_ROW = 5 * 4 + 8 + blockBytes(1)
const PER_CLASS = 2 * 4 + 2
const SPARE = 20 * 16

function layOut(sites: number, rows: number, classes: number): Yard {
  const { at, buffer } = freeBehind(rows, PER_SITE * sites + PER_ROW * rows + PER_CLASS * classes + SPARE)
  let end = at
  const take = (bytes: number) => {
    const from = end
    end += (bytes + 15) & ~15
    return from
  }
  return {
    buffer,
    x: take(8 * sites),
    z: take(8 * sites),
    radius: take(8 * sites),
    size: take(8 * sites),
    girth: take(8 * sites),
    draws: take(4 * sites),
    low: take(4 * sites),
    high: take(4 * sites),
    key: take(4 * sites),
    seat: take(4 * sites),
    pick: take(2 * sites),
    numbers: take(2 * classes),
    rows: take(4 * rows),
    order: take(4 * rows),
    sorted: take(4 * rows),
    bucketOf: take(4 * rows),
    values: take(8 * rows),
    starts: take(4 * (rows + 2 * classes + 1)),
    block: take(blockBytes(rows)),
  }
}

function copyIn({ arena, stay, assetNumbers, driven }: Becoming, yard: Yard): void {
  const { sites, size, girth, radius, key, pick } = arena
  const { buffer } = yard
  const { count } = sites
  const doubles = (at: number, from: Float64Array) => new Float64Array(buffer, at, count).set(from.subarray(0, count))
  doubles(yard.x, sites.x)
  doubles(yard.z, sites.z)
  doubles(yard.radius, radius)
  doubles(yard.size, size)
  doubles(yard.girth, girth)
  new Int32Array(buffer, yard.draws, count).set(sites.draws.subarray(0, count))
  new Uint32Array(buffer, yard.low, count).set(sites.addressLow.subarray(0, count))
  new Uint32Array(buffer, yard.high, count).set(sites.addressHigh.subarray(0, count))
  new Float32Array(buffer, yard.key, count).set(key.subarray(0, count))
  new Uint16Array(buffer, yard.pick, count).set(pick.subarray(0, count))
  new Uint16Array(buffer, yard.numbers, assetNumbers.length).set(assetNumbers)
  new Uint32Array(buffer, yard.rows, stay.length).set(stay)
  if (driven?.height) multiply(new Float64Array(buffer, yard.size, count), driven.height)
}

function multiply(values: Float64Array, by: Float64Array): void {
  for (let i = 0; i < values.length; i++) values[i] *= by[i]
}

function sortAndFill({ arena, stay, naming, assetNumbers, driven }: Becoming, yard: Yard, kernels: LoopKernels): BlockRows | null {
  const { buffer } = yard
  const count = stay.length
  const classes = assetNumbers.length
  const fullest = kernels.sort(count, classes, MOST_INSERTED, yard.rows, yard.pick, yard.key, yard.low, yard.high, yard.starts, yard.bucketOf, yard.values, yard.sorted)
  if (fullest > MOST_INSERTED) return null
  const { a, b, c } = naming
  kernels.fill(count, yard.sorted, a, b, c, yard.low, yard.high, yard.key, yard.radius, yard.size, yard.girth, yard.pick, yard.numbers, yard.seat, yard.block)
  const order = classes > 1 ? yard.order : yard.rows
  if (classes > 1) kernels.group(count, classes, yard.rows, yard.pick, yard.starts, order)
  return {
    order: new Uint32Array(buffer, order, count),
    seat: new Uint32Array(buffer, yard.seat, arena.sites.count),
    lay: (stage) => {
      const { draws, size } = placesOf(stage)
      kernels.lay(count, order, yard.draws, yard.girth, draws, size)
    },
    write: (stage) => {
      const { height, sink, rotation } = placesOf(stage)
      kernels.write(count, order, yard.seat, yard.x, yard.z, height, sink, rotation, yard.block)
    },
    block: () => {
      const block = blockOf(count, buffer.slice(yard.block, yard.block + blockBytes(count)))
      if (driven?.tint) dye(block.tint, driven.tint, new Uint32Array(buffer, yard.sorted, count))
      return block
    },
  }
}

function dye(tint: Uint32Array, by: Uint32Array, sorted: Uint32Array): void {
  for (let k = 0; k < sorted.length; k++) tint[k] = by[sorted[k]]
}
