import { openDexieStore } from './dexie-store.ts'
import { createMemoryStore } from './memory-store.ts'
import type { MeadowStore } from './store.ts'

let opened: Promise<MeadowStore> | undefined

/** The store of this browser; one in memory, with a sentence, where it keeps nothing. */
export function openStore(): Promise<MeadowStore> {
  opened ??= openDexieStore().catch(() =>
    createMemoryStore(
      'This browser keeps no data for this page, so nothing outlives the tab. Allow site data for it, or take your meadows out as files before closing.',
    ),
  )
  return opened
}
