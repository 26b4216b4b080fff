import { produce } from 'immer'
import type { Piece } from '../core/long-list.ts'
import { bytesToPiece, isDoubles, pieceBytes } from '../core/long-list.ts'
import type { BlobHash, Meadow } from '../core/meadow.ts'
import { listOfThings, THINGS } from '../core/things/index.ts'
import { isBlobName } from './blobs.ts'

/**
 * Where long lists leave memory: a stored document only names their pieces, and the numbers lie beside it as
 * blobs. Short documents go through untouched.
 */

type Plain = Record<string, unknown>

/** Whether a value is a piece with its numbers. */
export function isPiece(value: unknown): value is Piece {
  return isNamed(value) && isDoubles(value.values) && value.values.length === value.length
}

function isNamed(value: unknown): value is { readonly name: BlobHash; readonly length: number; readonly values?: unknown } {
  if (typeof value !== 'object' || value === null) return false
  const { name, length } = value as Plain
  return typeof name === 'string' && isBlobName(name) && Number.isSafeInteger(length) && (length as number) > 0
}

/** A document with its long lists named only, and the bytes of all pieces by their names. */
export interface Packed {
  readonly document: unknown
  readonly blobs: ReadonlyMap<BlobHash, Uint8Array<ArrayBuffer>>
}

/** How much a packed document takes, bytes. */
export function packedBytes({ document, blobs }: Packed): number {
  return [...blobs.values()].reduce((sum, { length }) => sum + length, JSON.stringify(document).length)
}

/** Packs a meadow for wherever it is kept; one of any version, sound or not, goes as it is but for its long lists. */
export function packLists(meadow: unknown): Packed {
  const blobs = new Map<BlobHash, Uint8Array<ArrayBuffer>>()
  const document = withPieces(meadow, (piece) => {
    if (!isPiece(piece)) return piece
    blobs.set(piece.name, pieceBytes(piece))
    return { name: piece.name, length: piece.length }
  })
  return { document, blobs }
}

/**
 * The document with the numbers of its long lists, which `get` finds by their names. Pieces that are not found,
 * or are not what they are said to be, stay without: no schema takes them.
 */
export async function unpackLists(document: unknown, get: (name: BlobHash) => Promise<Uint8Array | null>): Promise<unknown> {
  const found = new Map<BlobHash, Piece>()
  const wanted: { readonly name: BlobHash; readonly length: number }[] = []
  withPieces(document, (piece) => {
    if (isNamed(piece) && !isPiece(piece)) wanted.push(piece)
    return piece
  })
  for (const { name, length } of wanted) {
    const bytes = found.has(name) ? null : await get(name)
    const values = bytes && bytesToPiece(bytes)
    if (values?.length === length) found.set(name, { name, length, values })
  }
  return wanted.length === 0 ? document : withPieces(document, (piece) => (isNamed(piece) ? (found.get(piece.name) ?? piece) : piece))
}

/** The document with each piece of its long lists put through; the same object when none is another. */
function withPieces<T>(document: T, change: (piece: unknown) => unknown): T {
  const lists = longListsOf(document)
  if (lists.length === 0) return document
  return produce(document, (draft) => {
    for (const { path, pieces } of lists) {
      const list = path.reduce<unknown>((value, key) => (value as Plain)[key], draft) as { pieces: unknown }
      const changed = pieces.map(change)
      if (changed.some((piece, i) => piece !== pieces[i])) list.pieces = changed
    }
  })
}

/** Where the long lists of a document are: things may hold them in their lists. */
function longListsOf(document: unknown): { readonly path: readonly string[]; readonly pieces: readonly unknown[] }[] {
  if (typeof document !== 'object' || document === null) return []
  return THINGS.all.flatMap((kind) => {
    const longs = Object.entries(kind.fields).filter(([, field]) => (field as { type: string }).type === 'lines').map(([key]) => key)
    const things: unknown = listOfThings(document as Meadow, kind)
    if (longs.length === 0 || !Array.isArray(things)) return []
    return things.flatMap((thing: unknown, i) =>
      longs.flatMap((key) => {
        const lists = (thing as Plain | null)?.[key]
        if (!Array.isArray(lists)) return []
        return lists.flatMap((list: unknown, k) => {
          const pieces = (list as { pieces?: unknown } | null)?.pieces
          return Array.isArray(pieces) ? [{ path: [kind.list, String(i), key, String(k)], pieces: pieces as unknown[] }] : []
        })
      }),
    )
  })
}
