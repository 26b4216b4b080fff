import type { Patch } from 'immer'
import type { BlobHash, Meadow } from '../core/meadow.ts'
import { ProblemError } from '../document/problem.ts'
import type { GrownStore } from './grown.ts'

/** All locks of open meadows begin so. */
export const LOCK_PREFIX = 'wayward-meadow/'

/** What the gate shows of a meadow. */
export interface MeadowEntry {
  readonly id: string
  readonly name: string
  /** ms since 1970. */
  readonly created: number
  readonly modified: number
  /** Bytes of the document and its blobs. */
  readonly bytes: number
  /** A small picture of it. */
  readonly picture: Blob | null
  /** When it was removed; null while it is there. */
  readonly removed: number | null
}

/** A meadow taken for writing. */
export interface Taken {
  readonly meadow: Meadow
  /** What was damaged in what was stored and is left out, in words; the original is kept. */
  readonly leftOut: readonly string[]
  /** What stands elsewhere since an earlier version, in words; null when nothing does. */
  readonly thrownAnew: string | null
}

/** Edits since the last whole writing, in the order in which they were made. */
export interface JournalEntry {
  readonly meadow: string
  /** Who wrote it: entries of anyone but the one who has taken the meadow do not count. */
  readonly owner: string
  /** Counts the entries of an owner from 1. */
  readonly seq: number
  readonly patches: readonly Patch[]
}

/** Why a meadow can be written no longer. */
export type LossReason = 'gone' | 'taken'

/** Thrown when a meadow is no longer in the store, or has been taken by another tab. */
export class LossError extends ProblemError {
  readonly reason: LossReason
  constructor(reason: LossReason, sentence: string) {
    super(sentence)
    this.name = 'LossError'
    this.reason = reason
  }
}

/** What tabs tell each other about meadows of the store. */
export type StoreNews =
  | { readonly type: 'renamed'; readonly id: string; readonly name: string }
  | { readonly type: 'removed'; readonly id: string; readonly away: boolean }
  | { readonly type: 'erased'; readonly id: string }
  | { readonly type: 'changed'; readonly id: string }
  /** The store was taken away from under this page. */
  | { readonly type: 'cleared' }

/** Where meadows and blobs are kept. Every call may throw ProblemError with a sentence. */
export interface MeadowStore {
  /** Whether things outlive the tab. */
  readonly lasting: boolean
  /** Why they do not, for the person. */
  readonly sentence: string | null
  list(): Promise<MeadowEntry[]>
  /** The meadow as it is now, edits of the journal taken in; null when it is not there. Changes nothing. */
  read(id: string): Promise<Meadow | null>
  /** Takes a meadow for writing: from now on only what `owner` writes counts. Null when it is not there. */
  take(id: string, owner: string): Promise<Taken | null>
  /** Adds a meadow, or puts it back under its id; blobs that it stands on must have been put before. */
  add(meadow: Meadow, owner?: string): Promise<void>
  /** Writes the whole document and forgets the owner's journal up to `seq`. Throws LossError. */
  write(meadow: Meadow, owner: string, seq: number): Promise<void>
  /** Notes edits. What is handed over outlives the page from the next moment on; resolves when it is kept. */
  note(entry: JournalEntry): Promise<void>
  rename(id: string, name: string): Promise<void>
  setPicture(id: string, picture: Blob): Promise<void>
  setRemoved(id: string, removed: number | null): Promise<void>
  /** Forgets a meadow. Its blobs go when nothing stands on them any more. */
  erase(id: string): Promise<void>
  /** Forgets blobs that no meadow stands on; leaves all as they are while some meadow may be open. */
  collect(): Promise<void>
  putBlob(hash: BlobHash, bytes: Uint8Array<ArrayBuffer>): Promise<void>
  getBlob(hash: BlobHash): Promise<Uint8Array<ArrayBuffer> | null>
  /** A document as it was before what was damaged in it was left out; null when there is none such. */
  original(id: string): Promise<unknown>
  /** Grown tiles that are kept from one opening to the next. */
  readonly grown: GrownStore
  /** Calls back with what happens to meadows in this and other tabs; returns how to stop that. */
  listen(listener: (news: StoreNews) => void): () => void
}

export const GONE = 'This meadow is no longer in the browser’s store. What you see is in this tab alone: keep it here again, or take it out as a file.'
export const TAKEN = 'This meadow was taken over in another tab. What was changed here since is in this tab alone: take it out as a file if it matters.'

/** Held shared by whoever puts blobs in before the document that names them, and alone by who clears blobs away. */
const BLOBS_LOCK = 'wayward-meadow blobs'

/** Puts blobs in, and then the document that names them: in between nobody clears them away. */
export async function whilePutting(work: () => Promise<void>): Promise<void> {
  const locks = globalThis.navigator?.locks
  if (locks) await locks.request(BLOBS_LOCK, { mode: 'shared' }, work)
  else await work()
}

/** Clears blobs away unless somebody is putting some in, in any tab. */
export async function whileNobodyPuts(work: () => Promise<void>): Promise<void> {
  const locks = globalThis.navigator?.locks
  if (locks) await locks.request(BLOBS_LOCK, { ifAvailable: true }, async (lock) => (lock ? work() : undefined))
  else await work()
}
