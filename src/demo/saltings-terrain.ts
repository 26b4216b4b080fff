import { fractal2 } from '../core/math/noise.ts'
import { heightsOf } from './starters/heights.ts'
import { sin, smoothstep } from '../core/math/portable.ts'

/** The ground of Gullhaven Saltings: a tidal marsh with a creek, dunes, a knoll and a shingle spit. */
export const SALTINGS = { columns: 513, rows: 513, size: 400 } as const

/** A bump that is 1 at distance 0 and gone at `reach`. */
function bump(distance: number, reach: number): number {
  return smoothstep(1 - distance / reach)
}

/** Middle line of the main creek: x at a given z. */
export function creekX(z: number): number {
  return -18 + 34 * sin(z / 41) + 15 * sin(z / 17 + 1.3)
}

/** Shoreline: z at a given x, beyond which the sea floor falls away. */
function shoreZ(x: number): number {
  return 128 + 14 * sin(x / 47 + 0.6)
}

/** Middle line of the shingle spit: z at a given x; it ends at the creek's mouth. */
function spitZ(x: number): number {
  return 152 + 16 * sin((x + 150) / 75)
}

function creekDepth(x: number, z: number): number {
  // Distances across a winding line, flattened for its slant, so that the creek keeps its width.
  const slant = (creekX(z + 0.5) - creekX(z - 0.5)) / 1
  const main = Math.abs(x - creekX(z)) / Math.sqrt(1 + slant * slant)
  const width = 5 + 7 * smoothstep((z + 120) / 260)
  const open = smoothstep((z + 165) / 50)
  let cut = open * bump(main, width * 2.1)
  for (const [z0, side, length] of [
    [-60, 1, 95],
    [-5, -1, 110],
    [52, 1, 80],
    [88, -1, 90],
  ]) {
    const along = side * (x - creekX(z0))
    if (along < 0 || along > length) continue
    const line = z0 + 9 * sin(along / 13 + z0) + along * 0.12 * side
    const narrow = 1 - along / length
    cut = Math.max(cut, 0.85 * bump(Math.abs(z - line), 2.2 + 6 * narrow) * smoothstep(narrow * 4))
  }
  return cut
}

/** Height at a plan position, m over the mean tide. */
export function saltingsHeight(x: number, z: number): number {
  const rough = fractal2(5, x / 38, z / 38, 3)
  let h = 0.72 + 0.16 * rough + 0.05 * fractal2(6, x / 6, z / 6, 2)
  // Inland rise, the knoll with its pines, and the dune ridge with a lower one in front.
  h += 6.5 * smoothstep((-z - 105) / 95) * (1 + 0.35 * fractal2(7, x / 70, z / 70, 3))
  h += 8 * bump(Math.sqrt((x - 62) * (x - 62) + (z + 78) * (z + 78)), 62) * (1 + 0.2 * rough)
  const ridge = x - (132 + 16 * sin(z / 52))
  const southern = smoothstep((170 - z) / 60)
  h += southern * 7 * bump(Math.abs(ridge), 38) * (0.85 + 0.45 * fractal2(8, x / 30, z / 46, 3))
  h += southern * 3 * bump(Math.abs(ridge - 34), 24) * (1 + 0.5 * fractal2(9, x / 22, z / 30, 2))
  // The sea takes over in the south, and the spit stands out of it.
  const sea = smoothstep((z - shoreZ(x)) / 55)
  h += (-3 - h) * sea
  const spitEnd = smoothstep((creekX(150) - 34 - x) / 40)
  h += 4.1 * spitEnd * bump(Math.abs(z - spitZ(x)), 21) * (0.6 + 0.4 * sea) * (1 + 0.12 * fractal2(10, x / 14, z / 14, 2))
  const cut = creekDepth(x, z) * smoothstep((4.5 - h) / 3)
  const bed = -1.25 + 0.1 * rough
  return h + (Math.min(bed, h) - h) * cut
}

/** Heights of the whole ground, row by row from −Z. */
export function saltingsHeights(): Float32Array<ArrayBuffer> {
  return heightsOf({ samples: SALTINGS.columns, size: SALTINGS.size }, saltingsHeight)
}
