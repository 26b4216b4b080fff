/**
 * Orders rows by (class, key, id), all of which are independent of how the rows came in; classes are
 * numbered from 0.
 *
 * Keys lie in 0…1 and are spread about evenly there, as shares of a rank are: one counting pass puts
 * about one row into each bucket, and a pass of insertions settles the rest. Rows of a bucket that
 * clustered keys overfill are sorted by comparison.
 */
export function byKeyThenId(
  rows: Uint32Array,
  key: Float32Array,
  addresses: { readonly addressLow: Uint32Array; readonly addressHigh: Uint32Array },
  classOf: Uint16Array,
  classes: number,
): Uint32Array {
  const count = rows.length
  const perClass = Math.max(1, Math.ceil(count / classes))
  const buckets = perClass * classes
  if (ends.length < buckets + 1) ends = new Uint32Array(2 * (buckets + 1))
  if (bucketOf.length < count) bucketOf = new Uint32Array(2 * count)
  const starts = ends
  const found = bucketOf
  starts.fill(0, 0, buckets + 1)
  for (let k = 0; k < count; k++) {
    const row = rows[k]
    const within = (key[row] * perClass) | 0
    const bucket = (classes > 1 ? classOf[row] : 0) * perClass + (within < perClass ? within : perClass - 1)
    found[k] = bucket
    starts[bucket + 1]++
  }
  let fullest = 0
  for (let b = 1; b <= buckets; b++) {
    if (starts[b] > fullest) fullest = starts[b]
    starts[b] += starts[b - 1]
  }
  if (values.length < count) values = new Float64Array(2 * count)
  const out = new Uint32Array(count)
  const value = values
  for (let k = 0; k < count; k++) {
    const row = rows[k]
    const to = starts[found[k]]++
    out[to] = row
    value[to] = classes > 1 ? 2 * classOf[row] + key[row] : key[row]
  }
  // starts[b] is now the end of bucket b.
  if (fullest > MOST_INSERTED) sortBuckets(out, starts, buckets, key, addresses)
  else settle(out, value, addresses)
  return out
}

/** Where a bucket of keys holds more rows, sorting by comparison is quicker. */
export const MOST_INSERTED = 64
let ends = new Uint32Array(8192)
let bucketOf = new Uint32Array(8192)
/** Class and key in one number, as keys are at most 1. */
let values = new Float64Array(8192)

interface Addresses {
  readonly addressLow: Uint32Array
  readonly addressHigh: Uint32Array
}

function sortBuckets(out: Uint32Array, ends: Uint32Array, buckets: number, key: Float32Array, addresses: Addresses): void {
  for (let b = 0, from = 0; b < buckets; from = ends[b], b++)
    if (ends[b] - from > 1)
      out
        .subarray(from, ends[b])
        .sort((a, c) => key[a] - key[c] || addresses.addressHigh[a] - addresses.addressHigh[c] || addresses.addressLow[a] - addresses.addressLow[c])
}

/** Insertion over the whole: rows are already no more than a bucket from their place. */
function settle(out: Uint32Array, values: Float64Array, { addressLow, addressHigh }: Addresses): void {
  let last = -1
  for (let k = 0; k < out.length; k++) {
    const value = values[k]
    if (value > last) {
      last = value
      continue
    }
    const row = out[k]
    let j = k
    while (j > 0) {
      const other = values[j - 1]
      if (other < value) break
      const before = out[j - 1]
      if (other === value) {
        if (addressHigh[before] < addressHigh[row]) break
        if (addressHigh[before] === addressHigh[row] && addressLow[before] <= addressLow[row]) break
      }
      out[j] = before
      values[j] = other
      j--
    }
    out[j] = row
    values[j] = value
    last = values[k]
  }
}
