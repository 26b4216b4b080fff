import type { Meadow } from '../core/meadow.ts'
import { blobsOf } from '../document/blobs.ts'
import { packedBytes, packLists } from '../document/pieces.ts'
import { KEEPS_NOTHING } from './grown.ts'
import { openNews } from './news.ts'
import type { JournalEntry, MeadowEntry, MeadowStore } from './store.ts'
import { recover } from './recover.ts'
import { GONE, LossError, TAKEN } from './store.ts'

interface Kept {
  entry: MeadowEntry
  document: Meadow
  owner: string | null
  seq: number
  journal: JournalEntry[]
}

let made = 0

/** A store for browsers that refuse to keep anything: lasts as long as the tab. */
export function createMemoryStore(sentence: string | null): MeadowStore {
  const meadows = new Map<string, Kept>()
  const blobs = new Map<string, Uint8Array<ArrayBuffer>>()
  const news = openNews(`memory ${made++}`)
  const shelf = {
    get: async (hash: string) => blobs.get(hash) ?? null,
    has: async (hash: string) => blobs.has(hash),
    put: async (hash: string, bytes: Uint8Array<ArrayBuffer>) => void blobs.set(hash, bytes),
  }
  const bytesOf = (meadow: Meadow) => blobsOf(meadow).reduce((sum, hash) => sum + (blobs.get(hash)?.length ?? 0), packedBytes(packLists(meadow)))
  const change = (id: string, part: Partial<MeadowEntry>) => {
    const kept = meadows.get(id)
    if (kept) kept.entry = { ...kept.entry, ...part }
  }
  function own(id: string, owner: string): Kept {
    const kept = meadows.get(id)
    if (!kept) throw new LossError('gone', GONE)
    if (kept.owner !== owner) throw new LossError('taken', TAKEN)
    return kept
  }
  const open = async (id: string) => {
    const kept = meadows.get(id)
    return kept ? recover({ id, name: kept.entry.name, document: kept.document, seq: kept.seq }, kept.journal.filter(({ owner }) => owner === kept.owner), shelf) : null
  }
  return {
    lasting: false,
    sentence,
    list: async () => [...meadows.values()].map(({ entry }) => entry).sort((a, b) => b.modified - a.modified),
    read: async (id) => (await open(id))?.meadow ?? null,
    async take(id, owner) {
      const taken = await open(id)
      const kept = meadows.get(id)
      if (!taken || !kept) return null
      Object.assign(kept, { document: taken.meadow, owner, seq: 0, journal: [] })
      return taken
    },
    async add(meadow, owner) {
      const now = Date.now()
      const before = meadows.get(meadow.id)?.entry
      const entry = { id: meadow.id, name: meadow.name, created: before?.created ?? now, modified: now, bytes: bytesOf(meadow), picture: before?.picture ?? null, removed: null }
      meadows.set(meadow.id, { entry, document: meadow, owner: owner ?? null, seq: 0, journal: [] })
      news.tell({ type: 'changed', id: meadow.id })
    },
    async write(meadow, owner, seq) {
      const kept = own(meadow.id, owner)
      kept.document = meadow
      kept.seq = seq
      kept.journal = kept.journal.filter((entry) => entry.seq > seq)
      change(meadow.id, { name: meadow.name, modified: Date.now(), bytes: bytesOf(meadow) })
      news.tell({ type: 'changed', id: meadow.id })
    },
    note: async (entry) => void meadows.get(entry.meadow)?.journal.push(entry),
    async rename(id, name) {
      const kept = meadows.get(id)
      if (!kept) return
      kept.document = { ...kept.document, name }
      change(id, { name })
      news.tell({ type: 'renamed', id, name })
    },
    setPicture: async (id, picture) => change(id, { picture }),
    async setRemoved(id, removed) {
      change(id, { removed })
      news.tell({ type: 'removed', id, away: removed !== null })
    },
    async erase(id) {
      meadows.delete(id)
      news.tell({ type: 'erased', id })
    },
    async collect() {
      const needed = new Set([...meadows.values()].flatMap(({ document }) => blobsOf(document)))
      for (const hash of [...blobs.keys()]) if (!needed.has(hash)) blobs.delete(hash)
    },
    putBlob: shelf.put,
    getBlob: shelf.get,
    original: async (id) => meadows.get(id)?.document ?? null,
    grown: KEEPS_NOTHING,
    listen: news.listen,
  }
}
