import type { Range } from './blocks.ts'
import type { Rect, Terrain } from './terrain.ts'
import { heightAt } from './terrain.ts'

/** Mean heights around every node of a grid of its own over the ground. */
export interface MeanHeights {
  readonly columns: number
  readonly rows: number
  /** Nodes to a metre, and the place of the first. */
  readonly perX: number
  readonly perZ: number
  readonly x0: number
  readonly z0: number
  readonly means: Float32Array
}

/** Cells along the radius, as far as the grid does not grow too large. */
const CELLS_A_RADIUS = 8
const MOST_ALONG = 1024

const known = new WeakMap<Terrain, Map<number, MeanHeights>>()

/**
 * Mean height of the ground within `radius` m around the nodes of a grid about as fine as an eighth of
 * it; what lies beyond the rim does not count. Kept for each terrain and radius.
 */
export function meanHeights(terrain: Terrain, radius: number): MeanHeights {
  const own = known.get(terrain) ?? new Map<number, MeanHeights>()
  known.set(terrain, own)
  const found = own.get(radius)
  if (found) return found
  const made = computeMeans(terrain, radius)
  own.set(radius, made)
  return made
}

function computeMeans(terrain: Terrain, radius: number): MeanHeights {
  const { bounds, sizeX, sizeZ, stepX, stepZ } = terrain
  const cell = Math.max(radius / CELLS_A_RADIUS, Math.max(sizeX, sizeZ) / MOST_ALONG)
  const columns = Math.max(2, Math.ceil(sizeX / cell))
  const rows = Math.max(2, Math.ceil(sizeZ / cell))
  const cellX = sizeX / columns
  const cellZ = sizeZ / rows
  // Each cell's own mean, from samples as close as the ground's.
  const kx = Math.ceil(cellX / stepX)
  const kz = Math.ceil(cellZ / stepZ)
  // Sums along each row, so that a stretch of it is one difference: prefix[r][c] is the sum of the cells before c.
  const prefix = new Float64Array(rows * (columns + 1))
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      let sum = 0
      for (let j = 0; j < kz; j++)
        for (let i = 0; i < kx; i++)
          sum += heightAt(terrain, bounds.x0 + (c + (i + 0.5) / kx) * cellX, bounds.z0 + (r + (j + 0.5) / kz) * cellZ)
      const at = r * (columns + 1) + c
      prefix[at + 1] = prefix[at] + sum / (kx * kz)
    }
  const reach = Math.ceil(radius / cellZ)
  const halves = Float64Array.from({ length: 2 * reach + 1 }, (_, k) => {
    const away = (k - reach) * cellZ
    return Math.sqrt(Math.max(0, radius * radius - away * away)) / cellX
  })
  const means = new Float32Array(columns * rows)
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      let sum = 0
      let width = 0
      for (let k = Math.max(0, reach - r); k < Math.min(2 * reach + 1, rows - r + reach); k++) {
        const half = halves[k]
        if (half === 0) continue
        const row = (r + k - reach) * (columns + 1)
        const from = Math.max(0, c + 0.5 - half)
        const to = Math.min(columns, c + 0.5 + half)
        sum += prefixAt(prefix, row, columns, to) - prefixAt(prefix, row, columns, from)
        width += to - from
      }
      means[r * columns + c] = width > 0 ? sum / width : prefix[r * (columns + 1) + c + 1] - prefix[r * (columns + 1) + c]
    }
  return { columns, rows, perX: 1 / cellX, perZ: 1 / cellZ, x0: bounds.x0 + cellX / 2, z0: bounds.z0 + cellZ / 2, means }
}

/** The sum of a row's cells before a place between 0 and `columns`. */
function prefixAt(prefix: Float64Array, row: number, columns: number, place: number): number {
  const c = Math.min(columns - 1, Math.floor(place))
  return prefix[row + c] + (place - c) * (prefix[row + c + 1] - prefix[row + c])
}

/** Rectangles of more nodes are not looked through: they tell nothing. */
const MOST_LOOKED_AT = 1024

/** Mean heights around anywhere in a rectangle, as {@link meanHeightAt} tells them, m. */
export function meanHeightsIn({ columns, rows, perX, perZ, x0, z0, means }: MeanHeights, rect: Rect): Range {
  const node = (place: number, last: number, up: number) => Math.min(last, Math.max(0, Math.floor(place) + up))
  const [c0, c1] = [node((rect.x0 - x0) * perX, columns - 1, 0), node((rect.x1 - x0) * perX, columns - 1, 1)]
  const [r0, r1] = [node((rect.z0 - z0) * perZ, rows - 1, 0), node((rect.z1 - z0) * perZ, rows - 1, 1)]
  if ((c1 - c0 + 1) * (r1 - r0 + 1) > MOST_LOOKED_AT) return { low: -Infinity, high: Infinity }
  let [low, high] = [Infinity, -Infinity]
  for (let r = r0; r <= r1; r++)
    for (let c = c0; c <= c1; c++) {
      const mean = means[r * columns + c]
      if (mean < low) low = mean
      if (mean > high) high = mean
    }
  const slack = 1e-9 * (1 + Math.max(Math.abs(low), Math.abs(high)))
  return { low: low - slack, high: high + slack }
}

/** The mean height around a place, blended between the nodes around it, m. */
export function meanHeightAt({ columns, rows, perX, perZ, x0, z0, means }: MeanHeights, x: number, z: number): number {
  const gx = Math.min(columns - 1, Math.max(0, (x - x0) * perX))
  const gz = Math.min(rows - 1, Math.max(0, (z - z0) * perZ))
  const c = Math.min(columns - 2, Math.floor(gx))
  const r = Math.min(rows - 2, Math.floor(gz))
  const at = r * columns + c
  const low = means[at] + (gx - c) * (means[at + 1] - means[at])
  const high = means[at + columns] + (gx - c) * (means[at + columns + 1] - means[at + columns])
  return low + (gz - r) * (high - low)
}
