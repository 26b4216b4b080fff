import type { Rect, Terrain } from './terrain.ts'
import { heightAt, landGradients, nodeGradient } from './terrain.ts'

/** Ends of what a value can be. */
export interface Range {
  readonly low: number
  readonly high: number
}

/** A rectangle of a terrain, and what can be said of all of it. */
export interface GroundBlock extends Rect {
  /** Heights of the surface anywhere in it, m. */
  heights(): Range
  /** Rises per metre along x and z, as `landGradients` tells them anywhere in it. */
  gradients(): GradientRange
}

export interface GradientRange {
  readonly x: Range
  readonly z: Range
  /** Greatest squared rise. */
  readonly steepest: number
}

/** Cells along a side of the finest blocks that are kept, as a power of two. */
const SHIFT = 2
/** Rounding between nodes stays below this share of what is blended. */
const SLACK = 1e-9

/**
 * The ranges of squares of 4, 8, … cells of a terrain, measured when first asked for: lowest and highest
 * sample; least and greatest gradient along x and z, and the greatest squared one.
 */
interface Level {
  readonly shift: number
  readonly across: number
  readonly down: number
  /** low high of each block; NaN where not yet known. */
  readonly heights: Float32Array
  /** x low, x high, z low, z high, steepest of each block, to within rounding; NaN where not yet known. Made when gradients are first asked for. */
  gradients: Float32Array
}

const NOT_MADE = new Float32Array(0)
const known = new WeakMap<Terrain, Level[]>()

function levelsOf(terrain: Terrain): Level[] {
  let levels = known.get(terrain)
  if (levels) return levels
  levels = []
  for (let shift = SHIFT; ; shift++) {
    const across = ((terrain.columns - 2) >> shift) + 1
    const down = ((terrain.rows - 2) >> shift) + 1
    levels.push({ shift, across, down, heights: new Float32Array(2 * across * down).fill(NaN), gradients: NOT_MADE })
    if (across === 1 && down === 1) break
  }
  known.set(terrain, levels)
  return levels
}

/** A rectangle of a terrain as a block; what lies beyond the rim is as the rim. */
export function groundBlock(terrain: Terrain, { x0, z0, x1, z1 }: Rect): GroundBlock {
  const along = (place: number, half: number, per: number, cells: number) => Math.min(cells - 1, Math.max(0, Math.floor((place + half) * per)))
  const i0 = along(x0, terrain.sizeX / 2, terrain.perX, terrain.columns - 1)
  const i1 = along(x1, terrain.sizeX / 2, terrain.perX, terrain.columns - 1)
  const j0 = along(z0, terrain.sizeZ / 2, terrain.perZ, terrain.rows - 1)
  const j1 = along(z1, terrain.sizeZ / 2, terrain.perZ, terrain.rows - 1)
  const cells = { i0, j0, i1, j1 }
  let heights: Range | null = null
  let gradients: GradientRange | null = null
  return {
    x0,
    z0,
    x1,
    z1,
    heights: () => (heights ??= i0 === i1 && j0 === j1 ? heightsInCell(terrain, { x0, z0, x1, z1 }) : heightsIn(terrain, cells)),
    gradients: () => (gradients ??= i0 === i1 && j0 === j1 ? gradientsInCell(terrain, { x0, z0, x1, z1 }) : gradientsIn(terrain, cells)),
  }
}

/** Within one cell the surface is highest and lowest at the corners of the rectangle, or where its sides meet the parting of the cell. */
function heightsInCell(terrain: Terrain, { x0, z0, x1, z1 }: Rect): Range {
  let [low, high] = [Infinity, -Infinity]
  const look = (x: number, z: number) => {
    const h = heightAt(terrain, x, z)
    if (h < low) low = h
    if (h > high) high = h
  }
  const { bounds, stepX, stepZ, perX, perZ } = terrain
  // Along the parting u + v is one more than the cell's own corner has, in cells.
  const sum = Math.floor((0.5 * (x0 + x1) - bounds.x0) * perX) + Math.floor((0.5 * (z0 + z1) - bounds.z0) * perZ) + 1
  for (const x of [x0, x1]) {
    for (const z of [z0, z1]) look(x, z)
    const z = bounds.z0 + (sum - (x - bounds.x0) * perX) * stepZ
    if (z > z0 && z < z1) look(x, z)
  }
  for (const z of [z0, z1]) {
    const x = bounds.x0 + (sum - (z - bounds.z0) * perZ) * stepX
    if (x > x0 && x < x1) look(x, z)
  }
  return widened(low, high)
}

/** Within one cell the gradient is blended between the corners of the rectangle. */
function gradientsInCell(terrain: Terrain, { x0, z0, x1, z1 }: Rect): GradientRange {
  landGradients(terrain, { x: Float64Array.of(x0, x1, x0, x1), z: Float64Array.of(z0, z0, z1, z1) }, FOUR, 4, cornersX, cornersZ)
  const range = (column: Float64Array) => ({ low: Math.min(...column), high: Math.max(...column) })
  const [x, z] = [range(cornersX), range(cornersZ)]
  return gradientRange(x.low, x.high, z.low, z.high, cornersX.reduce((most, gx, k) => Math.max(most, gx * gx + cornersZ[k] * cornersZ[k]), 0))
}

const FOUR = Uint32Array.of(0, 1, 2, 3)
const cornersX = new Float64Array(4)
const cornersZ = new Float64Array(4)

/** Cells from i0, j0 to i1, j1, these among them. */
interface Cells {
  readonly i0: number
  readonly j0: number
  readonly i1: number
  readonly j1: number
}

const found = new Float64Array(5)

function heightsIn(terrain: Terrain, cells: Cells): Range {
  found[0] = Infinity
  found[1] = -Infinity
  addHeights(terrain, levelsOf(terrain), cells)
  const [low, high] = found
  return widened(low, high)
}

/** A range with room for rounding. */
function widened(low: number, high: number): Range {
  const slack = SLACK * (1 + Math.max(Math.abs(low), Math.abs(high)))
  return { low: low - slack, high: high + slack }
}

function gradientsIn(terrain: Terrain, cells: Cells): GradientRange {
  found[0] = found[2] = Infinity
  found[1] = found[3] = -Infinity
  found[4] = 0
  const levels = levelsOf(terrain)
  if (levels[0].gradients === NOT_MADE) for (const level of levels) level.gradients = new Float32Array(5 * level.across * level.down).fill(NaN)
  addGradients(terrain, levels, cells)
  const [xLow, xHigh, zLow, zHigh, steepest] = found
  return gradientRange(xLow, xHigh, zLow, zHigh, steepest)
}

function gradientRange(xLow: number, xHigh: number, zLow: number, zHigh: number, steepest: number): GradientRange {
  const slack = 1e-6 * (Math.max(Math.abs(xLow), Math.abs(xHigh), Math.abs(zLow), Math.abs(zHigh)) + SLACK)
  return { x: { low: xLow - slack, high: xHigh + slack }, z: { low: zLow - slack, high: zHigh + slack }, steepest: steepest * (1 + 1e-6) }
}

/** The level whose blocks are about a quarter as wide as the cells; −1 for those that are looked at one by one. */
function levelFor(levels: readonly Level[], { i0, j0, i1, j1 }: Cells): number {
  const wide = Math.max(i1 - i0, j1 - j0) + 1
  if (wide <= 1 << (SHIFT + 1)) return -1
  let at = 0
  while (at + 1 < levels.length && wide >> levels[at + 1].shift >= 4) at++
  return at
}

function addHeights(terrain: Terrain, levels: readonly Level[], cells: Cells): void {
  const at = levelFor(levels, cells)
  if (at < 0) return addSamples(terrain, cells)
  const { shift, across, heights } = levels[at]
  for (let r = cells.j0 >> shift; r <= cells.j1 >> shift; r++)
    for (let c = cells.i0 >> shift; c <= cells.i1 >> shift; c++) {
      const block = 2 * (r * across + c)
      if (heights[block] !== heights[block]) measureHeights(terrain, levels, at, c, r)
      if (heights[block] < found[0]) found[0] = heights[block]
      if (heights[block + 1] > found[1]) found[1] = heights[block + 1]
    }
}

function addSamples({ heights, columns }: Terrain, { i0, j0, i1, j1 }: Cells): void {
  let [low, high] = found
  for (let j = j0; j <= j1 + 1; j++)
    for (let i = i0, at = j * columns + i0; i <= i1 + 1; i++, at++) {
      const h = heights[at]
      if (h < low) low = h
      if (h > high) high = h
    }
  found[0] = low
  found[1] = high
}

/** Measures one block: the finest from its samples, others from the four they are made of. */
function measureHeights(terrain: Terrain, levels: readonly Level[], at: number, c: number, r: number): void {
  const { across, heights } = levels[at]
  const [lowBefore, highBefore] = found
  found[0] = Infinity
  found[1] = -Infinity
  if (at === 0) addSamples(terrain, cellsOf(terrain, c, r))
  else {
    const finer = levels[at - 1]
    for (let v = 2 * r; v < Math.min(2 * r + 2, finer.down); v++)
      for (let u = 2 * c; u < Math.min(2 * c + 2, finer.across); u++) {
        const block = 2 * (v * finer.across + u)
        if (finer.heights[block] !== finer.heights[block]) measureHeights(terrain, levels, at - 1, u, v)
        if (finer.heights[block] < found[0]) found[0] = finer.heights[block]
        if (finer.heights[block + 1] > found[1]) found[1] = finer.heights[block + 1]
      }
  }
  heights[2 * (r * across + c)] = found[0]
  heights[2 * (r * across + c) + 1] = found[1]
  found[0] = lowBefore
  found[1] = highBefore
}

function cellsOf({ columns, rows }: Terrain, c: number, r: number): Cells {
  return { i0: c << SHIFT, j0: r << SHIFT, i1: Math.min(((c + 1) << SHIFT) - 1, columns - 2), j1: Math.min(((r + 1) << SHIFT) - 1, rows - 2) }
}

function addGradients(terrain: Terrain, levels: readonly Level[], cells: Cells): void {
  const at = levelFor(levels, cells)
  if (at < 0) return addNodes(terrain, cells)
  const { shift, across, gradients } = levels[at]
  for (let r = cells.j0 >> shift; r <= cells.j1 >> shift; r++)
    for (let c = cells.i0 >> shift; c <= cells.i1 >> shift; c++) {
      const block = 5 * (r * across + c)
      if (gradients[block] !== gradients[block]) measureGradients(terrain, levels, at, c, r)
      join(gradients, block)
    }
}

/** Between nodes a gradient is a mean of theirs, and so within the box around them, and never longer than the longest. */
function addNodes(terrain: Terrain, { i0, j0, i1, j1 }: Cells): void {
  for (let j = j0; j <= j1 + 1; j++)
    for (let i = i0; i <= i1 + 1; i++) {
      const [gx, gz] = nodeGradient(terrain, i, j)
      if (gx < found[0]) found[0] = gx
      if (gx > found[1]) found[1] = gx
      if (gz < found[2]) found[2] = gz
      if (gz > found[3]) found[3] = gz
      const squared = gx * gx + gz * gz
      if (squared > found[4]) found[4] = squared
    }
}

function join(from: Float32Array, at: number): void {
  if (from[at] < found[0]) found[0] = from[at]
  if (from[at + 1] > found[1]) found[1] = from[at + 1]
  if (from[at + 2] < found[2]) found[2] = from[at + 2]
  if (from[at + 3] > found[3]) found[3] = from[at + 3]
  if (from[at + 4] > found[4]) found[4] = from[at + 4]
}

function measureGradients(terrain: Terrain, levels: readonly Level[], at: number, c: number, r: number): void {
  const { across, gradients } = levels[at]
  const [xLow, xHigh, zLow, zHigh, steepest] = found
  found[0] = found[2] = Infinity
  found[1] = found[3] = -Infinity
  found[4] = 0
  if (at === 0) addNodes(terrain, cellsOf(terrain, c, r))
  else {
    const finer = levels[at - 1]
    for (let v = 2 * r; v < Math.min(2 * r + 2, finer.down); v++)
      for (let u = 2 * c; u < Math.min(2 * c + 2, finer.across); u++) {
        const block = 5 * (v * finer.across + u)
        if (finer.gradients[block] !== finer.gradients[block]) measureGradients(terrain, levels, at - 1, u, v)
        join(finer.gradients, block)
      }
  }
  gradients.set(found, 5 * (r * across + c))
  found[0] = xLow
  found[1] = xHigh
  found[2] = zLow
  found[3] = zHigh
  found[4] = steepest
}
