import type { BlobHash, Meadow } from '../core/meadow.ts'

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

/** Where meadows and blobs are kept. Every call may throw ProblemError with a sentence. */
export interface MeadowStore {
  /** Whether things outlive the tab. */
  readonly lasting: boolean
  /** Why they do not, for the person. */
  readonly sentence: string | null
  list(): Promise<MeadowEntry[]>
  read(id: string): Promise<Meadow | null>
  /** Writes a document; blobs it stands on must have been put before. */
  write(meadow: Meadow): Promise<void>
  setPicture(id: string, picture: Blob): Promise<void>
  setRemoved(id: string, removed: number | null): Promise<void>
  /** Forgets a removed meadow and every blob that nothing stands on any more. */
  erase(id: string): Promise<void>
  putBlob(hash: BlobHash, bytes: Uint8Array<ArrayBuffer>): Promise<void>
  getBlob(hash: BlobHash): Promise<Uint8Array<ArrayBuffer> | null>
}
