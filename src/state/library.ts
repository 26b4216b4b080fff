import type { Meadow } from '../core/meadow.ts'
import { blobNamesIn, blobsOf, hashBytes, heightsToBytes } from '../document/blobs.ts'
import { LIMITS, shortened } from '../core/limits.ts'
import { newId, newMeadow } from '../document/new-planting.ts'
import { packLists } from '../document/pieces.ts'
import { ProblemError } from '../document/problem.ts'
import { FILE_PATIENCE, MAKE_SHELF, MAKE_STARTER, PACK_MEADOW, PACK_ORIGINAL, UNPACK_MEADOW } from '../runner/io-refs.ts'
import type { PackedMeadow } from '../runner/io-refs.ts'
import type { Pool } from '../runner/pool.ts'
import type { FileLike } from '../runner/read-file.ts'
import { readFileAlone } from '../runner/read-file.ts'
import type { MeadowStore } from '../storage/store.ts'
import { whilePutting } from '../storage/store.ts'
import { notify } from './notices.ts'

/** What the gate can do with meadows; each returns the id of the meadow it made. */

const LEVEL = { samples: 129, size: 200 }

async function keep(store: MeadowStore, { meadow, blobs }: PackedMeadow, name: string): Promise<string> {
  const own = { ...meadow, id: newId(), name }
  // Until the document is there, nothing says that its blobs are needed.
  await whilePutting(async () => {
    for (const [hash, bytes] of blobs) await store.putBlob(hash, bytes)
    await store.add(own)
  })
  return own.id
}

/** The name with a number behind it when it is taken. */
export async function freeName(store: MeadowStore, wanted: string): Promise<string> {
  const taken = new Set((await store.list()).map((entry) => entry.name))
  let name = wanted
  for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`
  return name
}

/** Makes a meadow out of one to start from. */
export async function createFromStarter(store: MeadowStore, pool: Pool, kind: string): Promise<string> {
  const made = await pool.run(MAKE_STARTER, kind)
  return keep(store, made, await freeName(store, made.meadow.name))
}

export async function createEmpty(store: MeadowStore, pool: Pool): Promise<string> {
  const heights = heightsToBytes(new Float32Array(LEVEL.samples * LEVEL.samples))
  const hash = await hashBytes(heights)
  // A new meadow comes with a filled nursery, so that the first planting is one click away.
  const shelf = await pool.run(MAKE_SHELF, null)
  const meadow: Meadow = {
    ...newMeadow('New meadow', hash, LEVEL),
    assets: [...shelf.assets],
    nextAsset: shelf.assets.length,
  }
  return keep(store, { meadow, blobs: [...shelf.blobs, [hash, heights]] }, await freeName(store, meadow.name))
}

export async function duplicateMeadow(store: MeadowStore, id: string): Promise<string> {
  const meadow = await store.read(id)
  if (!meadow) throw new ProblemError('This meadow is no longer there; reload the page.')
  const copy = { ...meadow, id: newId(), name: await freeName(store, `${meadow.name} copy`) }
  await store.add(copy)
  const entry = (await store.list()).find((one) => one.id === id)
  if (entry?.picture) await store.setPicture(copy.id, entry.picture)
  return copy.id
}

export async function renameMeadow(store: MeadowStore, id: string, name: string): Promise<void> {
  await store.rename(id, shortened(name, LIMITS.name) || 'Unnamed meadow')
}

/** Forgets a meadow and, as far as no meadow is open, what stands in the store for it alone. */
export async function eraseMeadow(store: MeadowStore, id: string): Promise<void> {
  await store.erase(id)
  await store.collect()
}

export async function bringIn(store: MeadowStore, pool: Pool, file: FileLike, options: { readonly signal?: AbortSignal } = {}): Promise<string> {
  const packed = await readFileAlone(pool, UNPACK_MEADOW, file, {}, options)
  if (packed.thrownAnew) notify('word', packed.thrownAnew)
  return keep(store, packed, await freeName(store, packed.meadow.name))
}

/** A stored document just as it is, with all blobs that it may stand on, as a `.meadow` file: for what cannot be opened, or was damaged. */
export async function takeOutOriginal(store: MeadowStore, pool: Pool, id: string): Promise<Blob> {
  const document = await store.original(id)
  if (document === null) throw new ProblemError('There is nothing stored of this meadow any more.')
  const blobs: [string, Uint8Array<ArrayBuffer>][] = []
  for (const hash of blobNamesIn(document)) {
    const bytes = await store.getBlob(hash)
    if (bytes) blobs.push([hash, bytes])
  }
  const packed = packLists(document)
  blobs.push(...packed.blobs)
  return new Blob([await pool.run(PACK_ORIGINAL, { document: packed.document, blobs }, { silence: FILE_PATIENCE })], { type: 'application/zip' })
}

/** The meadow as a `.meadow` file. */
export async function takeOut(from: Pick<MeadowStore, 'getBlob'>, pool: Pool, meadow: Meadow): Promise<Blob> {
  const blobs: [string, Uint8Array<ArrayBuffer>][] = []
  for (const hash of blobsOf(meadow)) {
    const bytes = await from.getBlob(hash)
    if (bytes) blobs.push([hash, bytes])
  }
  return new Blob([await pool.run(PACK_MEADOW, { meadow, blobs }, { silence: FILE_PATIENCE })], { type: 'application/zip' })
}
