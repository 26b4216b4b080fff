import type { Dexie, Table, Transaction } from 'dexie'
import type { Meadow } from '../core/meadow.ts'
import { blobNamesIn, blobsOf } from '../document/blobs.ts'
import type { Packed } from '../document/pieces.ts'
import { packedBytes } from '../document/pieces.ts'
import type { GrownTables } from './grown.ts'
import { createGrownStore } from './grown.ts'
import type { JournalEntry, MeadowEntry } from './store.ts'
import { GONE, LOCK_PREFIX, LossError, TAKEN } from './store.ts'

/** The tables of the browser's database, and its blobs. */

export interface MeadowRow extends MeadowEntry {
  /** Who has taken it for writing, and how many entries of the owner's journal are in the document. */
  readonly owner: string | null
  readonly seq: number
}

interface DocumentRow {
  readonly id: string
  readonly document: unknown
}

/** A blob, or where it is large the first piece of it; the others lie under names of their own. */
interface BlobRow {
  readonly hash: string
  readonly bytes: Uint8Array<ArrayBuffer>
  /** Length of the whole, where it is in pieces. */
  readonly whole?: number
}

/** Largest piece: to hand more to the database at once would hold up the page, bytes. */
const PIECE = 1024 * 1024

/** The name of a piece after the first. */
const pieceName = (hash: string, from: number) => `${hash}/${from / PIECE}`

/** The blob that a row belongs to. */
const blobOf = (name: string) => name.split('/')[0]

export interface Database extends Dexie, GrownTables {
  meadows: Table<MeadowRow, string>
  documents: Table<DocumentRow, string>
  blobs: Table<BlobRow, string>
  /** Lengths of blobs, so that nobody has to read them to add them up. */
  sizes: Table<{ readonly hash: string; readonly length: number }, string>
  journal: Table<JournalEntry, number>
  /** Documents as they were before what was damaged was left out. */
  originals: Table<DocumentRow, string>
}

/** Blobs by their names; they never change. */
export interface BlobShelf {
  get(hash: string): Promise<Uint8Array<ArrayBuffer> | null>
  has(hash: string): Promise<boolean>
  put(hash: string, bytes: Uint8Array<ArrayBuffer>): Promise<void>
}

/** The blobs of a database: large ones lie in pieces. */
export function createBlobShelf(db: Database): BlobShelf {
  const shelf: BlobShelf = {
    async get(hash: string): Promise<Uint8Array<ArrayBuffer> | null> {
      const first = await db.blobs.get(hash)
      if (first?.whole === undefined) return first?.bytes ?? null
      const bytes = new Uint8Array(first.whole)
      bytes.set(first.bytes)
      for (let from = PIECE; from < first.whole; from += PIECE) {
        const piece = await db.blobs.get(pieceName(hash, from))
        if (!piece) return null
        bytes.set(piece.bytes, from)
      }
      return bytes
    },
    has: async (hash: string) => (await db.blobs.where('hash').equals(hash).count()) > 0,
    async put(hash: string, bytes: Uint8Array<ArrayBuffer>) {
      // Blobs never change, so one that is there is left alone.
      if (await shelf.has(hash)) return
      await db.transaction('rw', db.blobs, db.sizes, async () => {
        if (bytes.length <= PIECE) await db.blobs.put({ hash, bytes })
        else {
          for (let from = PIECE; from < bytes.length; from += PIECE) await db.blobs.put({ hash: pieceName(hash, from), bytes: bytes.slice(from, from + PIECE) })
          await db.blobs.put({ hash, bytes: bytes.slice(0, PIECE), whole: bytes.length })
        }
        await db.sizes.put({ hash, length: bytes.length })
      })
    },
  }
  return shelf
}

/** Takes out blobs that no document, original or note names any more. Reads no blob. Nothing while a meadow is open in some tab: it may have been erased, and be put back from there. */
export async function clearUp(db: Database): Promise<void> {
  const locks = await globalThis.navigator?.locks?.query?.()
  if (locks?.held?.some((lock) => lock.name?.startsWith(LOCK_PREFIX))) return
  await db.transaction('rw', [db.meadows, db.documents, db.journal, db.originals, db.blobs, db.sizes, db.grown, db.grownUse], async () => {
    // What was noted by tabs whose meadow is erased.
    const there = new Set(await db.meadows.toCollection().primaryKeys())
    await db.journal.filter(({ meadow }) => !there.has(meadow)).delete()
    for (const meadow of await db.grownUse.toCollection().primaryKeys()) if (!there.has(meadow)) await createGrownStore(db).clear(meadow)
    const needed = new Set<string>()
    for (const table of [db.documents, db.originals, db.journal] as readonly Table<unknown>[]) await table.each((row) => void blobNamesIn(row, needed))
    const unneeded = (await db.blobs.toCollection().primaryKeys()).filter((name) => !needed.has(blobOf(name)))
    await db.blobs.bulkDelete(unneeded)
    await db.sizes.bulkDelete(unneeded)
  })
}

/** The row, its document and the edits that count beside it; null when it is not there. */
export async function storedIn(db: Database, id: string) {
  return db.transaction('r', db.meadows, db.documents, db.journal, async () => {
    const row = await db.meadows.get(id)
    const kept = row && (await db.documents.get(id))
    if (!row || !kept) return null
    const journal = await journalIn(db, id).filter(({ owner, seq }) => owner === row.owner && seq > row.seq).toArray()
    return { row, document: kept.document, journal }
  })
}

/** All entries of a meadow's journal, of any owner. */
export function journalIn(db: Database, id: string) {
  return db.journal.where('meadow').equals(id)
}

/** Refuses to write what is gone or another's. Within a transaction. */
export async function ownRowIn(db: Database, id: string, owner: string): Promise<MeadowRow> {
  const row = await db.meadows.get(id)
  if (!row) throw new LossError('gone', GONE)
  if (row.owner !== owner) throw new LossError('taken', TAKEN)
  return row
}

/** How much a meadow takes in the store with all its blobs, bytes. */
export async function bytesIn(db: Database, meadow: Meadow, packed: Packed): Promise<number> {
  const rows = await db.sizes.bulkGet(blobsOf(meadow))
  return rows.reduce((sum, row) => sum + (row?.length ?? 0), packedBytes(packed))
}

/** Puts a document in with the pieces of its long lists that are not there yet. Within a transaction. */
export async function putDocument(db: Database, id: string, { document, blobs }: Packed): Promise<void> {
  const names = [...blobs.keys()]
  const there = new Set(await db.sizes.where('hash').anyOf(names).primaryKeys())
  const missing = [...blobs].filter(([hash]) => !there.has(hash))
  await db.blobs.bulkPut(missing.map(([hash, bytes]) => ({ hash, bytes })))
  await db.sizes.bulkPut(missing.map(([hash, { length }]) => ({ hash, length })))
  await db.documents.put({ id, document })
}

/** The tables in all their versions. Version 3 keeps grown tiles beside the documents. */
export function defineTables(db: Dexie): void {
  db.version(1).stores({ meadows: 'id, modified, removed', blobs: 'hash' })
  db.version(2)
    .stores({ meadows: 'id, modified, removed', documents: 'id', blobs: 'hash', sizes: 'hash', journal: '++, meadow', originals: 'id' })
    .upgrade(async (step: Transaction) => {
      // Documents lay in the rows that the gate lists.
      const rows = (await step.table('meadows').toArray()) as (MeadowRow & { document: unknown })[]
      for (const { document, ...entry } of rows) {
        await step.table('documents').put({ id: entry.id, document })
        await step.table('meadows').put({ ...entry, owner: null, seq: 0 })
      }
      for (const hash of await step.table('blobs').toCollection().primaryKeys()) {
        const row = (await step.table('blobs').get(hash)) as BlobRow
        await step.table('sizes').put({ hash: row.hash, length: row.bytes.length })
      }
    })
  db.version(3).stores({ grown: '[meadow+name], meadow', grownUse: 'meadow, used' })
}
