/** The last of the first places, up to `high`, of a rising list whose value is not above one that is given; 0 where all are. */
export function lastAtMost(rising: ArrayLike<number>, value: number, high: number): number {
  let low = 0
  let top = high
  while (low < top) {
    const middle = (low + top + 1) >> 1
    if (rising[middle] <= value) low = middle
    else top = middle - 1
  }
  return low
}
