import type { GroundImage } from '../meadow.ts'
import { cos, DEGREE, sin } from '../math/portable.ts'
import type { Range } from './blocks.ts'
import type { Rect } from './terrain.ts'

/** A picture laid over the ground, with its pixels: 8-bit R G B A, row by row from the north. */
export interface ImageField {
  readonly placed: GroundImage
  readonly pixels: Uint8Array
}

export const IMAGE_CHANNELS = ['brightness', 'red', 'green', 'blue', 'alpha'] as const
export type ImageChannel = (typeof IMAGE_CHANNELS)[number]

/** Shares of R G B A, in 1/255. Brightness is Rec. 709's luma of the stored values. */
const WEIGHTS: Readonly<Record<ImageChannel, readonly [number, number, number, number]>> = {
  brightness: [0.2126 / 255, 0.7152 / 255, 0.0722 / 255, 0],
  red: [1 / 255, 0, 0, 0],
  green: [0, 1 / 255, 0, 0],
  blue: [0, 0, 1 / 255, 0],
  alpha: [0, 0, 0, 1 / 255],
}

/**
 * The value 0…1 of a channel at places x, z, blended between the centres of the four pixels around;
 * `outside` where the picture does not lie.
 */
export function sampleImage(
  { placed, pixels }: ImageField,
  channel: ImageChannel,
  x: Float64Array,
  z: Float64Array,
  count: number,
  outside: number,
  out: Float64Array,
): void {
  const { columns, rows } = placed
  const [wr, wg, wb, wa] = WEIGHTS[channel]
  const c = cos(placed.turn * DEGREE)
  const s = sin(placed.turn * DEGREE)
  const perX = columns / placed.sizeX
  const perZ = rows / placed.sizeZ
  const value = (i: number, j: number) => {
    const at = 4 * (j * columns + i)
    return wr * pixels[at] + wg * pixels[at + 1] + wb * pixels[at + 2] + wa * pixels[at + 3]
  }
  for (let k = 0; k < count; k++) {
    const dx = x[k] - placed.x
    const dz = z[k] - placed.z
    // Back from the picture's turn (clockwise from above: +X goes towards +Z), in pixels from its north-west corner.
    const u = (c * dx + s * dz) * perX + columns / 2
    const v = (c * dz - s * dx) * perZ + rows / 2
    if (!(u >= 0 && v >= 0 && u <= columns && v <= rows)) {
      out[k] = outside
      continue
    }
    const pu = Math.min(columns - 1, Math.max(0, u - 0.5))
    const pv = Math.min(rows - 1, Math.max(0, v - 0.5))
    const i = Math.floor(pu)
    const j = Math.floor(pv)
    const i1 = Math.min(columns - 1, i + 1)
    const j1 = Math.min(rows - 1, j + 1)
    const north = value(i, j) + (pu - i) * (value(i1, j) - value(i, j))
    const south = value(i, j1) + (pu - i) * (value(i1, j1) - value(i, j1))
    out[k] = north + (pv - j) * (south - north)
  }
}

/** Pixels along a side of the squares whose ranges are kept; more squares than this are not looked through. */
const SQUARE = 16
const MOST_SQUARES = 256

/** Least and greatest value of each square of a picture by channel; NaN where not yet known. */
const ranges = new WeakMap<Uint8Array, Map<ImageChannel, Float64Array>>()

/**
 * The values that {@link sampleImage} can find in a rectangle of the ground: null where the picture does not lie
 * there at all; `beyond` tells whether some of the rectangle may lie beyond it.
 */
export function imageValuesIn(field: ImageField, channel: ImageChannel, { x0, z0, x1, z1 }: Rect): { readonly values: Range | null; readonly beyond: boolean } {
  const { placed } = field
  const { columns, rows } = placed
  const c = cos(placed.turn * DEGREE)
  const s = sin(placed.turn * DEGREE)
  const perX = columns / placed.sizeX
  const perZ = rows / placed.sizeZ
  let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity]
  for (const x of [x0 - placed.x, x1 - placed.x])
    for (const z of [z0 - placed.z, z1 - placed.z]) {
      const u = (c * x + s * z) * perX + columns / 2
      const v = (c * z - s * x) * perZ + rows / 2
      u0 = Math.min(u0, u)
      u1 = Math.max(u1, u)
      v0 = Math.min(v0, v)
      v1 = Math.max(v1, v)
    }
  const slack = 1e-6
  if (u1 < -slack || v1 < -slack || u0 > columns + slack || v0 > rows + slack) return { values: null, beyond: true }
  const beyond = u0 < slack || v0 < slack || u1 > columns - slack || v1 > rows - slack
  const square = (pixel: number, last: number) => Math.floor(Math.min(last, Math.max(0, pixel)) / SQUARE)
  const [i0, i1] = [square(Math.floor(u0 - 0.5 - slack), columns - 1), square(Math.floor(u1 + 0.5 + slack), columns - 1)]
  const [j0, j1] = [square(Math.floor(v0 - 0.5 - slack), rows - 1), square(Math.floor(v1 + 0.5 + slack), rows - 1)]
  if ((i1 - i0 + 1) * (j1 - j0 + 1) > MOST_SQUARES) return { values: { low: 0, high: 1 + slack }, beyond }
  let [low, high] = [Infinity, -Infinity]
  for (let j = j0; j <= j1; j++)
    for (let i = i0; i <= i1; i++) {
      const range = squareRange(field, channel, i, j)
      low = Math.min(low, range.low)
      high = Math.max(high, range.high)
    }
  return { values: { low: low - 1e-9, high: high + 1e-9 }, beyond }
}

function squareRange({ placed: { columns, rows }, pixels }: ImageField, channel: ImageChannel, i: number, j: number): Range {
  const across = Math.ceil(columns / SQUARE)
  const own = ranges.get(pixels) ?? new Map<ImageChannel, Float64Array>()
  ranges.set(pixels, own)
  let kept = own.get(channel)
  if (!kept) own.set(channel, (kept = new Float64Array(2 * across * Math.ceil(rows / SQUARE)).fill(NaN)))
  const at = 2 * (j * across + i)
  if (kept[at] !== kept[at]) {
    const [wr, wg, wb, wa] = WEIGHTS[channel]
    let [low, high] = [Infinity, -Infinity]
    for (let v = j * SQUARE; v < Math.min(rows, (j + 1) * SQUARE); v++)
      for (let u = i * SQUARE; u < Math.min(columns, (i + 1) * SQUARE); u++) {
        const pixel = 4 * (v * columns + u)
        const value = wr * pixels[pixel] + wg * pixels[pixel + 1] + wb * pixels[pixel + 2] + wa * pixels[pixel + 3]
        if (value < low) low = value
        if (value > high) high = value
      }
    kept[at] = low
    kept[at + 1] = high
  }
  return { low: kept[at], high: kept[at + 1] }
}
