// How sites come to be rows of a block. Columns of sites are numbered by site, those of rows by row.

import { at4, at8, scrambled } from './scalars'

@inline
function classAt(classOf: usize, row: i32): i32 {
  return load<u16>(classOf + (<usize>row << 1))
}

/** Moves `rows` into `order` by their classes, otherwise as they are; `starts` has room for one more than there are classes. */
export function group(count: i32, classes: i32, rows: usize, classOf: usize, starts: usize, order: usize): void {
  memory.fill(starts, 0, <usize>(classes + 1) << 2)
  for (let k = 0; k < count; k++) {
    const to = at4(starts, classAt(classOf, load<i32>(at4(rows, k))) + 1)
    store<i32>(to, load<i32>(to) + 1)
  }
  for (let c = 1; c <= classes; c++) store<i32>(at4(starts, c), load<i32>(at4(starts, c)) + load<i32>(at4(starts, c - 1)))
  for (let k = 0; k < count; k++) {
    const row = load<i32>(at4(rows, k))
    const next = at4(starts, classAt(classOf, row))
    const to = load<i32>(next)
    store<i32>(next, to + 1)
    store<i32>(at4(order, to), row)
  }
}

/**
 * Moves `rows` into `out` by class, key and address, as core/stages/order.ts tells; returns how many rows the fullest
 * bucket held. Above `most` nothing is done. `starts` has room for one more than there are buckets, `bucketOf` and
 * `values` for all rows.
 */
export function sort(
  count: i32,
  classes: i32,
  most: i32,
  rows: usize,
  classOf: usize,
  key: usize,
  low: usize,
  high: usize,
  starts: usize,
  bucketOf: usize,
  values: usize,
  out: usize,
): i32 {
  const perClass = max(1, (count + classes - 1) / classes)
  const buckets = perClass * classes
  memory.fill(starts, 0, <usize>(buckets + 1) << 2)
  for (let k = 0; k < count; k++) {
    const row = load<i32>(at4(rows, k))
    const within = min(<i32>(<f64>load<f32>(at4(key, row)) * <f64>perClass), perClass - 1)
    const bucket = classAt(classOf, row) * perClass + within
    store<i32>(at4(bucketOf, k), bucket)
    const next = at4(starts, bucket + 1)
    store<i32>(next, load<i32>(next) + 1)
  }
  let fullest = 0
  let sum = 0
  for (let b = 1; b <= buckets; b++) {
    const here = load<i32>(at4(starts, b))
    fullest = max(fullest, here)
    sum += here
    store<i32>(at4(starts, b), sum)
  }
  if (fullest > most) return fullest
  for (let k = 0; k < count; k++) {
    const row = load<i32>(at4(rows, k))
    const next = at4(starts, load<i32>(at4(bucketOf, k)))
    const to = load<i32>(next)
    store<i32>(next, to + 1)
    store<i32>(at4(out, to), row)
    store<f64>(at8(values, to), <f64>(2 * classAt(classOf, row)) + <f64>load<f32>(at4(key, row)))
  }
  settle(count, values, low, high, out)
  return fullest
}

/** Insertion over the whole: rows are already no more than a bucket from their place. */
function settle(count: i32, values: usize, low: usize, high: usize, out: usize): void {
  let last: f64 = -1
  for (let k = 0; k < count; k++) {
    const value = load<f64>(at8(values, k))
    if (value > last) {
      last = value
      continue
    }
    const row = load<i32>(at4(out, k))
    const rowHigh = load<u32>(at4(high, row))
    const rowLow = load<u32>(at4(low, row))
    let j = k
    while (j > 0) {
      const other = load<f64>(at8(values, j - 1))
      if (other < value) break
      const before = load<i32>(at4(out, j - 1))
      if (other == value) {
        const beforeHigh = load<u32>(at4(high, before))
        if (beforeHigh < rowHigh) break
        if (beforeHigh == rowHigh && load<u32>(at4(low, before)) <= rowLow) break
      }
      store<i32>(at4(out, j), before)
      store<f64>(at8(values, j), other)
      j--
    }
    store<i32>(at4(out, j), row)
    store<f64>(at8(values, j), value)
    last = load<f64>(at8(values, k))
  }
}

/** Lays draw keys and sizes of the sites in `order` out, one after the other. */
export function lay(count: i32, order: usize, draws: usize, girth: usize, outDraws: usize, outSize: usize): void {
  for (let k = 0; k < count; k++) {
    const i = load<i32>(at4(order, k))
    store<i32>(at4(outDraws, k), load<i32>(at4(draws, i)))
    store<f32>(at4(outSize, k), <f32>load<f64>(at8(girth, i)))
  }
}

/**
 * Fills the columns of a block of `count` rows (core/columns.ts) whose sites `sorted` lists, save where and how they
 * stand, and tells each site its row. Ids are made of addresses as core/identity.ts tells.
 */
export function fill(
  count: i32,
  sorted: usize,
  a: i32,
  b: i32,
  c: i32,
  low: usize,
  high: usize,
  key: usize,
  radius: usize,
  size: usize,
  girth: usize,
  pick: usize,
  numbers: usize,
  seat: usize,
  block: usize,
): void {
  const column = <usize>count << 2
  const scale = block + 12 * column
  const asset = block + 15 * column
  memory.fill(block + 2 * column, 0xff, column)
  for (let k = 0; k < count; k++) {
    const i = load<i32>(at4(sorted, k))
    store<i32>(at4(seat, i), k)
    const right = load<i32>(at4(high, i))
    const one = load<i32>(at4(low, i)) ^ scrambled(right ^ a)
    const two = right ^ scrambled(one ^ b)
    const to = at4(block, k)
    store<i32>(to, one ^ scrambled(two ^ c))
    store<i32>(to + column, two)
    store<f32>(to + 3 * column, load<f32>(at4(key, i)))
    store<f32>(to + 4 * column, <f32>load<f64>(at8(radius, i)))
    const wide = <f32>load<f64>(at8(girth, i))
    const own = scale + <usize>(12 * k)
    store<f32>(own, wide)
    store<f32>(own, <f32>load<f64>(at8(size, i)), 4)
    store<f32>(own, wide, 8)
    store<u16>(asset + (<usize>k << 1), load<u16>(numbers + (<usize>classAt(pick, i) << 1)))
  }
}

/** Writes place and rotation of the sites in `order` into a block of `count` rows. */
export function write(count: i32, order: usize, seat: usize, x: usize, z: usize, height: usize, sink: usize, rotation: usize, block: usize): void {
  const column = <usize>count << 2
  const position = block + 5 * column
  const turned = block + 8 * column
  for (let k = 0; k < count; k++) {
    const i = load<i32>(at4(order, k))
    const to = load<i32>(at4(seat, i))
    const by = load<f32>(at4(sink, k))
    const up = load<f32>(at4(height, k))
    const place = position + <usize>(12 * to)
    store<f32>(place, <f32>load<f64>(at8(x, i)))
    store<f32>(place, by > 0 ? <f32>(<f64>up - <f64>by) : up, 4)
    store<f32>(place, <f32>load<f64>(at8(z, i)), 8)
    v128.store(turned + (<usize>to << 4), v128.load(rotation + (<usize>k << 4)))
  }
}
