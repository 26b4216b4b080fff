/**
 * The first `count` of a shuffle of the numbers 0 … full − 1, without making the rest: a bijection of
 * so many bits (odd multiplications and shifted exclusive ors), walked on where it leads out of range.
 */
export function shuffled(count: number, full: number, salt: number): Uint32Array {
  let bits = 2
  while (1 << bits < full) bits++
  const mask = (1 << bits) - 1
  const [low, high] = [bits >> 1, (bits + 1) >> 1]
  const numbers = new Uint32Array(count)
  for (let k = 0; k < count; k++) {
    let x = k
    do {
      x = (x + salt) & mask
      x = Math.imul(x, 0x9e3779b1) & mask
      x ^= x >>> low
      x = Math.imul(x, 0x85ebca6b) & mask
      x ^= x >>> high
      x = Math.imul(x, 0xc2b2ae35) & mask
      x ^= x >>> low
    } while (x >= full)
    numbers[k] = x
  }
  return numbers
}

/** A set of whole numbers below a limit that knows the place of each in their order. */
export interface NumberSet {
  readonly size: number
  has(number: number): boolean
  /** How many of the set are below a number. */
  placeOf(number: number): number
}

export function numberSet(numbers: Uint32Array, limit: number): NumberSet {
  const words = new Uint32Array((limit >>> 5) + 1)
  for (let k = 0; k < numbers.length; k++) words[numbers[k] >>> 5] |= 1 << (numbers[k] & 31)
  const before = new Uint32Array(words.length)
  for (let w = 1; w < words.length; w++) before[w] = before[w - 1] + bitsIn(words[w - 1])
  return {
    size: numbers.length,
    has: (number) => ((words[number >>> 5] >>> (number & 31)) & 1) === 1,
    placeOf: (number) => before[number >>> 5] + bitsIn(words[number >>> 5] & ((1 << (number & 31)) - 1)),
  }
}

/** How many bits of a word are set (Warren 2013, 5–1). */
function bitsIn(word: number): number {
  let x = word - ((word >>> 1) & 0x55555555)
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333)
  return Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}
