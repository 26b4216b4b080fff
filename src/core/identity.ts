import { hashText, mix, scramble } from './math/random.ts'

/**
 * What names an instance: a planting and a 64-bit id. An id names one candidate for as long as that
 * candidate exists, and never another one: it is made of where the candidate comes from (the way of
 * placing, the throw, the ground) and of the candidate's address there (part, level, cell, number).
 */
export interface InstanceRef {
  readonly planting: string
  readonly low: number
  readonly high: number
}

/** Makes ids of addresses: round keys of a Feistel network, so that no two addresses have the same id. */
export interface Naming {
  readonly a: number
  readonly b: number
  readonly c: number
}

/**
 * The naming of one source of candidates. `source` says the way of placing and its version: to place in
 * another way, or by other rules, names everything anew; so does another seed or another ground.
 */
export function namingOf(source: string, seed: number, ground: string): Naming {
  const first = hashText(`${source}\n${ground}`)
  const second = hashText(`${ground}\n${source}\n`)
  return { a: mix(first ^ mix(seed ^ 0x51ed270b)), b: mix(second ^ mix(seed ^ 0x2545f491)), c: mix(first ^ mix(second ^ seed)) }
}

/** A word for each name that hangs on the name alone, as far as no two agree: the later one of those takes another. */
export function distinctWords(names: readonly string[]): number[] {
  const taken = new Set<number>()
  return names.map((name) => {
    let word = hashText(name)
    while (taken.has(word)) word = mix(word + 1)
    taken.add(word)
    return word
  })
}

/** Addresses and ids as columns of their low and high halves. */
export interface Halves {
  readonly low: Uint32Array
  readonly high: Uint32Array
}

/** Writes the ids of addresses: that of row `rows[k]` to row k. Three rounds (Luby & Rackoff 1988) of a measured mixer. */
export function writeIds({ a, b, c }: Naming, rows: Uint32Array, addresses: Halves, ids: Halves): void {
  const { low: addressLow, high: addressHigh } = addresses
  const { low, high } = ids
  for (let k = 0; k < rows.length; k++) {
    const right = addressHigh[rows[k]] | 0
    const one = addressLow[rows[k]] ^ scramble(right ^ a)
    const two = right ^ scramble(one ^ b)
    low[k] = one ^ scramble(two ^ c)
    high[k] = two
  }
}
