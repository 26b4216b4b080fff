import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'

/**
 * Lists of numbers that can be long, such as the points of a line. Short ones are plain arrays; long ones lie
 * in pieces that are never changed: an edit makes new pieces where it touches the list and keeps all others, so
 * that undo, saving and naming cost what was changed and not what there is.
 */

/** Numbers of a long list that lie together. Its memory is its own, and is never written to again. */
export interface Piece {
  /** The name of its bytes as a blob: hex SHA-256 of its numbers as little-endian doubles. */
  readonly name: string
  readonly length: number
  readonly values: Float64Array<ArrayBuffer>
}

export interface LongList {
  readonly pieces: readonly Piece[]
}

/** A list of numbers, short or long. */
export type NumberList = readonly number[] | LongList

/** Lists of more numbers than this lie in pieces. */
export const LONG = 512

/** Numbers in a piece when a list is cut up, and at most; where fewer than the least are left in one, it joins its neighbour. */
const PIECE = { usual: 512, most: 1024, least: 128 }

/** Whether a list lies in pieces. */
export function isLong(list: NumberList): list is LongList {
  return 'pieces' in list
}

/** A list of the given numbers, in pieces when it is long. */
export function listOf(values: ArrayLike<number>): NumberList {
  if (values.length <= LONG) return Array.from(values)
  return { pieces: cutUp(values) }
}

/** Whether a value is an array of doubles, of whichever realm or thread. */
export function isDoubles(value: unknown): value is Float64Array<ArrayBuffer> {
  return Object.prototype.toString.call(value) === '[object Float64Array]'
}

/** How many numbers a list holds. */
export function lengthOf(list: NumberList): number {
  return isLong(list) ? list.pieces.reduce((sum, { length }) => sum + length, 0) : list.length
}

const flat = new WeakMap<LongList, readonly number[]>()

/** All numbers of a list in a row; the same array each time. */
export function valuesOf(list: NumberList): readonly number[] {
  if (!isLong(list)) return list
  let found = flat.get(list)
  if (!found) {
    const all: number[] = []
    for (const { values } of list.pieces) for (const value of values) all.push(value)
    flat.set(list, (found = all))
  }
  return found
}

/**
 * The list with `remove` numbers taken out at `at`, and others put in there; 0 ≤ at ≤ length. Pieces that are
 * not touched are the same objects as before. Throws RangeError where `at` lies outside.
 */
export function spliced(list: NumberList, at: number, remove: number, insert: readonly number[] = []): NumberList {
  const length = lengthOf(list)
  if (!(at >= 0 && at + remove <= length)) throw new RangeError(`spliced: ${remove} numbers at ${at} of ${length}`)
  if (!isLong(list)) return listOf([...list.slice(0, at), ...insert, ...list.slice(at + remove)])
  if (length - remove + insert.length <= LONG / 2) return valuesOf(list).toSpliced(at, remove, ...insert)
  const { pieces } = list
  let [first, from] = [0, 0]
  while (first < pieces.length - 1 && from + pieces[first].length <= at) from += pieces[first++].length
  let [last, to] = [first, from + pieces[first].length]
  while (to < at + remove) to += pieces[++last].length
  const touched = () => [...pieces.slice(first, last + 1).flatMap(({ values }) => Array.from(values))].toSpliced(at - from, remove, ...insert)
  let own = touched()
  // What is left of a piece must not become crumbs.
  if (own.length < PIECE.least && pieces.length > last - first + 1) {
    if (last + 1 < pieces.length) last++
    else from -= pieces[--first].length
    own = touched()
  }
  return { pieces: [...pieces.slice(0, first), ...cutUp(own), ...pieces.slice(last + 1)] }
}

function cutUp(given: ArrayLike<number>): Piece[] {
  // As in JSON, there is one zero.
  const values = Float64Array.from(given, (value) => value + 0)
  const count = values.length <= PIECE.most ? 1 : Math.ceil(values.length / PIECE.usual)
  const pieces: Piece[] = []
  for (let k = 0; k < count; k++) {
    const part = values.slice(Math.round((k * values.length) / count), Math.round(((k + 1) * values.length) / count))
    if (part.length > 0) pieces.push(pieceOf(part))
  }
  return pieces
}

/** A piece of the given numbers, which it takes as its own. */
export function pieceOf(values: Float64Array<ArrayBuffer>): Piece {
  return { name: bytesToHex(sha256(pieceBytes({ values }))), length: values.length, values }
}

const LITTLE = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1

/** The bytes of a piece: little-endian doubles. Shares its memory where it can. */
export function pieceBytes({ values }: Pick<Piece, 'values'>): Uint8Array<ArrayBuffer> {
  if (LITTLE) return new Uint8Array(values.buffer, values.byteOffset, values.byteLength)
  const bytes = new Uint8Array(8 * values.length)
  const view = new DataView(bytes.buffer)
  values.forEach((value, i) => view.setFloat64(8 * i, value, true))
  return bytes
}

/** The numbers that bytes hold, in memory of their own; null when they are not whole numbers of doubles. */
export function bytesToPiece(bytes: Uint8Array): Float64Array<ArrayBuffer> | null {
  if (bytes.length % 8 !== 0) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  return Float64Array.from({ length: bytes.length / 8 }, (_, i) => view.getFloat64(8 * i, true))
}
