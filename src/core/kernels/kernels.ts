import type { Kernels } from './kernel-set.ts'
import { KERNELS } from './kernels.data.ts'
import { plainKernels } from './plain.ts'

/** The kernels as they are compiled. Throws where there is no WebAssembly with SIMD. */
export function compiledKernels(): Kernels {
  const text = atob(KERNELS)
  const bytes = Uint8Array.from(text, (letter) => letter.charCodeAt(0))
  return new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as Kernels
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
export const NOISE_BATCH = 4096
const noiseX = align(kernels.free.value as number)
const noiseZ = noiseX + 8 * NOISE_BATCH
const noiseOut = noiseZ + 8 * NOISE_BATCH
const outlineAt = noiseOut + 4 * NOISE_BATCH
const OUTLINE_BYTES = 128
const stanceAt = outlineAt + OUTLINE_BYTES

/** The memory that noise is worked out in. */
export interface NoiseStage {
  readonly x: Float64Array
  readonly z: Float64Array
  readonly out: Float32Array
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
    out: new Float32Array(buffer, noiseOut, NOISE_BATCH),
  }
  return noise
}

/** Brings the sum of the kernel's three corners to about ±1; its gradients are 127 · 2²⁴ long. */
const NORMALISE = 98.9 / (127 * 16777216)

/** Writes height · noise(x · scale, z · scale) of the first `count` places of the stage. */
export function runNoise(seed: number, count: number, scale: number, height: number): void {
  kernels.simplex(seed, count, noiseX, noiseZ, scale, NORMALISE * height, noiseOut)
}

/** Columns for at least `count` instances. What they hold is undefined at first. */
export function stanceStage(count: number): StanceStage {
  if (stance && stance.capacity >= count) return stance
  // Kernels work on four rows at once.
  const capacity = Math.max(8192, (2 * count + 3) & ~3)
  reserve(stanceAt + COLUMNS * 4 * capacity)
  const { buffer } = kernels.memory
  const at = (column: number) => stanceAt + column * 4 * capacity
  const floats = (column: number, length = capacity) => new Float32Array(buffer, at(column), length)
  stance = {
    capacity,
    draws: new Int32Array(buffer, at(0), capacity),
    turnBy: floats(1),
    leanBy: floats(2),
    height: floats(3),
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

/**
 * Works out the normals of the first `count` rows from the heights around them, and their own heights
 * too when asked; `perX`, `perZ` nodes a metre.
 */
export function runLand(stage: StanceStage, count: number, perX: number, perZ: number, heights: boolean): void {
  kernels.land(count, stanceAt, 4 * stage.capacity, perX, perZ, heights ? 1 : 0)
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
