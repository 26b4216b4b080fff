import type { Terrain } from '../core/grounds/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import { inSharedMemory } from '../core/shared-memory.ts'
import { grownBlobsOf } from '../core/things/index.ts'
import type { Pool } from '../runner/pool.ts'
import { terrainName } from './setup.ts'

/** Where the large parts of a meadow come from. */
export interface PartSource {
  terrainOf(meadow: Meadow): Promise<Terrain>
  /** Bytes of a blob. Throws ProblemError when it is missing. */
  blob(hash: string): Promise<Uint8Array<ArrayBuffer>>
}

/** Hands the ground of a meadow and the blobs that its things stand on to the workers of a pool, each once. */
export interface Shares {
  /** Hands over what a meadow needs; its terrain when that is another one than before, else null. */
  with(meadow: Meadow): Promise<Terrain | null>
  /** Takes back what the meadow handed over last does not need: to be called once nothing is under way that may. */
  forgetOld(): void
  /** Takes all back. */
  release(): void
}

export function createShares(pool: Pool, source: PartSource): Shares {
  let shared = ''
  const handed = new Set<string>()
  const old: string[] = []

  async function shareTerrain(meadow: Meadow): Promise<Terrain | null> {
    const name = terrainName(meadow)
    if (name === shared) return null
    const terrain = await source.terrainOf(meadow)
    if (shared) old.push(shared)
    shared = name
    const { stored, columns, rows, sizeX, sizeZ } = terrain
    pool.share({ type: 'terrain', name, heights: inSharedMemory(stored), columns, rows, sizeX, sizeZ })
    return terrain
  }

  async function shareBlobs(meadow: Meadow): Promise<void> {
    const wanted = new Set(grownBlobsOf(meadow))
    for (const name of wanted) {
      if (handed.has(name)) continue
      const bytes = await source.blob(name)
      handed.add(name)
      pool.share({ type: 'bytes', name, bytes })
    }
    for (const name of [...handed]) {
      if (wanted.has(name)) continue
      handed.delete(name)
      old.push(name)
    }
  }

  const shares: Shares = {
    async with(meadow) {
      const terrain = await shareTerrain(meadow)
      await shareBlobs(meadow)
      return terrain
    },
    forgetOld() {
      for (const name of old.splice(0)) if (name !== shared && !handed.has(name)) pool.forget(name)
    },
    release() {
      shares.forgetOld()
      if (shared) pool.forget(shared)
      for (const name of handed) pool.forget(name)
    },
  }
  return shares
}
