/** Cells along each side of a box, as a power of two. */
const BITS = 6
const CELLS = 1 << (3 * BITS)

/**
 * Places, x y z of each in `coordinates`, so ordered that those that follow each other lie near each other: by cubes
 * of the box around them along a curve that goes through all of it (Morton 1966). Returns their numbers.
 * What one looks up in memory for one of them is likely still at hand for the next.
 */
export function nearbyOrder(count: number, coordinates: Float64Array): Uint32Array {
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  for (let i = 0; i < count; i++)
    for (let c = 0; c < 3; c++) {
      const value = coordinates[3 * i + c]
      if (value < low[c]) low[c] = value
      if (value > high[c]) high[c] = value
    }
  const per = low.map((value, c) => ((1 << BITS) - 1e-6) / Math.max(high[c] - value, 1e-9))
  const start = new Uint32Array(CELLS + 1)
  const codes = new Uint32Array(count)
  for (let i = 0; i < count; i++) {
    let code = 0
    for (let c = 0; c < 3; c++) code |= spread(((coordinates[3 * i + c] - low[c]) * per[c]) | 0) << c
    codes[i] = code
    start[code + 1]++
  }
  for (let k = 0; k < CELLS; k++) start[k + 1] += start[k]
  const order = new Uint32Array(count)
  for (let i = 0; i < count; i++) order[start[codes[i]]++] = i
  return order
}

/** Sets two free bits after each of six. */
function spread(bits: number): number {
  let out = bits & 0x3f
  out = (out | (out << 8)) & 0x300f
  out = (out | (out << 4)) & 0x30c3
  return (out | (out << 2)) & 0x9249
}
