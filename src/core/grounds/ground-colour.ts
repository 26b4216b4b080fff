import { smoothstep } from '../math/portable.ts'
import { fractal2 } from '../math/noise.ts'
import type { Rect, Terrain } from './terrain.ts'
import { heightAt } from './terrain.ts'

/** The natural tint of bare ground by height over the water, slope and a little noise. Linear r g b. */
type Rgb = readonly [number, number, number]

const MUD: Rgb = [0.075, 0.06, 0.042]
const SAND: Rgb = [0.42, 0.33, 0.2]
const TURF: Rgb = [0.105, 0.125, 0.04]
const DRY: Rgb = [0.23, 0.19, 0.085]
const ROCK: Rgb = [0.16, 0.145, 0.125]

function blend(a: Rgb, b: Rgb, t: number): Rgb {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t]
}

/**
 * Colours a grid of `columns × rows` vertices spread evenly over a rectangle of a terrain: r g b
 * bytes (linear, 0…255), row by row from −Z. Bands follow the water level and the terrain's relief.
 */
export function groundColours(
  t: Terrain,
  rect: Rect,
  columns: number,
  rows: number,
  waterLevel: number,
): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(3 * columns * rows)
  const stepX = (rect.x1 - rect.x0) / (columns - 1)
  const stepZ = (rect.z1 - rect.z0) / (rows - 1)
  const reach = Math.max(t.sizeX / (t.columns - 1), t.sizeZ / (t.rows - 1), Math.min(stepX, 4))
  const relief = Math.max(t.highest - waterLevel, 1)
  // Bands are metres near the shore on low ground, and stretch with tall relief.
  const shore = Math.min(Math.max(relief * 0.12, 0.5), 6)
  for (let j = 0; j < rows; j++) {
    const z = rect.z0 + j * stepZ
    for (let i = 0; i < columns; i++) {
      const x = rect.x0 + i * stepX
      const h = heightAt(t, x, z)
      const dx = (heightAt(t, x + reach, z) - heightAt(t, x - reach, z)) / (2 * reach)
      const dz = (heightAt(t, x, z + reach) - heightAt(t, x, z - reach)) / (2 * reach)
      const rise = Math.sqrt(dx * dx + dz * dz)
      const n = fractal2(77, x / 23, z / 23, 3)
      const over = h - waterLevel + n * 0.12 * shore
      let colour = blend(MUD, SAND, smoothstep((over + 0.12 * shore) / (0.35 * shore)) * 0.45)
      colour = blend(colour, TURF, smoothstep((over - 0.2 * shore) / (0.5 * shore)))
      colour = blend(colour, DRY, smoothstep((over - shore) / (0.6 * relief)) * 0.8)
      colour = blend(colour, SAND, smoothstep((rise - 0.22) / 0.3) * smoothstep((18 - relief) / 6) * 0.85)
      colour = blend(colour, ROCK, smoothstep((rise - 0.55) / 0.35))
      const shade = 1 + 0.16 * n
      const at = 3 * (j * columns + i)
      for (let c = 0; c < 3; c++) out[at + c] = Math.max(0, Math.min(255, Math.round(colour[c] * shade * 255)))
    }
  }
  return out
}
