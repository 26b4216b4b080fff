/**
 * Orders rows by (class, key, id), all of which are independent of how the rows came in.
 *
 * Keys are non-negative Float32, whose bits order like unsigned integers: three stable counting
 * passes of eleven bits, one by class, then equal keys are settled by id.
 */
const DIGIT = 2048

export function byKeyThenId(
  rows: Uint32Array,
  key: Float32Array,
  ids: { readonly idLow: Uint32Array; readonly idHigh: Uint32Array },
  classOf: Uint16Array,
): Uint32Array {
  const bits = new Uint32Array(key.buffer, key.byteOffset, key.length)
  const count = rows.length
  if (scratch.length < count) scratch = new Uint32Array(2 * count)
  const other = scratch
  const out = rows.slice()
  counts.fill(0)
  let classes = 0
  for (let k = 0; k < count; k++) {
    const b = bits[out[k]]
    counts[b & 2047]++
    counts[DIGIT + ((b >>> 11) & 2047)]++
    counts[2 * DIGIT + (b >>> 22)]++
    const c = classOf[out[k]]
    if (c >= classes) classes = c + 1
  }
  for (let pass = 0; pass < 3; pass++) prefixSum(counts, pass * DIGIT, DIGIT)
  for (let k = 0; k < count; k++) other[counts[bits[out[k]] & 2047]++] = out[k]
  for (let k = 0; k < count; k++) out[counts[DIGIT + ((bits[other[k]] >>> 11) & 2047)]++] = other[k]
  for (let k = 0; k < count; k++) other[counts[2 * DIGIT + (bits[out[k]] >>> 22)]++] = out[k]
  const starts = new Uint32Array(classes + 1)
  for (let k = 0; k < count; k++) starts[classOf[other[k]]]++
  prefixSum(starts, 0, classes)
  const fill = starts.slice()
  for (let k = 0; k < count; k++) out[fill[classOf[other[k]]]++] = other[k]
  for (let c = 0; c < classes; c++) settleTies(out, starts[c], fill[c], bits, ids)
  return out
}

const counts = new Uint32Array(3 * DIGIT)
let scratch = new Uint32Array(8192)

/** Turns counts into starting places. */
function prefixSum(values: Uint32Array, from: number, length: number): void {
  let sum = 0
  for (let i = from; i < from + length; i++) {
    const value = values[i]
    values[i] = sum
    sum += value
  }
}

/** Equal keys: insertion by id within each run, which is nearly always of length one. */
function settleTies(
  out: Uint32Array,
  from: number,
  to: number,
  bits: Uint32Array,
  { idLow, idHigh }: { readonly idLow: Uint32Array; readonly idHigh: Uint32Array },
): void {
  for (let k = from + 1; k < to; k++) {
    const row = out[k]
    let j = k
    while (j > from) {
      const before = out[j - 1]
      if (bits[before] !== bits[row]) break
      if (idHigh[before] < idHigh[row]) break
      if (idHigh[before] === idHigh[row] && idLow[before] <= idLow[row]) break
      out[j] = before
      j--
    }
    out[j] = row
  }
}
