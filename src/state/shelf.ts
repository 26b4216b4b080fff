import type { Terrain } from '../core/grounds/terrain.ts'
import { createTerrain } from '../core/grounds/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import { blobsOf, bytesToHeights } from '../document/blobs.ts'
import { ProblemError } from '../document/problem.ts'
import { FILE_PATIENCE, MAKE_TERRAIN } from '../runner/io-refs.ts'
import type { Pool } from '../runner/pool.ts'
import type { MeadowStore } from '../storage/store.ts'

/** Blobs of the store, each read once. */
export interface Shelf {
  /** Bytes of a blob; throws ProblemError when it is missing. */
  get(hash: string): Promise<Uint8Array<ArrayBuffer>>
  put(hash: string, bytes: Uint8Array<ArrayBuffer>): Promise<void>
  /** Puts all blobs of a meadow back into the store; returns how many are nowhere any more. */
  putAll(meadow: Meadow): Promise<number>
  terrainOf(meadow: Meadow): Promise<Terrain>
}

const MISSING = 'A part of this meadow is missing from the browser’s store; bring the meadow in again from its .meadow file.'
/** Grounds of more samples are looked through by a worker, so that the page goes on meanwhile. */
const LARGE_GROUND = 1 << 20

export function createShelf(store: MeadowStore, pool: Pool): Shelf {
  const blobs = new Map<string, Uint8Array<ArrayBuffer>>()

  async function get(hash: string): Promise<Uint8Array<ArrayBuffer>> {
    const known = blobs.get(hash)
    if (known) return known
    const bytes = await store.getBlob(hash)
    if (!bytes) throw new ProblemError(MISSING)
    blobs.set(hash, bytes)
    return bytes
  }

  return {
    get,
    async put(hash, bytes) {
      blobs.set(hash, bytes)
      await store.putBlob(hash, bytes)
    },
    async putAll(meadow) {
      let lost = 0
      for (const hash of blobsOf(meadow)) {
        const bytes = blobs.get(hash)
        if (bytes) await store.putBlob(hash, bytes)
        else if (!(await store.getBlob(hash))) lost++
      }
      return lost
    },
    async terrainOf({ ground }) {
      const { blob, columns, rows, sizeX, sizeZ } = ground
      const bytes = await get(blob)
      if (columns * rows < LARGE_GROUND) return createTerrain(bytesToHeights(bytes), columns, rows, sizeX, sizeZ)
      const lent = bytes.slice()
      const options = { doing: 'Laying out the ground', milliseconds: FILE_PATIENCE }
      const terrain = await pool.alone(MAKE_TERRAIN, { bytes: lent, columns, rows, sizeX, sizeZ }, options, [lent.buffer])
      // The same bytes need not be held twice.
      const { buffer, byteOffset, byteLength } = terrain.stored
      blobs.set(blob, new Uint8Array(buffer as ArrayBuffer, byteOffset, byteLength))
      return terrain
    },
  }
}
