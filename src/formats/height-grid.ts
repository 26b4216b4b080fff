import { MAX_SAMPLES } from '../core/grounds/terrain.ts'
import type { GeoReference } from '../core/meadow.ts'
import { LIMITS } from '../core/limits.ts'
import { ProblemError } from '../document/problem.ts'

/** A grid of numbers as a file holds them, before size and range are settled. */
export interface HeightGrid {
  readonly columns: number
  readonly rows: number
  /** Row by row from the north; NaN where the file has no data. */
  readonly values: Float32Array<ArrayBuffer>
  /** Cells without data. */
  readonly missing: number
  /** Lowest and highest value that is there. */
  readonly lowest: number
  readonly highest: number
  /** Whether the values are heights in metres; otherwise they are 0…1 and need a range. */
  readonly metres: boolean
  /** How far samples lie apart and where, when the file says it. */
  readonly spacing: GridSpacing | null
  /** What the file is, in words: "16-bit PNG", "ESRI ASCII grid". */
  readonly form: string
}

/** Where samples lie. */
export interface GridSpacing {
  /** From sample to sample, in the file's own unit. */
  readonly stepX: number
  readonly stepY: number
  /** Where the middle lies and how long the file's unit is; null when the file does not say where. */
  readonly georeference: GeoReference | null
}

/** What a reader finds; the rest of a grid is worked out from it. */
export type RawGrid = Omit<HeightGrid, 'missing' | 'lowest' | 'highest'>

/** A reader of height files; one file a format, listed in `heights.ts`. */
export interface HeightReader {
  readonly kind: string
  readonly label: string
  readonly extensions: readonly string[]
  /** Most bytes that are looked at. */
  readonly maxBytes: number
  /** Throws ProblemError with one sentence that names the file, the place and the remedy. Tells now and then what share is read. */
  read(bytes: Uint8Array<ArrayBuffer>, name: string, tell: (share: number) => void): RawGrid | Promise<RawGrid>
}

/** Refuses grids too small or too large to be a ground. */
export function checkSides(name: string, columns: number, rows: number): void {
  if (columns < 2 || rows < 2)
    throw new ProblemError(`“${name}” is only ${columns} × ${rows} samples; a ground needs at least 2 × 2.`)
  if (columns > MAX_SAMPLES || rows > MAX_SAMPLES)
    throw new ProblemError(
      `“${name}” has ${columns} × ${rows} samples; at most ${MAX_SAMPLES} × ${MAX_SAMPLES} can be opened, so scale it down first.`,
    )
}

/** Where a value of a grid stands, in words. */
export function placeInGrid(at: number, columns: number): string {
  return `row ${Math.floor(at / columns) + 1}, column ${(at % columns) + 1}`
}

/** Counts and ranges the values of a grid, and refuses those that no height can have. The same for every format. */
export function settleGrid(grid: RawGrid, name: string): HeightGrid {
  const { values, columns } = grid
  let missing = 0
  let lowest = Infinity
  let highest = -Infinity
  for (let i = 0; i < values.length; i++) {
    const value = values[i]
    if (value !== value) {
      missing++
      continue
    }
    if (!(Math.abs(value) <= LIMITS.height))
      throw new ProblemError(
        `“${name}” has a height of ${Number(value.toPrecision(7))} m at ${placeInGrid(i, columns)}, which cannot be; check its unit and its mark for cells without data.`,
      )
    if (value < lowest) lowest = value
    if (value > highest) highest = value
  }
  if (missing === values.length) throw new ProblemError(`“${name}” has no data in any of its cells; check its mark for cells without data.`)
  return { ...grid, missing, lowest, highest }
}
