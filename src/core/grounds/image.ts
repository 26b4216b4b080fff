import type { GroundImage } from '../meadow.ts'
import { cos, DEGREE, sin } from '../math/portable.ts'

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
