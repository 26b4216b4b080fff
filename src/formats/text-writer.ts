/** Writes ASCII numbers and ready text into UTF-8 pieces of a few megabytes, many times faster than strings. */
export interface TextWriter {
  /** Any text. */
  text(text: string): void
  /** Bytes that {@link encodeText} made of text that is written again and again. */
  bytes(bytes: Uint8Array): void
  /** A Float32 in up to nine digits, which read back to within half a unit of its last place. */
  number(value: number): void
  /** A whole number of up to 32 bits, without sign. */
  whole(value: number): void
  /** Eight hexadecimal digits. */
  hex(value: number): void
  done(): Uint8Array<ArrayBuffer>[]
}

const encoder = new TextEncoder()

export function encodeText(text: string): Uint8Array<ArrayBuffer> {
  return encoder.encode(text)
}

const PIECE = 4 * 1024 * 1024
/** More than any number takes. */
const MARGIN = 64
const ZERO = 48
const MINUS = 45
const POINT = 46
const LETTERS = encodeText('0123456789abcdef')
const POWERS = Float64Array.from({ length: 10 }, (_, k) => 10 ** k)
/** Smaller numbers than this are left to the engine: their digits do not begin soon after the point. */
const SMALL = 1e-3

export function createTextWriter(): TextWriter {
  const pieces: Uint8Array<ArrayBuffer>[] = []
  let piece = new Uint8Array(PIECE)
  let at = 0
  const digits = new Uint8Array(16)

  function flush(): void {
    if (at > 0) pieces.push(piece.slice(0, at))
    at = 0
  }
  function reserve(length: number): void {
    if (at + length <= piece.length) return
    flush()
    if (length > piece.length) piece = new Uint8Array(length)
  }
  function bytes(wanted: Uint8Array): void {
    reserve(wanted.length)
    piece.set(wanted, at)
    at += wanted.length
  }
  /** Writes the digits of a whole number of up to 15 of them; returns how many there were. */
  function spell(value: number): number {
    let rest = value
    let count = 0
    // Below 2³¹ whole arithmetic is several times faster.
    while (rest >= 2147483648) {
      const tenth = Math.floor(rest / 10)
      digits[count++] = rest - 10 * tenth
      rest = tenth
    }
    let small = rest | 0
    do {
      const tenth = (small / 10) | 0
      digits[count++] = small - 10 * tenth
      small = tenth
    } while (small > 0)
    return count
  }

  return {
    text: (text) => bytes(encoder.encode(text)),
    bytes,
    number(value) {
      reserve(MARGIN)
      const size = value < 0 ? -value : value
      if (size === 0) {
        piece[at++] = ZERO
        return
      }
      if (!(size >= SMALL && size < 1e9)) {
        bytes(encoder.encode(String(Number(value.toPrecision(9)))))
        return
      }
      if (value < 0) piece[at++] = MINUS
      let before = 1
      while (before < 9 && size >= POWERS[before]) before++
      // Nine digits from the first that counts; a leading 0 and zeros behind the point do not.
      let decimals = 9 - before
      if (size < 1) decimals = size >= 0.1 ? 9 : size >= 0.01 ? 10 : 11
      const scale = decimals <= 9 ? POWERS[decimals] : 10 ** decimals
      const count = spell(Math.round(size * scale))
      let last = 0
      while (last < decimals && last < count && digits[last] === 0) last++
      if (count <= decimals) piece[at++] = ZERO
      for (let k = count - 1; k >= decimals; k--) piece[at++] = ZERO + digits[k]
      if (last < decimals) {
        piece[at++] = POINT
        for (let k = decimals - 1; k >= last; k--) piece[at++] = ZERO + (k < count ? digits[k] : 0)
      }
    },
    whole(value) {
      reserve(MARGIN)
      for (let k = spell(value) - 1; k >= 0; k--) piece[at++] = ZERO + digits[k]
    },
    hex(value) {
      reserve(MARGIN)
      for (let shift = 28; shift >= 0; shift -= 4) piece[at++] = LETTERS[(value >>> shift) & 15]
    },
    done() {
      flush()
      return pieces
    },
  }
}
