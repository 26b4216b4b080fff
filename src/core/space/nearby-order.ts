/** Most cells along each side of a box, as a power of two. */
const MOST_BITS = 6

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
  // Some cells for each place: more would take longer to go through than they save.
  const bits = Math.min(MOST_BITS, Math.ceil((32 - Math.clz32(count)) / 3) + 1)
  const cells = 1 << (3 * bits)
  const per = low.map((value, c) => ((1 << bits) - 1e-6) / Math.max(high[c] - value, 1e-9))
  const start = new Uint32Array(cells + 1)
  const codes = new Uint32Array(count)
  for (let i = 0; i < count; i++) {
    let code = 0
    for (let c = 0; c < 3; c++) code |= spread(((coordinates[3 * i + c] - low[c]) * per[c]) | 0) << c
    codes[i] = code
    start[code + 1]++
  }
  for (let k = 0; k < cells; k++) start[k + 1] += start[k]
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
