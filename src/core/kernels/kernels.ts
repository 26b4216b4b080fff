import type { Kernels, LoopKernels } from './kernel-set.ts'
import { KERNELS } from './kernels.data.ts'
import { plainKernels } from './plain.ts'

/** The kernels as they are compiled. Throws where there is no WebAssembly with SIMD. */
export function compiledKernels(): Kernels {
  const text = atob(KERNELS)
  const bytes = Uint8Array.from(text, (letter) => letter.charCodeAt(0))
  const exported = new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as Kernels & LoopKernels
  return { ...exported, loops: exported }
}

function start(): Kernels {
  try {
    return compiledKernels()
  } catch {
    // None here, or forbidden: everything works, slower.
    return plainKernels()
  }
}

/** The kernels of this thread. */
const kernels = start()

const PAGE = 65536
/** Columns begin on whole registers. */
const align = (bytes: number) => (bytes + 15) & ~15

/** Most places of a batch of noise. */
export const NOISE_BATCH = 1024
const noiseX = align(kernels.free.value as number)
const noiseZ = noiseX + 8 * NOISE_BATCH
const noiseOut = noiseZ + 8 * NOISE_BATCH
const outlineAt = noiseOut + 8 * NOISE_BATCH
const OUTLINE_BYTES = 128
/** Bytes of tables that are kept. */
export const KEPT_BYTES = 196608
const keptAt = align(outlineAt + OUTLINE_BYTES)
const stanceAt = keptAt + KEPT_BYTES

/** The memory that noise is worked out in. */
export interface NoiseStage {
  readonly x: Float64Array
  readonly z: Float64Array
  readonly out: Float64Array
}

/** Columns of the kernels' memory, a row for each instance; those of one base lie together. */
export interface StanceStage {
  readonly capacity: number
  readonly draws: Int32Array
  /** Added to half the drawn turn and lean, rad. */
  readonly turnBy: Float32Array
  readonly leanBy: Float32Array
  /** The own height, m. */
  readonly height: Float32Array
  /** Where each lies among the nodes of the terrain: {@link aroundAt} tells how. */
  readonly around: Float32Array
  readonly normalX: Float32Array
  readonly normalY: Float32Array
  readonly normalZ: Float32Array
  readonly size: Float32Array
  /** How far each must sink, m; NaN where that wants a closer look. */
  readonly sink: Float32Array
  /** x y z w of each row. */
  readonly rotation: Float32Array
  /** Corners of the base in hand, x and z by turns, m. */
  readonly outline: Float32Array
}

// The columns, in the order that the kernels know; four with parts of rotations lie between the normals and the size.
const HEIGHT_COLUMN = 3
const SIZE_COLUMN = 11
const SINK_COLUMN = 12
const ROTATION_COLUMN = 13
const AROUND_COLUMN = 17
/** Numbers around each place: offsets from the nearest node along u and v, in cells; heights of that node, E, W, S, N, SE, SW, NE and NW of it, m. */
const AROUND = 11
const COLUMNS = AROUND_COLUMN + AROUND

/** Where the first number around a row stands; the others follow four apart. */
export function aroundAt(row: number): number {
  return (row >> 2) * (4 * AROUND) + (row & 3)
}

let noise: NoiseStage | null = null
let stance: StanceStage | null = null
/** Rows that the columns of {@link StanceStage} hold; what else is worked with lies behind them. */
let stanceRows = 0

function reserve(bytes: number): void {
  const short = bytes - kernels.memory.buffer.byteLength
  if (short <= 0) return
  kernels.memory.grow(Math.ceil(short / PAGE))
  // Growing takes the old views' memory away.
  noise = null
  stance = null
}

/** The columns of a batch of noise. */
export function noiseStage(): NoiseStage {
  if (noise) return noise
  reserve(stanceAt)
  const { buffer } = kernels.memory
  noise = {
    x: new Float64Array(buffer, noiseX, NOISE_BATCH),
    z: new Float64Array(buffer, noiseZ, NOISE_BATCH),
    out: new Float64Array(buffer, noiseOut, NOISE_BATCH),
  }
  return noise
}

/** Brings the sum of the kernel's three corners to about ±1; its gradients are 127 · 2²⁴ long. */
const NORMALISE = 98.9 / (127 * 16777216)

/**
 * Writes the sum of octaves of noise at the first `count` places of the stage: the first is
 * height · noise(x · scale, z · scale), each other has half the height and twice the frequency of the one before.
 */
export function runNoise(seed: number, octaves: number, count: number, scale: number, height: number): void {
  kernels.fractal(seed, octaves, count, noiseX, noiseZ, scale, NORMALISE * height, noiseOut)
}

/** Writes how much patches weigh at the first `count` places of the stage: smoothstep((v − middle) · per + ½) of what {@link runNoise} gives with height 1. */
export function runPatches(seed: number, octaves: number, count: number, scale: number, middle: number, per: number): void {
  kernels.patches(seed, octaves, count, noiseX, noiseZ, scale, NORMALISE, middle, per, noiseOut)
}

/** Columns for at least `count` instances. What they hold is undefined at first. */
export function stanceStage(count: number): StanceStage {
  if (stance && stance.capacity >= count) return stance
  // Kernels work on four rows at once.
  if (stanceRows < count) stanceRows = Math.max(8192, (2 * count + 3) & ~3)
  const capacity = stanceRows
  reserve(stanceAt + COLUMNS * 4 * capacity)
  const { buffer } = kernels.memory
  const at = (column: number) => stanceAt + column * 4 * capacity
  const floats = (column: number, length = capacity) => new Float32Array(buffer, at(column), length)
  stance = {
    capacity,
    draws: new Int32Array(buffer, at(0), capacity),
    turnBy: floats(1),
    leanBy: floats(2),
    height: floats(HEIGHT_COLUMN),
    around: floats(AROUND_COLUMN, AROUND * capacity),
    normalX: floats(4),
    normalY: floats(5),
    normalZ: floats(6),
    size: floats(SIZE_COLUMN),
    sink: floats(SINK_COLUMN),
    rotation: floats(ROTATION_COLUMN, 4 * capacity),
    outline: new Float32Array(buffer, outlineAt, OUTLINE_BYTES / 4),
  }
  return stance
}

/** Angles of a stance, rad: turn and lean are halved, `wind` is null where each leans its own way. */
export interface Angles {
  readonly turnLow: number
  readonly turnRange: number
  readonly leanLow: number
  readonly leanRange: number
  readonly leans: boolean
  readonly wind: { readonly x: number; readonly z: number } | null
  /** Half the share by which the normals in the stage are followed. */
  readonly halfFollow: number
}

/** Works out the rotations of the first `count` rows. */
export function runRotate(stage: StanceStage, count: number, a: Angles): void {
  kernels.rotate(
    count,
    stanceAt,
    4 * stage.capacity,
    a.turnLow,
    a.turnRange,
    a.leanLow,
    a.leanRange,
    a.leans ? 1 : 0,
    a.wind ? 1 : 0,
    a.wind?.x ?? 0,
    a.wind?.z ?? 0,
    a.halfFollow,
  )
}

/** Works out the heights and normals of the first `count` rows from the heights around them; `perX`, `perZ` nodes a metre. */
export function runLand(stage: StanceStage, count: number, perX: number, perZ: number): void {
  kernels.land(count, stanceAt, 4 * stage.capacity, perX, perZ)
}

/**
 * Works out how far rows `from` to `to` must sink, all with one base of `corners` at `outline`. Called
 * in rising order, as up to three rows after `to` are written over.
 */
export function runSeat(
  stage: StanceStage,
  from: number,
  to: number,
  base: { readonly corners: number; readonly outline: Float64Array; readonly reach: number },
  perX: number,
  perZ: number,
): void {
  stage.outline.set(base.outline)
  kernels.seat(from, to, stanceAt, 4 * stage.capacity, base.corners, outlineAt, base.reach, perX, perZ)
}

/** The kernels of loops, where there are any. */
export const loopKernels = kernels.loops

/**
 * Memory that stays as it is until somebody else wants it, {@link KEPT_BYTES} of it; `fresh` says that it was another's
 * before, and is to be written.
 */
export function keptFor(owner: object): { readonly at: number; readonly buffer: ArrayBuffer; readonly fresh: boolean } {
  reserve(stanceAt)
  const fresh = keeper !== owner
  keeper = owner
  return { at: keptAt, buffer: kernels.memory.buffer as ArrayBuffer, fresh }
}
let keeper: object | null = null

/** Where memory begins that is free while `count` rows are stood, at least so many bytes; good until more is asked for. */
export function freeBehind(count: number, bytes: number): { readonly at: number; readonly buffer: ArrayBuffer } {
  const { capacity } = stanceStage(count)
  const at = align(stanceAt + COLUMNS * 4 * capacity)
  reserve(at + bytes)
  return { at, buffer: kernels.memory.buffer as ArrayBuffer }
}

/** Where the columns of a stage lie that kernels of rows read and write. */
export function placesOf({ capacity }: StanceStage): { readonly draws: number; readonly height: number; readonly size: number; readonly sink: number; readonly rotation: number } {
  const at = (column: number) => stanceAt + column * 4 * capacity
  return { draws: at(0), height: at(HEIGHT_COLUMN), size: at(SIZE_COLUMN), sink: at(SINK_COLUMN), rotation: at(ROTATION_COLUMN) }
}
