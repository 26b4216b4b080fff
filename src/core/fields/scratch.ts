/**
 * Working columns that a thread keeps and that grow with the need: a call gives columns of at least so many
 * rows, whatever stands in them. They are the caller's until it returns; nobody else may ask for them meanwhile.
 */
export function scratch<Columns>(make: (capacity: number) => Columns): (count: number) => Columns {
  let capacity = 8192
  let columns = make(capacity)
  return (count) => {
    if (capacity < count) {
      capacity = 2 * count
      columns = make(capacity)
    }
    return columns
  }
}

/** Working columns of one number a site. */
export function scratchColumn(): (count: number) => Float64Array {
  return scratch((capacity) => new Float64Array(capacity))
}

/** Working columns for the slope of sites: their row numbers, and the rise along x and along z. */
export const gradientColumns = scratch((capacity) => ({
  at: new Uint32Array(capacity),
  gradientX: new Float64Array(capacity),
  gradientZ: new Float64Array(capacity),
}))
