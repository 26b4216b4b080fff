import { Dexie } from 'dexie'
import { packLists } from '../document/pieces.ts'
import { ProblemError } from '../document/problem.ts'
import type { BlobShelf, Database, MeadowRow } from './database.ts'
import { bytesIn, clearUp, createBlobShelf, defineTables, journalIn, ownRowIn, putDocument, storedIn } from './database.ts'
import type { GrownStore } from './grown.ts'
import { createGrownStore } from './grown.ts'
import { openNews } from './news.ts'
import { recover } from './recover.ts'
import type { JournalEntry, MeadowStore } from './store.ts'
import { whileNobodyPuts } from './store.ts'

/** Opens the browser's database; throws when it is blocked or cannot be had. */
export async function openDexieStore(name = 'wayward-meadow'): Promise<MeadowStore> {
  const db = new Dexie(name) as Database
  defineTables(db)
  const news = openNews(`${name}/news`)
  let cleared = false
  db.on('close', () => {
    // Not by us: the person has had the browser clear this page's data.
    cleared = true
    news.tell({ type: 'cleared' })
  })
  await db.open()

  const shelf = createBlobShelf(db)
  const grown = createGrownStore(db)
  async function guarded<T>(doing: string, work: () => Promise<T>): Promise<T> {
    try {
      if (cleared && !db.isOpen()) await db.open()
      return await withRoom(grown, work)
    } catch (error) {
      if (error instanceof ProblemError) throw error
      throw new ProblemError(sentenceFor(error, doing), error)
    }
  }

  const stored = (id: string) => storedIn(db, id)
  const journalOf = (id: string) => journalIn(db, id)
  const ownRow = (id: string, owner: string) => ownRowIn(db, id, owner)

  async function change(id: string, part: Partial<MeadowRow>): Promise<boolean> {
    return (await db.meadows.update(id, part)) > 0
  }

  return {
    lasting: true,
    sentence: null,
    list: () =>
      guarded('Listing the meadows', async () => {
        const rows = await db.meadows.orderBy('modified').reverse().toArray()
        return rows.map(({ owner: _owner, seq: _seq, ...entry }) => entry)
      }),
    read: (id) =>
      guarded('Opening the meadow', async () => {
        const found = await stored(id)
        return found && (await recover({ id, name: found.row.name, document: found.document, seq: found.row.seq }, found.journal, shelf)).meadow
      }),
    take: (id, owner) =>
      guarded('Opening the meadow', () => takeIn(db, shelf, id, owner)),
    add: (meadow, owner) =>
      guarded('Saving', async () => {
        const packed = packLists(meadow)
        const bytes = await bytesIn(db, meadow, packed)
        await db.transaction('rw', [db.meadows, db.documents, db.journal, db.blobs, db.sizes], async () => {
          const before = await db.meadows.get(meadow.id)
          const now = Date.now()
          await journalOf(meadow.id).delete()
          await putDocument(db, meadow.id, packed)
          await db.meadows.put({
            id: meadow.id,
            name: meadow.name,
            created: before?.created ?? now,
            modified: now,
            bytes,
            picture: before?.picture ?? null,
            removed: null,
            owner: owner ?? null,
            seq: 0,
          })
        })
        news.tell({ type: 'changed', id: meadow.id })
      }),
    write: (meadow, owner, seq) =>
      guarded('Saving', async () => {
        const packed = packLists(meadow)
        const bytes = await bytesIn(db, meadow, packed)
        await db.transaction('rw', [db.meadows, db.documents, db.journal, db.blobs, db.sizes], async () => {
          const row = await ownRow(meadow.id, owner)
          await putDocument(db, meadow.id, packed)
          await db.meadows.put({ ...row, name: meadow.name, modified: Date.now(), bytes, seq })
          await journalOf(meadow.id).filter((entry) => entry.owner !== owner || entry.seq <= seq).delete()
        })
        news.tell({ type: 'changed', id: meadow.id })
      }),
    note: (entry) => guarded('Saving', () => noteAtOnce(db, entry)),
    rename: (id, wanted) =>
      guarded('Renaming', async () => {
        const there = await db.transaction('rw', db.meadows, db.documents, async () => {
          const kept = await db.documents.get(id)
          if (!kept || !(await change(id, { name: wanted }))) return false
          await db.documents.put({ id, document: { ...(kept.document as object), name: wanted } })
          return true
        })
        if (!there) throw new ProblemError('This meadow is no longer there; reload the page.')
        news.tell({ type: 'renamed', id, name: wanted })
      }),
    setPicture: (id, picture) => guarded('Saving the picture', async () => void (await change(id, { picture }))),
    setRemoved: (id, removed) =>
      guarded('Removing', async () => {
        await change(id, { removed })
        news.tell({ type: 'removed', id, away: removed !== null })
      }),
    erase: (id) =>
      guarded('Erasing', async () => {
        await db.transaction('rw', db.meadows, db.documents, db.journal, db.originals, async () => {
          await db.meadows.delete(id)
          await db.documents.delete(id)
          await db.originals.delete(id)
          await journalOf(id).delete()
        })
        await grown.clear(id)
        news.tell({ type: 'erased', id })
      }),
    collect: () =>
      guarded('Clearing up', () => whileNobodyPuts(() => clearUp(db))),
    putBlob: (hash, bytes) => guarded('Saving', () => shelf.put(hash, bytes)),
    getBlob: (hash) => guarded('Reading', () => shelf.get(hash)),
    original: (id) => guarded('Reading', async () => (await db.originals.get(id))?.document ?? (await db.documents.get(id))?.document ?? null),
    grown,
    listen: news.listen,
  }
}

/**
 * Hands an entry to the database within this very turn, and says that nothing else is to come: the browser
 * then keeps it even if the page is gone in the next moment, which it does not for a transaction left open.
 */
function noteAtOnce(db: Database, entry: JournalEntry): Promise<void> {
  return new Promise((resolve, reject) => {
    const transaction = db.backendDB().transaction('journal', 'readwrite')
    transaction.oncomplete = () => resolve()
    transaction.onabort = () => reject(transaction.error ?? new Error('the transaction was aborted'))
    transaction.objectStore('journal').put(entry)
    transaction.commit()
  })
}

/** Does the work, and once more without the kept tiles when the store is full: documents come before what can be grown anew. */
async function withRoom<T>(grown: GrownStore, work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    if (!isFull(error)) throw error
    await grown.clear()
    return work()
  }
}

/** Whether the store refused for want of room. */
function isFull(error: unknown): boolean {
  return [error, (error as { inner?: unknown } | null)?.inner].some((e) => (e instanceof Error || e instanceof DOMException) && e.name === 'QuotaExceededError')
}

function sentenceFor(error: unknown, doing: string): string {
  if (isFull(error))
    return `${doing} did not work because the browser's store is full. What was saved before is kept, and saving is tried again by itself; erase removed meadows at the gate, or take this one out as a file.`
  return `${doing} did not work because the browser's store refused it. What was saved before is kept; take the meadow out as a file to be safe.`
}

/** Takes a meadow for writing: its document with all that its journal holds becomes what is stored. */
async function takeIn(db: Database, shelf: BlobShelf, id: string, owner: string) {
  for (;;) {
    const before = await storedIn(db, id)
    if (!before) return null
    const { meadow, leftOut, thrownAnew } = await recover({ id, name: before.row.name, document: before.document, seq: before.row.seq }, before.journal, shelf)
    const packed = packLists(meadow)
    const mine = await db.transaction('rw', [db.meadows, db.documents, db.journal, db.originals, db.blobs, db.sizes], async () => {
      // Whoever had it may have written while this was read: then it is read again.
      const now = await storedIn(db, id)
      if (!now || now.row.owner !== before.row.owner || now.row.seq !== before.row.seq || now.journal.length !== before.journal.length) return false
      if (leftOut.length > 0 && !(await db.originals.get(id))) await db.originals.put({ id, document: before.document })
      await putDocument(db, id, packed)
      await db.meadows.put({ ...now.row, name: meadow.name, owner, seq: 0 })
      await journalIn(db, id).delete()
      return true
    })
    if (mine) return { meadow, leftOut, thrownAnew }
  }
}
