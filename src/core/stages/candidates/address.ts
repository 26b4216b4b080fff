/** Floor as a 32-bit whole number, which engines keep in an integer register. */
export function whole(value: number): number {
  return Math.floor(value) | 0
}

/*
 * The address of a candidate, which its id and all its draws are made of:
 *
 *   high   part (2 bits) | octave + 32 (6 bits) | candidate (24 bits)
 *   low    cell along x (16 bits) | cell along z (16 bits)
 *
 * Signed while it is worked with, so that engines keep it in integer registers.
 */
export const PART = { even: 0, random: 1, gathered: 2 } as const

/** The high half. */
export function addressHighOf(part: number, octave: number, candidate: number): number {
  return (part << 30) | ((octave + 32) << 24) | candidate
}

/** The low half. */
export function addressLowOf(cellX: number, cellZ: number): number {
  return ((cellX & 0xffff) << 16) | (cellZ & 0xffff)
}
