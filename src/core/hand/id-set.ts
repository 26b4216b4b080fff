/** A set of 64-bit ids by their halves, quick to ask for each of a million rows. */
export interface IdSet {
  readonly size: number
  has(low: number, high: number): boolean
  /** All of them, in the order in which they came in. */
  [Symbol.iterator](): IterableIterator<readonly [low: number, high: number]>
}

/** A set of the given ids, each once. */
export function idSet(ids: Iterable<readonly [low: number, high: number]>): IdSet {
  // Nearly always one high half for a low one.
  const highs = new Map<number, number | number[]>()
  let size = 0
  for (const [low, high] of ids) {
    const known = highs.get(low)
    if (known === undefined) highs.set(low, high)
    else if (typeof known === 'number' ? known === high : known.includes(high)) continue
    else highs.set(low, typeof known === 'number' ? [known, high] : [...known, high])
    size++
  }
  return {
    size,
    has(low, high) {
      const known = highs.get(low)
      return known === high || (typeof known === 'object' && known.includes(high))
    },
    *[Symbol.iterator]() {
      for (const [low, known] of highs) for (const high of typeof known === 'number' ? [known] : known) yield [low, high] as const
    },
  }
}
