import { MAX_SAMPLES } from '../core/ground/terrain.ts'
import { ProblemError } from '../document/problem.ts'

/** A grid of numbers as a file holds them, before size and range are settled. */
export interface HeightGrid {
  readonly columns: number
  readonly rows: number
  /** Row by row from the north; NaN where the file has no data. */
  readonly values: Float32Array<ArrayBuffer>
  /** Cells without data. */
  readonly missing: number
  /** Whether the values are heights in metres; otherwise they are 0…1 and need a range. */
  readonly metres: boolean
  /** Distance between samples, m, when the file says it. */
  readonly cell: number | null
  /** What the file is, in words: "16-bit PNG", "ESRI ASCII grid". */
  readonly form: string
}

/** A reader of height files; one file a format, listed in `heights.ts`. */
export interface HeightReader {
  readonly kind: string
  readonly label: string
  readonly extensions: readonly string[]
  /** Most bytes that are looked at. */
  readonly maxBytes: number
  /** Throws ProblemError with one sentence that names the file, the place and the remedy. */
  read(bytes: Uint8Array<ArrayBuffer>, name: string): HeightGrid | Promise<HeightGrid>
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

/** Fills cells without data from their nearest neighbour that has some, ring by ring. */
export function fillMissing(grid: HeightGrid): Float32Array<ArrayBuffer> {
  const { columns, rows } = grid
  const values = grid.values.slice()
  let edge: number[] = []
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i])) edge.push(i)
  if (edge.length === values.length || edge.length === 0) return values
  while (edge.length > 0) {
    const next: number[] = []
    for (const i of edge) {
      const x = i % columns
      const y = (i - x) / columns
      const give = (j: number) => {
        if (!Number.isNaN(values[j])) return
        values[j] = values[i]
        next.push(j)
      }
      if (x > 0) give(i - 1)
      if (x < columns - 1) give(i + 1)
      if (y > 0) give(i - columns)
      if (y < rows - 1) give(i + columns)
    }
    edge = next
  }
  return values
}
