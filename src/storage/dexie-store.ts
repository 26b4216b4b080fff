import type { Table } from 'dexie'
import { Dexie } from 'dexie'
import type { Meadow } from '../core/meadow.ts'
import { blobsOf } from '../document/blobs.ts'
import { readMeadow } from '../document/migrations.ts'
import { ProblemError } from '../document/problem.ts'
import type { MeadowEntry, MeadowStore } from './store.ts'

interface MeadowRow extends MeadowEntry {
  readonly document: unknown
}

interface BlobRow {
  readonly hash: string
  readonly bytes: Uint8Array<ArrayBuffer>
}

interface Database extends Dexie {
  meadows: Table<MeadowRow, string>
  blobs: Table<BlobRow, string>
}

/** Opens the browser's database; throws when it is blocked or cannot be had. */
export async function openDexieStore(name = 'wayward-meadow'): Promise<MeadowStore> {
  const db = new Dexie(name) as Database
  db.version(1).stores({ meadows: 'id, modified, removed', blobs: 'hash' })
  await db.open()

  async function guarded<T>(doing: string, work: () => Promise<T>): Promise<T> {
    try {
      return await work()
    } catch (error) {
      if (error instanceof ProblemError) throw error
      throw new ProblemError(sentenceFor(error, doing), error)
    }
  }

  async function bytesOf(meadow: Meadow): Promise<number> {
    const rows = await db.blobs.bulkGet(blobsOf(meadow))
    return JSON.stringify(meadow).length + rows.reduce((sum, row) => sum + (row?.bytes.length ?? 0), 0)
  }

  return {
    lasting: true,
    sentence: null,
    list: () =>
      guarded('Listing the meadows', async () => {
        const rows = await db.meadows.orderBy('modified').reverse().toArray()
        return rows.map(({ document: _document, ...entry }) => entry)
      }),
    read: (id) =>
      guarded('Opening the meadow', async () => {
        const row = await db.meadows.get(id)
        if (!row) return null
        const checked = readMeadow(row.document)
        if ('problem' in checked)
          throw new ProblemError(`“${row.name}” cannot be opened: ${checked.problem}. It is left as it is.`)
        return checked.meadow
      }),
    write: (meadow) =>
      guarded('Saving', async () => {
        const bytes = await bytesOf(meadow)
        await db.transaction('rw', db.meadows, async () => {
          const before = await db.meadows.get(meadow.id)
          const now = Date.now()
          await db.meadows.put({
            id: meadow.id,
            name: meadow.name,
            created: before?.created ?? now,
            modified: now,
            bytes,
            picture: before?.picture ?? null,
            removed: before?.removed ?? null,
            document: meadow,
          })
        })
      }),
    setPicture: (id, picture) => guarded('Saving the picture', async () => void (await db.meadows.update(id, { picture }))),
    setRemoved: (id, removed) => guarded('Removing', async () => void (await db.meadows.update(id, { removed }))),
    erase: (id) =>
      guarded('Erasing', () =>
        db.transaction('rw', db.meadows, db.blobs, async () => {
          await db.meadows.delete(id)
          const needed = new Set((await db.meadows.toArray()).flatMap((row) => blobsOf(row.document as Meadow)))
          const kept = await db.blobs.toCollection().primaryKeys()
          await db.blobs.bulkDelete(kept.filter((hash) => !needed.has(hash)))
        }),
      ),
    putBlob: (hash, bytes) =>
      guarded('Saving', async () => {
        // Blobs never change, so one that is there is left alone.
        if ((await db.blobs.where('hash').equals(hash).count()) === 0) await db.blobs.put({ hash, bytes })
      }),
    getBlob: (hash) => guarded('Reading', async () => (await db.blobs.get(hash))?.bytes ?? null),
  }
}

function sentenceFor(error: unknown, doing: string): string {
  const names = [error, (error as { inner?: unknown } | null)?.inner].map((e) => (e instanceof Error ? e.name : ''))
  if (names.includes('QuotaExceededError'))
    return `${doing} did not work because the browser's store is full. What was saved before is kept; erase removed meadows at the gate, or take this one out as a file.`
  return `${doing} did not work because the browser's store refused it. What was saved before is kept; take the meadow out as a file to be safe.`
}
