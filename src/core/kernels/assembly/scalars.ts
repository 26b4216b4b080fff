/** The hash of core/math/random.ts (C. Wellons, 2018, lowbias32). */
@inline
export function scrambled(value: i32): i32 {
  let h = value
  h = (h ^ (h >>> 16)) * 0x7feb352d
  h = (h ^ (h >>> 15)) * <i32>0x846ca68b
  return h ^ (h >>> 16)
}

/** Where a number of four bytes stands in a column. */
@inline
export function at4(column: usize, index: i32): usize {
  return column + (<usize>index << 2)
}

/** Where a number of eight bytes stands in a column. */
@inline
export function at8(column: usize, index: i32): usize {
  return column + (<usize>index << 3)
}
