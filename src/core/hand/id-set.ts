import { scramble } from '../math/random.ts'

/** A set of 64-bit ids by their halves, quick to ask for each of a million rows. */
export interface IdSet {
  readonly size: number
  has(low: number, high: number): boolean
  /** All of them, in the order in which they came in. */
  [Symbol.iterator](): IterableIterator<readonly [low: number, high: number]>
}

/** One that ids are still put into. */
export interface GrowingIdSet extends IdSet {
  /** Puts an id in, unless it is in already. */
  add(low: number, high: number): void
}

const LEAST = 16

/**
 * An empty set. Ids lie in two columns in the order in which they came in; a table of at least twice as many places,
 * each empty (0) or the number of an id plus one, is searched from the place that an id's halves are mixed to onwards.
 * Before it is asked a bit for each of four times as many places tells of most ids that they are not in: it lies in a
 * core's own cache where the table does not.
 */
export function newIdSet(): GrowingIdSet {
  let lows = new Uint32Array(LEAST)
  let highs = new Uint32Array(LEAST)
  let table = new Uint32Array(2 * LEAST)
  let bits = new Uint32Array(table.length / 8)
  let size = 0

  /** The place of an id in the table, or the empty one where it belongs. */
  function placeOf(low: number, high: number, mixed: number): number {
    const mask = table.length - 1
    let at = mixed & mask
    for (; table[at] !== 0; at = (at + 1) & mask) if (lows[table[at] - 1] === low && highs[table[at] - 1] === high) break
    return at
  }

  function put(number: number, mixed: number): void {
    table[placeOf(lows[number], highs[number], mixed)] = number + 1
    bits[(mixed >>> 5) & (bits.length - 1)] |= 1 << (mixed & 31)
  }

  function widen(): void {
    const [oldLows, oldHighs] = [lows, highs]
    lows = new Uint32Array(2 * size)
    highs = new Uint32Array(2 * size)
    lows.set(oldLows)
    highs.set(oldHighs)
    table = new Uint32Array(4 * size)
    bits = new Uint32Array(table.length / 8)
    for (let k = 0; k < size; k++) put(k, mixOf(lows[k], highs[k]))
  }

  function has(low: number, high: number): boolean {
    const mixed = mixOf(low, high)
    return ((bits[(mixed >>> 5) & (bits.length - 1)] >>> (mixed & 31)) & 1) === 1 && table[placeOf(low >>> 0, high >>> 0, mixed)] !== 0
  }

  return {
    get size() {
      return size
    },
    has,
    add(low, high) {
      if (has(low, high)) return
      if (size === lows.length) widen()
      lows[size] = low
      highs[size] = high
      put(size++, mixOf(low, high))
    },
    *[Symbol.iterator]() {
      for (let k = 0; k < size; k++) yield [lows[k], highs[k]] as const
    },
  }
}

function mixOf(low: number, high: number): number {
  return scramble(low ^ Math.imul(high, 0x9e3779b1))
}

/** A set of the given ids, each once. */
export function idSet(ids: Iterable<readonly [low: number, high: number]>): IdSet {
  const set = newIdSet()
  for (const [low, high] of ids) set.add(low, high)
  return set
}
