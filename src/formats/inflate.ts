import { Unzlib } from 'fflate'

/** How much is inflated at a time, so that a bomb is noticed after little more than that, bytes. */
const SLICE = 1 << 16

/** Bytes between one telling of progress and the next. */
const TELL_EVERY = 1 << 20

/**
 * Whether zlib data in pieces of a file (start and end by turns) inflates to at most so many bytes. Tells
 * now and then up to which byte it has come. Throws where it is damaged.
 */
export function inflatesWithin(bytes: Uint8Array, pieces: readonly number[], most: number, tell: (at: number) => void = () => undefined): boolean {
  let total = 0
  let told = 0
  const unpack = new Unzlib((chunk) => {
    total += chunk.length
  })
  for (let k = 0; k < pieces.length; k += 2)
    for (let from = pieces[k]; from < pieces[k + 1]; from += SLICE) {
      unpack.push(bytes.subarray(from, Math.min(from + SLICE, pieces[k + 1])), false)
      if (total > most) return false
      if (from - told < TELL_EVERY) continue
      told = from
      tell(from)
    }
  return true
}
