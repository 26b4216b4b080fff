import { applyPatches, enablePatches } from 'immer'
import type { Meadow } from '../core/meadow.ts'
import { bytesToHeights, hashBytes, heightsToBytes } from '../document/blobs.ts'
import { openMeadow, thrownAnew } from '../document/migrations.ts'
import { unpackLists } from '../document/pieces.ts'
import { newMeadow } from '../document/new-planting.ts'
import { ProblemError } from '../document/problem.ts'
import type { JournalEntry } from './store.ts'

enablePatches()

type Bytes = Uint8Array<ArrayBuffer>

/** What opening asks of the blobs. */
export interface BlobShelf {
  get(hash: string): Promise<Bytes | null>
  has(hash: string): Promise<boolean>
  put(hash: string, bytes: Bytes): Promise<void>
}

/** A stored document with its journal, opened as far as it can be. */
export interface Recovered {
  readonly meadow: Meadow
  readonly leftOut: readonly string[]
  /** What stands elsewhere since an earlier version, in words; null when nothing does. */
  readonly thrownAnew: string | null
}

/**
 * Opens a stored document: brings it up to date, adds the edits of its journal in their order, leaves out
 * what is damaged and says so. Throws ProblemError when nothing of it can be opened.
 */
export async function recover(stored: { readonly id: string; readonly name: string; readonly document: unknown; readonly seq: number }, journal: readonly JournalEntry[], shelf: BlobShelf): Promise<Recovered> {
  const { id, name } = stored
  const whole = await unpackLists(stored.document, (hash) => shelf.get(hash))
  const opened = openMeadow(withJournal(whole, journal, stored.seq), id)
  if ('problem' in opened) throw new ProblemError(`“${name}” cannot be opened: ${opened.problem}. It is left as it is; take it out as a file to keep it.`)
  const leftOut = [...opened.leftOut]
  const meadow = await withBlobs(opened.meadow, shelf, leftOut)
  return { meadow, leftOut, thrownAnew: thrownAnew(stored.document) }
}

/** The document after its journal, of which it holds entries up to `from`; one that is missing or does not fit ends it. */
function withJournal(document: unknown, journal: readonly JournalEntry[], from: number): unknown {
  let current = document
  let last = from
  for (const { patches, seq } of [...journal].sort((a, b) => a.seq - b.seq)) {
    if (seq <= from) continue
    if (seq !== ++last) return current
    try {
      current = applyPatches(current as object, patches as never)
    } catch {
      return current
    }
  }
  return current
}

const LEVEL = { samples: 129, size: 200 }

/** Sees to it that all blobs without which nothing grows are there; what stands on lost ones is left out. */
async function withBlobs(found: Omit<Meadow, 'ground'> & { ground: Meadow['ground'] | null }, shelf: BlobShelf, leftOut: string[]): Promise<Meadow> {
  const ground = found.ground && (await groundIsThere(found.ground, shelf)) ? found.ground : null
  if (found.ground && !ground) leftOut.push('its ground, whose heights are missing (a level one stands in)')
  const images = await those(found.images, ({ blob }) => [blob], shelf)
  const meshes = await those(found.meshes, ({ blob, shape }) => [blob, shape], shelf)
  for (const [word, before, after] of [['images', found.images, images], ['meshes', found.meshes, meshes]] as const)
    if (after.length < before.length) leftOut.push(`${before.length - after.length} of its ${word}, whose data is missing`)
  return { ...found, images: images.length < found.images.length ? images : found.images, meshes: meshes.length < found.meshes.length ? meshes : found.meshes, ground: ground ?? (await levelGround(shelf)) }
}

async function groundIsThere({ blob, columns, rows }: Meadow['ground'], shelf: BlobShelf): Promise<boolean> {
  const bytes = await shelf.get(blob)
  return bytes !== null && bytes.length === 4 * columns * rows && bytesToHeights(bytes).some((height) => height === height)
}

async function those<T>(list: readonly T[], blobs: (one: T) => readonly string[], shelf: BlobShelf): Promise<T[]> {
  const kept: T[] = []
  for (const one of list) {
    const there = await Promise.all(blobs(one).map((hash) => shelf.has(hash)))
    if (there.every(Boolean)) kept.push(one)
  }
  return kept
}

async function levelGround(shelf: BlobShelf): Promise<Meadow['ground']> {
  const bytes = heightsToBytes(new Float32Array(LEVEL.samples ** 2))
  const hash = await hashBytes(bytes)
  await shelf.put(hash, bytes)
  return newMeadow('', hash, LEVEL).ground
}
