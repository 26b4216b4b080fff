/** Ways of giving heights to cells without data. A grid is `columns × rows` values, row by row; NaN has none. */

/** A copy in which each value that is missing is that of its nearest neighbour that has one, step by step over sides. */
export function fillNearest(values: Float32Array, columns: number, rows: number): Float32Array<ArrayBuffer> {
  const filled = Float32Array.from(values)
  const queue = new Uint32Array(filled.length)
  let end = 0
  const give = (to: number, from: number) => {
    if (filled[to] === filled[to]) return
    filled[to] = filled[from]
    queue[end++] = to
  }
  const spread = (at: number) => {
    const x = at % columns
    if (x > 0) give(at - 1, at)
    if (x < columns - 1) give(at + 1, at)
    if (at >= columns) give(at - columns, at)
    if (at < columns * (rows - 1)) give(at + columns, at)
  }
  for (let i = 0; i < filled.length; i++) if (values[i] === values[i]) spread(i)
  for (let next = 0; next < end; next++) spread(queue[next])
  return filled
}

/** Sweeps over one level of the pyramid; what is farther than so many cells from an edge comes from the level above. */
const SWEEPS = 24

/**
 * A copy in which what is missing is stretched between what is there like a membrane: Laplace's
 * equation, by relaxation on a pyramid of grids, each starting from the coarser one. The values that
 * are there stay; none of the others is outside their range.
 */
export function fillSmooth(values: Float32Array, columns: number, rows: number): Float32Array<ArrayBuffer> {
  const start = startOf(values, columns, rows)
  for (let sweep = 0; sweep < SWEEPS; sweep++) relax(start, values, columns, rows)
  return start
}

/** What relaxing starts from: the smooth fill of the grid of half the size, or the nearest values where that is small. */
function startOf(values: Float32Array, columns: number, rows: number): Float32Array<ArrayBuffer> {
  if (Math.min(columns, rows) < 8) return fillNearest(values, columns, rows)
  const half = halved(values, columns, rows)
  const coarse = fillSmooth(half.values, half.columns, half.rows)
  const out = Float32Array.from(values)
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const at = j * columns + i
      if (values[at] !== values[at]) out[at] = blended(coarse, half.columns, half.rows, (i - 0.5) / 2, (j - 0.5) / 2)
    }
  return out
}

/** Each two by two values as the mean of those that are there. */
function halved(values: Float32Array, columns: number, rows: number) {
  const [wide, high] = [(columns + 1) >> 1, (rows + 1) >> 1]
  const out = new Float32Array(wide * high)
  for (let j = 0; j < high; j++)
    for (let i = 0; i < wide; i++) {
      let sum = 0
      let count = 0
      for (let b = 2 * j; b < Math.min(rows, 2 * j + 2); b++)
        for (let a = 2 * i; a < Math.min(columns, 2 * i + 2); a++) {
          const value = values[b * columns + a]
          if (value !== value) continue
          sum += value
          count++
        }
      out[j * wide + i] = count > 0 ? sum / count : NaN
    }
  return { values: out, columns: wide, rows: high }
}

function blended(values: Float32Array, columns: number, rows: number, u: number, v: number): number {
  const x = Math.min(columns - 1, Math.max(0, u))
  const y = Math.min(rows - 1, Math.max(0, v))
  const i = Math.min(columns - 2, Math.floor(x))
  const j = Math.min(rows - 2, Math.floor(y))
  const at = j * columns + i
  const low = values[at] + (values[at + 1] - values[at]) * (x - i)
  const high = values[at + columns] + (values[at + columns + 1] - values[at + columns]) * (x - i)
  return low + (high - low) * (y - j)
}

/** One sweep of Gauss and Seidel: what is missing becomes the mean of its neighbours; at the rim the inner one counts twice. */
function relax(out: Float32Array, values: Float32Array, columns: number, rows: number): void {
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const at = j * columns + i
      if (values[at] === values[at]) continue
      const west = i > 0 ? at - 1 : at + 1
      const east = i < columns - 1 ? at + 1 : at - 1
      const north = j > 0 ? at - columns : at + columns
      const south = j < rows - 1 ? at + columns : at - columns
      out[at] = (out[west] + out[east] + out[north] + out[south]) / 4
    }
}
