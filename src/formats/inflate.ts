import { Unzlib } from 'fflate'

/** How much is inflated at a time, so that a bomb is noticed after little more than that, bytes. */
const SLICE = 1 << 16

/** Whether zlib data in pieces of a file (start and end by turns) inflates to at most so many bytes. Throws where it is damaged. */
export function inflatesWithin(bytes: Uint8Array, pieces: readonly number[], most: number): boolean {
  let total = 0
  const unpack = new Unzlib((chunk) => {
    total += chunk.length
  })
  for (let k = 0; k < pieces.length; k += 2)
    for (let from = pieces[k]; from < pieces[k + 1]; from += SLICE) {
      unpack.push(bytes.subarray(from, Math.min(from + SLICE, pieces[k + 1])), false)
      if (total > most) return false
    }
  return true
}
