import { fillNearest, fillSmooth } from '../core/grounds/fill.ts'
import { degreeReference, metresPerDegree } from '../core/grounds/georeference.ts'
import type { GeoReference } from '../core/meadow.ts'
import { LIMITS } from '../core/limits.ts'
import { ProblemError } from '../document/problem.ts'
import type { HeightGrid } from './height-grid.ts'

/** What becomes of cells without data: they stay holes, or are filled. */
export const GAPS = ['holes', 'nearest', 'smooth', 'level'] as const
export type Gaps = (typeof GAPS)[number]

/** How the numbers of a grid become heights in metres. */
export interface HeightSettings {
  readonly gaps: Gaps
  /** Where gaps lie when they are filled to a level, m. */
  readonly level: number
  /** Metres to a unit of heights that are heights. */
  readonly factor: number
  /** What the lowest and the highest value stand for when they are shares, m. */
  readonly lowest: number
  readonly highest: number
}

/** Heights ready to be a ground. */
export interface SettledHeights {
  /** NaN in holes. */
  readonly heights: Float32Array<ArrayBuffer>
  readonly lowest: number
  readonly highest: number
}

/** Turns the numbers of a grid into heights. Throws ProblemError when one comes out that no ground can have. */
export function settleHeights(grid: Pick<HeightGrid, 'values' | 'columns' | 'rows' | 'metres' | 'missing'>, settings: HeightSettings): SettledHeights {
  const { values, columns, rows } = grid
  const { gaps, level, factor } = settings
  const [from, to] = rangeOf(values)
  const heights = new Float32Array(values.length)
  const per = to > from ? (settings.highest - settings.lowest) / (to - from) : 0
  for (let i = 0; i < values.length; i++) heights[i] = grid.metres ? values[i] * factor : settings.lowest + (values[i] - from) * per
  if (grid.missing > 0 && gaps === 'level') for (let i = 0; i < heights.length; i++) if (heights[i] !== heights[i]) heights[i] = level
  const filled = grid.missing > 0 && gaps === 'nearest' ? fillNearest(heights, columns, rows) : grid.missing > 0 && gaps === 'smooth' ? fillSmooth(heights, columns, rows) : heights
  const [lowest, highest] = rangeOf(filled)
  if (lowest < -LIMITS.height || highest > LIMITS.height)
    throw new ProblemError(`These heights would reach from ${Math.round(lowest)} to ${Math.round(highest)} m; a ground lies within ${LIMITS.height.toLocaleString('en')} m of 0, so choose another unit or range.`)
  return { heights: filled, lowest, highest }
}

function rangeOf(values: Float32Array): [number, number] {
  let low = Infinity
  let high = -Infinity
  for (const v of values) {
    if (v < low) low = v
    if (v > high) high = v
  }
  return [low, high]
}

/** The units that distances in a file can have. */
export const DISTANCES = ['metres', 'feet', 'degrees'] as const
export type Distance = (typeof DISTANCES)[number]
const FOOT = 0.3048

/** What the file's own distances seem to be. */
export function guessDistance({ spacing }: Pick<HeightGrid, 'spacing'>): Distance {
  const reference = spacing?.georeference
  if (reference?.degrees) return 'degrees'
  return reference && Math.abs(reference.metresX - FOOT) < 1e-3 ? 'feet' : 'metres'
}

/** Latitude of the middle, degrees, when the file says it. */
export function latitudeOf({ spacing }: Pick<HeightGrid, 'spacing'>): number | null {
  const y = spacing?.georeference?.y
  return y !== undefined && Math.abs(y) <= 90 ? y : null
}

/** Size of a ground, m, from sample to sample, when the file's distances are taken as those of a unit. */
export function sizeOf(grid: Pick<HeightGrid, 'spacing' | 'columns' | 'rows'>, distance: Distance, latitude: number): { sizeX: number; sizeZ: number } {
  const { stepX, stepY } = grid.spacing ?? { stepX: 1, stepY: 1 }
  const per = distance === 'degrees' ? metresPerDegree(latitude) : distance === 'feet' ? { x: FOOT, y: FOOT } : { x: 1, y: 1 }
  return { sizeX: (grid.columns - 1) * stepX * per.x, sizeZ: (grid.rows - 1) * stepY * per.y }
}

/** Where a ground of a settled size lies; null when its file does not say. */
export function referenceOf(grid: Pick<HeightGrid, 'spacing' | 'columns' | 'rows'>, distance: Distance, { sizeX, sizeZ }: { sizeX: number; sizeZ: number }): GeoReference | null {
  const spacing = grid.spacing
  if (!spacing?.georeference) return null
  const { system, x, y } = spacing.georeference
  if (distance === 'degrees' && Math.abs(y) > 90) return null
  const base = distance === 'degrees' ? degreeReference(x, y, system) : { system, degrees: false, x, y }
  return { ...base, metresX: sizeX / ((grid.columns - 1) * spacing.stepX), metresY: sizeZ / ((grid.rows - 1) * spacing.stepY) }
}

const SMALLEST = 2
const LARGEST = 300_000

/** A sentence that questions a ground whose size or relief can hardly be; null when all is well. */
export function doubt(sizeX: number, sizeZ: number, relief: number): string | null {
  const metres = (value: number) => `${Number(value.toPrecision(3)).toLocaleString('en', { maximumFractionDigits: 2 })} m`
  const size = `${metres(sizeX)} × ${metres(sizeZ)}`
  const [short, long] = [Math.min(sizeX, sizeZ), Math.max(sizeX, sizeZ)]
  if (relief > short) return `A ground of ${size} with ${metres(relief)} between its lowest and highest point can hardly be: are its distances in degrees or another unit?`
  if (long < SMALLEST) return `A ground of ${size} is smaller than a person: are its distances in degrees or another unit?`
  if (long > LARGEST) return `A ground of ${size} is larger than a province: are its distances in feet or another unit?`
  return null
}
