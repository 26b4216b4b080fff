import type { Meadow } from '../core/meadow.ts'
import { blobsOf } from '../document/blobs.ts'
import type { MeadowEntry, MeadowStore } from './store.ts'

/** A store for browsers that refuse to keep anything: lasts as long as the tab. */
export function createMemoryStore(sentence: string | null): MeadowStore {
  const entries = new Map<string, MeadowEntry>()
  const documents = new Map<string, Meadow>()
  const blobs = new Map<string, Uint8Array<ArrayBuffer>>()
  const change = (id: string, part: Partial<MeadowEntry>) => {
    const before = entries.get(id)
    if (before) entries.set(id, { ...before, ...part })
  }
  return {
    lasting: false,
    sentence,
    list: async () => [...entries.values()].sort((a, b) => b.modified - a.modified),
    read: async (id) => documents.get(id) ?? null,
    async write(meadow) {
      const now = Date.now()
      const before = entries.get(meadow.id)
      const bytes = blobsOf(meadow).reduce((sum, hash) => sum + (blobs.get(hash)?.length ?? 0), 0)
      documents.set(meadow.id, meadow)
      entries.set(meadow.id, {
        id: meadow.id,
        name: meadow.name,
        created: before?.created ?? now,
        modified: now,
        bytes: bytes + JSON.stringify(meadow).length,
        picture: before?.picture ?? null,
        removed: before?.removed ?? null,
      })
    },
    setPicture: async (id, picture) => change(id, { picture }),
    setRemoved: async (id, removed) => change(id, { removed }),
    async erase(id) {
      entries.delete(id)
      documents.delete(id)
      const needed = new Set([...documents.values()].flatMap(blobsOf))
      for (const hash of [...blobs.keys()]) if (!needed.has(hash)) blobs.delete(hash)
    },
    putBlob: async (hash, bytes) => void blobs.set(hash, bytes),
    getBlob: async (hash) => blobs.get(hash) ?? null,
  }
}
