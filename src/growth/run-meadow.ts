import type { Block } from '../core/columns.ts'
import { createTerrain } from '../core/grounds/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import { bytesToHeights } from '../document/blobs.ts'
import { ProblemError } from '../document/problem.ts'
import type { PlantingState } from './planting-state.ts'
import { createGrower } from './grower.ts'
import type { Pool } from '../runner/pool.ts'
import type { PartSource } from './shares.ts'
import { createShares } from './shares.ts'
import type { Tile } from './tile-order.ts'
import { inTileOrder } from './tile-order.ts'

/** The bytes of a meadow's blobs, by their names. */
export type Blobs = Pick<ReadonlyMap<string, Uint8Array<ArrayBuffer>>, 'get'>

/** A planting with all that grew of it. */
export interface GrownPlanting {
  readonly id: string
  /** In the order of their tiles, whatever they were grown in. */
  readonly blocks: readonly Block[]
  readonly state: PlantingState | null
}

/** The parts of a meadow among bytes in hand. */
export function partsAmong(blobs: Blobs): PartSource {
  const bytesOf = (hash: string, { name }: Pick<Meadow, 'name'>) => {
    const bytes = blobs.get(hash)
    if (!bytes) throw new ProblemError(`A part of “${name}” is missing (${hash.slice(0, 12)}…); take the meadow out again as a whole.`)
    return bytes
  }
  let last: Pick<Meadow, 'name'> = { name: '' }
  return {
    async terrainOf(meadow) {
      last = meadow
      const { blob, columns, rows, sizeX, sizeZ } = meadow.ground
      return createTerrain(bytesToHeights(bytesOf(blob, meadow)), columns, rows, sizeX, sizeZ)
    },
    blob: async (hash) => bytesOf(hash, last),
  }
}

export interface RunOptions {
  /** A clock, ms: growing lets others have a turn now and then. */
  readonly now: () => number
  /** The plan position near which it begins. */
  readonly focus?: readonly [number, number]
}

/** Grows a whole meadow with a pool, without a page. */
export async function runMeadow(meadow: Meadow, blobs: Blobs, pool: Pool, { now, focus = [0, 0] }: RunOptions): Promise<GrownPlanting[]> {
  await createShares(pool, partsAmong(blobs)).with(meadow)
  const tiles = new Map<string, Map<string, Tile>>(meadow.plantings.map(({ id }) => [id, new Map<string, Tile>()]))
  const states = new Map<string, PlantingState>()
  const grower = createGrower(
    pool,
    {
      onTile(planting, tile, block, rect) {
        if (block) tiles.get(planting)?.set(tile, { block, rect })
        else tiles.get(planting)?.delete(tile)
      },
      onState: (planting, state) => void states.set(planting, state),
      onGone: () => undefined,
      onDone: () => undefined,
    },
    now,
    { coarse: false },
  )
  await grower.grow(meadow, focus)
  grower.release()
  return meadow.plantings.map(({ id }) => ({ id, blocks: inTileOrder(tiles.get(id) ?? new Map<string, Tile>()), state: states.get(id) ?? null }))
}
