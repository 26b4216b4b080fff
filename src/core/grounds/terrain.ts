import type { Sites } from '../columns.ts'
import { fillNearest } from './fill.ts'

/** A rectangle in plan, m; the low edges belong to it, the high ones do not. */
export interface Rect {
  readonly x0: number
  readonly z0: number
  readonly x1: number
  readonly z1: number
}

/** A rectangle with all sides moved out by so much, m. */
export function widened({ x0, z0, x1, z1 }: Rect, by: number): Rect {
  return { x0: x0 - by, z0: z0 - by, x1: x1 + by, z1: z1 + by }
}

/**
 * A height field of `columns × rows` samples, row by row from −Z to +Z, centred on the origin. Each
 * cell between four samples is two triangles, parted from its north-east to its south-west corner:
 * the surface that is drawn and handed off is the one that things stand on.
 */
export interface Terrain {
  readonly columns: number
  readonly rows: number
  readonly sizeX: number
  readonly sizeZ: number
  /** Metres from sample to sample, and their inverse. */
  readonly stepX: number
  readonly stepZ: number
  readonly perX: number
  readonly perZ: number
  /** Finite everywhere: samples that are missing have the height of their nearest neighbour. */
  readonly heights: Float32Array
  /** The heights as stored, NaN where they are missing. */
  readonly stored: Float32Array
  /** 1 for each cell, row by row, of which a corner is missing: there is no ground in it. Null when there is none such. */
  readonly holes: Uint8Array | null
  readonly bounds: Rect
  readonly lowest: number
  readonly highest: number
}

/** Most samples along one side. */
export const MAX_SAMPLES = 4096

/** Checks and wraps a grid of heights, NaN where there is no ground. Throws RangeError on what cannot be. */
export function createTerrain(
  stored: Float32Array,
  columns: number,
  rows: number,
  sizeX: number,
  sizeZ: number,
): Terrain {
  if (!(columns >= 2 && rows >= 2 && columns <= MAX_SAMPLES && rows <= MAX_SAMPLES))
    throw new RangeError(`createTerrain: a side must have 2 to ${MAX_SAMPLES} samples, got ${columns} × ${rows}`)
  if (stored.length !== columns * rows)
    throw new RangeError(`createTerrain: ${columns} × ${rows} samples expected, got ${stored.length} heights`)
  if (!(sizeX > 0 && sizeZ > 0 && sizeX <= 1e6 && sizeZ <= 1e6))
    throw new RangeError(`createTerrain: sizes must be above 0 and at most 1000 km, got ${sizeX} × ${sizeZ} m`)
  let lowest = Infinity
  let highest = -Infinity
  let missing = 0
  for (let i = 0; i < stored.length; i++) {
    const h = stored[i]
    if (h !== h) {
      missing++
      continue
    }
    if (!(h - h === 0)) throw new RangeError(`createTerrain: height ${i} is not a finite number`)
    if (h < lowest) lowest = h
    if (h > highest) highest = h
  }
  if (missing === stored.length) throw new RangeError('createTerrain: no sample has a height')
  const heights = missing > 0 ? fillNearest(stored, columns, rows) : stored
  const bounds = { x0: -sizeX / 2, z0: -sizeZ / 2, x1: sizeX / 2, z1: sizeZ / 2 }
  return {
    columns,
    rows,
    sizeX,
    sizeZ,
    stepX: sizeX / (columns - 1),
    stepZ: sizeZ / (rows - 1),
    perX: (columns - 1) / sizeX,
    perZ: (rows - 1) / sizeZ,
    heights,
    stored,
    holes: missing > 0 ? holesOf(stored, columns, rows) : null,
    bounds,
    lowest,
    highest,
  }
}

function holesOf(stored: Float32Array, columns: number, rows: number): Uint8Array {
  const holes = new Uint8Array((columns - 1) * (rows - 1))
  for (let j = 0; j + 1 < rows; j++)
    for (let i = 0; i + 1 < columns; i++) {
      const at = j * columns + i
      const sum = stored[at] + stored[at + 1] + stored[at + columns] + stored[at + columns + 1]
      if (sum !== sum) holes[j * (columns - 1) + i] = 1
    }
  return holes
}

/** Whether there is no ground at a plan position within the bounds. */
export function inHole(t: Terrain, x: number, z: number): boolean {
  if (!t.holes) return false
  const i = Math.min(t.columns - 2, Math.max(0, ((x + t.sizeX / 2) * t.perX) | 0))
  const j = Math.min(t.rows - 2, Math.max(0, ((z + t.sizeZ / 2) * t.perZ) | 0))
  return t.holes[j * (t.columns - 1) + i] === 1
}

/** Takes all weight from sites where there is no ground. */
export function refuseHoles(t: Terrain, { x, z, weight, count }: Sites): void {
  if (!t.holes) return
  for (let k = 0; k < count; k++) if (inHole(t, x[k], z[k])) weight[k] = 0
}

/** Heights of a terrain at plan places, m. */
export type HeightAt = (x: number, z: number) => number

/** Heights of a terrain at any place, m: beyond its rim those of the rim, 0 in holes. */
export function heightOf(terrain: Terrain): HeightAt {
  return (x, z) => {
    const height = heightAt(terrain, x, z)
    return Number.isFinite(height) ? height : 0
  }
}

/** Height of the surface at (x, z), m; positions outside take the nearest edge. */
export function heightAt(t: Terrain, x: number, z: number): number {
  const u = clampCell((x + t.sizeX / 2) * t.perX, t.columns - 1)
  const v = clampCell((z + t.sizeZ / 2) * t.perZ, t.rows - 1)
  const i = u >= t.columns - 1 ? t.columns - 2 : u | 0
  const j = v >= t.rows - 1 ? t.rows - 2 : v | 0
  const fx = u - i
  const fz = v - j
  const at = j * t.columns + i
  const h = t.heights
  const h00 = h[at]
  const h10 = h[at + 1]
  const h01 = h[at + t.columns]
  const h11 = h[at + t.columns + 1]
  return fx + fz <= 1 ? h00 + (h10 - h00) * fx + (h01 - h00) * fz : h11 + (h01 - h11) * (1 - fx) + (h10 - h11) * (1 - fz)
}

function clampCell(value: number, last: number): number {
  return value < 0 ? 0 : value > last ? last : value
}

/** Fills y of all sites with the height of the surface. */
export function landHeights(t: Terrain, s: Sites): void {
  const { columns, rows, sizeX, sizeZ, heights } = t
  const { x, y, z, count } = s
  const perX = (columns - 1) / sizeX
  const perZ = (rows - 1) / sizeZ
  const lastI = columns - 1
  const lastJ = rows - 1
  for (let k = 0; k < count; k++) {
    let u = (x[k] + sizeX / 2) * perX
    let v = (z[k] + sizeZ / 2) * perZ
    if (u < 0) u = 0
    else if (u > lastI) u = lastI
    if (v < 0) v = 0
    else if (v > lastJ) v = lastJ
    const i = u >= lastI ? lastI - 1 : u | 0
    const j = v >= lastJ ? lastJ - 1 : v | 0
    const fx = u - i
    const fz = v - j
    const at = j * columns + i
    const h10 = heights[at + 1]
    const h01 = heights[at + columns]
    if (fx + fz <= 1) {
      const h00 = heights[at]
      y[k] = h00 + (h10 - h00) * fx + (h01 - h00) * fz
    } else {
      const h11 = heights[at + columns + 1]
      y[k] = h11 + (h01 - h11) * (1 - fx) + (h10 - h11) * (1 - fz)
    }
  }
}

/** Horn's gradient (rise per metre along x and z) at a node; at the rim the nearest samples stand in. */
export function nodeGradient({ columns, rows, heights, perX, perZ }: Terrain, i: number, j: number): [number, number] {
  const w = i > 0 ? i - 1 : 0
  const e = i + 1 < columns ? i + 1 : i
  const n = (j > 0 ? j - 1 : 0) * columns
  const m = j * columns
  const s = (j + 1 < rows ? j + 1 : j) * columns
  const h = heights
  return [
    (h[n + e] - h[n + w] + 2 * (h[m + e] - h[m + w]) + h[s + e] - h[s + w]) * perX * 0.125,
    (h[s + w] - h[n + w] + 2 * (h[s + i] - h[n + i]) + h[s + e] - h[n + e]) * perZ * 0.125,
  ]
}

/**
 * Writes the gradient (rise per metre along x and z) at the first `count` of the sites that `at`
 * lists: Horn's third-order finite difference (1981, "Hill shading and the reflectance map") at the
 * four nodes around a site, blended bilinearly. At the rim the nearest samples stand in.
 */
export function landGradients(
  t: Terrain,
  { x, z }: { readonly x: Float64Array; readonly z: Float64Array },
  at: Uint32Array,
  count: number,
  gradientX: Float64Array,
  gradientZ: Float64Array,
): void {
  const { columns, rows, sizeX, sizeZ, heights, perX, perZ } = t
  const lastI = columns - 1
  const lastJ = rows - 1
  for (let k = 0; k < count; k++) {
    const u = clampCell((x[at[k]] + sizeX / 2) * perX, lastI)
    const v = clampCell((z[at[k]] + sizeZ / 2) * perZ, lastJ)
    const i = u >= lastI ? lastI - 1 : u | 0
    const j = v >= lastJ ? lastJ - 1 : v | 0
    const fx = u - i
    const fz = v - j
    // The 4 × 4 samples a…d (columns i−1…i+2) of rows j−1…j+2.
    const iw = i > 0 ? i - 1 : 0
    const ie = i + 2 <= lastI ? i + 2 : lastI
    const r0 = (j > 0 ? j - 1 : 0) * columns
    const r1 = j * columns
    const r2 = r1 + columns
    const r3 = (j + 2 <= lastJ ? j + 2 : lastJ) * columns
    const a0 = heights[r0 + iw]
    const b0 = heights[r0 + i]
    const c0 = heights[r0 + i + 1]
    const d0 = heights[r0 + ie]
    const a1 = heights[r1 + iw]
    const b1 = heights[r1 + i]
    const c1 = heights[r1 + i + 1]
    const d1 = heights[r1 + ie]
    const a2 = heights[r2 + iw]
    const b2 = heights[r2 + i]
    const c2 = heights[r2 + i + 1]
    const d2 = heights[r2 + ie]
    const a3 = heights[r3 + iw]
    const b3 = heights[r3 + i]
    const c3 = heights[r3 + i + 1]
    const d3 = heights[r3 + ie]
    // Differences along x of every row, at columns i and i+1, then Horn's 1-2-1 across rows.
    const x00 = c0 - a0 + 2 * (c1 - a1) + (c2 - a2)
    const x10 = d0 - b0 + 2 * (d1 - b1) + (d2 - b2)
    const x01 = c1 - a1 + 2 * (c2 - a2) + (c3 - a3)
    const x11 = d1 - b1 + 2 * (d2 - b2) + (d3 - b3)
    const z00 = a2 - a0 + 2 * (b2 - b0) + (c2 - c0)
    const z10 = b2 - b0 + 2 * (c2 - c0) + (d2 - d0)
    const z01 = a3 - a1 + 2 * (b3 - b1) + (c3 - c1)
    const z11 = b3 - b1 + 2 * (c3 - c1) + (d3 - d1)
    const xLow = x00 + (x10 - x00) * fx
    const xHigh = x01 + (x11 - x01) * fx
    const zLow = z00 + (z10 - z00) * fx
    const zHigh = z01 + (z11 - z01) * fx
    gradientX[k] = (xLow + (xHigh - xLow) * fz) * perX * 0.125
    gradientZ[k] = (zLow + (zHigh - zLow) * fz) * perZ * 0.125
  }
}
