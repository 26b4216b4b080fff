/** Damage done to files, the same for the same seed: what copying, cutting and careless programs do to them, and worse. */

type Bytes = Uint8Array<ArrayBuffer>

/** Numbers in [0, 1) from a seed. */
function dice(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

const EXTREMES = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff, 0x7f800000, 0x7fc00000]
const TEXTS = ['-1', '0', '1e999', 'nan', 'null', '[]', '{}', '"', '4294967296', '99999999999', '-0.5', '\n\n\n', '<!--', ']]', '/', 'true', '1e-300']

/** One of a file's mutants: up to four injuries, at the head of the file more often than elsewhere. */
export function mutantOf(file: Bytes, seed: number): Bytes {
  const roll = dice(seed * 2654435761)
  let bytes = file.slice()
  const injuries = 1 + Math.floor(4 * roll() ** 2)
  for (let k = 0; k < injuries && bytes.length > 8; k++) bytes = injure(bytes, roll)
  return bytes
}

function injure(bytes: Bytes, roll: () => number): Bytes {
  const place = (room: number) => Math.floor((roll() < 0.5 ? Math.min(bytes.length - room, 600) : bytes.length - room) * roll())
  const kind = Math.floor(8 * roll())
  if (kind === 0) return bytes.slice(0, Math.floor(bytes.length * roll()))
  if (kind === 1) {
    bytes[place(1)] ^= 1 << Math.floor(8 * roll())
    return bytes
  }
  if (kind === 2) {
    bytes[place(1)] = Math.floor(256 * roll())
    return bytes
  }
  if (kind === 3) {
    new DataView(bytes.buffer).setUint32(place(4), EXTREMES[Math.floor(EXTREMES.length * roll())], roll() < 0.7)
    return bytes
  }
  const from = place(4)
  const length = Math.min(bytes.length - from, 1 + Math.floor(64 * roll()))
  if (kind === 4) return bytes.fill(roll() < 0.5 ? 0 : 255, from, from + length)
  if (kind === 5) return joined(bytes.subarray(0, from), bytes.subarray(from + length))
  if (kind === 6) return joined(bytes.subarray(0, from + length), bytes.subarray(from))
  const text = new TextEncoder().encode(TEXTS[Math.floor(TEXTS.length * roll())])
  return joined(bytes.subarray(0, from), text, bytes.subarray(from + Math.floor(roll() * text.length)))
}

function joined(...parts: readonly Uint8Array[]): Bytes {
  const out = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const part of parts) {
    out.set(part, at)
    at += part.length
  }
  return out
}
