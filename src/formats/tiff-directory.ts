import { inflatesWithin } from './inflate.ts'

/**
 * The first directory of a TIFF (revision 6.0, 1992, or the one of 64-bit offsets), read ahead of the
 * library that unpacks the picture: all counts are checked against the bytes that are there.
 */
export interface TiffLayout {
  readonly columns: number
  readonly rows: number
}

const SIZES: Readonly<Record<number, number>> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8, 13: 4, 16: 8, 17: 8, 18: 8 }
const TAG = { width: 256, length: 257, bits: 258, compression: 259, offsets: 273, samples: 277, rowsPerStrip: 278, counts: 279, planar: 284, tileWidth: 322, tileLength: 323, tileOffsets: 324, tileCounts: 325 }
const PLAIN = 1
const DEFLATES = [8, 32946]
const MOST_ENTRIES = 4096
const MOST_SAMPLES_A_PIXEL = 64
const MOST_TILE_SIDE = 8192

interface Entry {
  readonly type: number
  readonly count: number
  readonly at: number
}

/** Reads and checks the directory; null when it cannot be that of a whole picture. `acceptSides` sees the sides before anything else is looked at. */
export function readTiffLayout(bytes: Uint8Array<ArrayBuffer>, acceptSides: (columns: number, rows: number) => void): TiffLayout | null {
  const reader = readerOf(bytes)
  const entries = reader && entriesOf(reader)
  if (!reader || !entries) return null
  const first = (tag: number) => {
    const entry = entries.get(tag)
    return entry && entry.count > 0 ? reader.value(entry, 0) : null
  }
  const [columns, rows] = [first(TAG.width), first(TAG.length)]
  if (columns === null || rows === null) return null
  acceptSides(columns, rows)
  const samples = first(TAG.samples) ?? 1
  const bits = first(TAG.bits) ?? 1
  if (samples < 1 || samples > MOST_SAMPLES_A_PIXEL || bits < 1 || bits > 64) return null
  const tiled = entries.has(TAG.tileOffsets)
  const [wide, high] = tiled ? [first(TAG.tileWidth), first(TAG.tileLength)] : [columns, Math.min(rows, first(TAG.rowsPerStrip) ?? rows)]
  if (wide === null || high === null || wide < 1 || high < 1 || wide > MOST_TILE_SIDE || high > MOST_TILE_SIDE) return null
  const apart = first(TAG.planar) === 2
  const pieces = Math.ceil(columns / wide) * Math.ceil(rows / high) * (apart ? samples : 1)
  const offsets = entries.get(tiled ? TAG.tileOffsets : TAG.offsets)
  const counts = entries.get(tiled ? TAG.tileCounts : TAG.counts)
  if (!offsets || !counts || offsets.count < pieces || counts.count < pieces) return null
  const bytesOf = (height: number) => Math.ceil((wide * bits * (apart ? 1 : samples)) / 8) * height
  const compression = first(TAG.compression) ?? PLAIN
  for (let k = 0; k < pieces; k++) {
    const from = reader.value(offsets, k)
    const length = reader.value(counts, k)
    if (!(from >= 8 && length > 0 && from + length <= bytes.length)) return null
    const strip = k % Math.ceil(rows / high)
    const height = tiled ? high : Math.min(high, rows - strip * high)
    if (compression === PLAIN && length < bytesOf(height)) return null
    if (DEFLATES.includes(compression) && !inflates(bytes, from, length, bytesOf(high))) return null
  }
  return { columns, rows }
}

function inflates(bytes: Uint8Array, from: number, length: number, most: number): boolean {
  try {
    return inflatesWithin(bytes, [from, from + length], most + 64)
  } catch {
    return false
  }
}

interface Reader {
  readonly view: DataView
  readonly little: boolean
  readonly big: boolean
  /** A number of an entry; NaN where it is none. */
  value(entry: Entry, k: number): number
}

function readerOf(bytes: Uint8Array<ArrayBuffer>): Reader | null {
  if (bytes.length < 16) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const little = bytes[0] === 0x49
  const magic = view.getUint16(2, little)
  if (magic !== 42 && magic !== 43) return null
  return {
    view,
    little,
    big: magic === 43,
    value({ type, at }, k) {
      if (type === 1) return view.getUint8(at + k)
      if (type === 3) return view.getUint16(at + 2 * k, little)
      if (type === 4 || type === 13) return view.getUint32(at + 4 * k, little)
      if (type === 16 || type === 18) return Number(view.getBigUint64(at + 8 * k, little))
      return NaN
    },
  }
}

/** All entries of the first directory, each found to lie within the file; null when one does not. */
function entriesOf({ view, little, big }: Reader): Map<number, Entry> | null {
  const wide = (at: number) => (big ? Number(view.getBigUint64(at, little)) : view.getUint32(at, little))
  const end = view.byteLength
  const start = wide(big ? 8 : 4)
  if (!(start >= 8 && start + 8 <= end)) return null
  const count = big ? wide(start) : view.getUint16(start, little)
  const [head, size] = big ? [8, 20] : [2, 12]
  if (count < 1 || count > MOST_ENTRIES || start + head + count * size > end) return null
  const entries = new Map<number, Entry>()
  for (let k = 0; k < count; k++) {
    const at = start + head + k * size
    const type = view.getUint16(at + 2, little)
    const values = wide(at + 4)
    const length = (SIZES[type] ?? 0) * values
    const field = at + (big ? 12 : 8)
    const place = length <= (big ? 8 : 4) ? field : wide(field)
    if (length === 0 || place + length > end) return null
    entries.set(view.getUint16(at, little), { type, count: values, at: place })
  }
  return entries
}
