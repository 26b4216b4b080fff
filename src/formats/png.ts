import type { DecodedPng } from 'fast-png'
import { decode } from 'fast-png'
import { ProblemError } from '../document/problem.ts'
import { inflatesWithin } from './inflate.ts'

/** PNG pictures (ISO/IEC 15948), decoded only after their sizes have been found true. */

const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]
const CHANNELS: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 }
const DATA = 0x49444154
const PALETTE = 0x504c5445
const END = 0x49454e44
const DEPTHS = [1, 2, 4, 8, 16]

export function isPng(bytes: Uint8Array): boolean {
  return SIGNATURE.every((byte, i) => bytes[i] === byte)
}

/** What share of the work is done once the sizes are found true. */
const CHECKED = 0.4

/**
 * Decodes a PNG of checked signature, telling what share is done. `checkSides` refuses sizes by the header,
 * before any memory is taken. Throws ProblemError.
 */
export function decodePng(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  checkSides: (columns: number, rows: number) => void,
  tell: (share: number) => void = () => undefined,
): DecodedPng {
  if (bytes.length < 33) throw new ProblemError(`“${name}” ends too early; it was not saved or copied whole.`)
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const [columns, rows, depth, colour] = [view.getUint32(16), view.getUint32(20), bytes[24], bytes[25]]
  checkSides(columns, rows)
  const damaged = (cause?: unknown) => new ProblemError(`“${name}” is damaged or cut short and cannot be read as PNG; save or copy it again.`, cause)
  const channels = CHANNELS[colour]
  if (!channels || !DEPTHS.includes(depth)) throw damaged()
  const most = rowBytes(columns, channels * depth) * rows + 16 * rows + 64
  const pieces = dataOf(view, colour === 3)
  if (!pieces) throw damaged()
  try {
    if (!inflatesWithin(bytes, pieces, most, (at) => tell((CHECKED * at) / bytes.length))) throw damaged()
    tell(CHECKED)
    const image = decode(bytes, { checkCrc: true })
    if (image.width !== columns || image.height !== rows || image.data.length < columns * rows) throw damaged()
    return image
  } catch (error) {
    throw error instanceof ProblemError ? error : damaged(error)
  }
}

/** Bytes of a row with its filter, packed. Interlacing adds a few for each of its seven passes, which callers leave room for. */
function rowBytes(columns: number, bits: number): number {
  return 1 + Math.ceil((columns * bits) / 8)
}

/** Where the compressed data lies, as start and end by turns; null when the chunks do not hold together. */
function dataOf(view: DataView, wantsPalette: boolean): number[] | null {
  const pieces: number[] = []
  let palette = false
  for (let at = 8; at + 12 <= view.byteLength; ) {
    const length = view.getUint32(at)
    const type = view.getUint32(at + 4)
    if (length > view.byteLength - at - 12) return null
    if (type === DATA) pieces.push(at + 8, at + 8 + length)
    if (type === PALETTE) palette = true
    if (type === END) return pieces.length > 0 && (palette || !wantsPalette) ? pieces : null
    at += 12 + length
  }
  return null
}
