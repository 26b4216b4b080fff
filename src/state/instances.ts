import type { Block } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import { pacer } from '../growth/pacer.ts'
import type { Tile } from '../growth/tile-order.ts'

/** The grown tiles of all plantings, outside React: the picture listens, nobody copies. */
export interface InstanceTiles {
  readonly tiles: ReadonlyMap<string, ReadonlyMap<string, Tile>>
  /** Counts the changes of tiles. */
  readonly version: number
  set(planting: string, tile: string, block: Block | null, rect: Rect): void
  drop(planting: string): void
  /** Holds back what listeners are told until the work is done: many tiles at once are one picture. */
  together(work: () => Promise<void>): Promise<void>
  /** Calls back on every change of a tile; null block when it is gone. Returns the way to stop. */
  listen(listener: (planting: string, tile: string, block: Block | null, rect: Rect) => void): () => void
}

export function createInstanceTiles(): InstanceTiles {
  const tiles = new Map<string, Map<string, Tile>>()
  const listeners = new Set<(planting: string, tile: string, block: Block | null, rect: Rect) => void>()
  /** Who came to listen while news was held back: they are told all there is. */
  const joined = new Set<Parameters<InstanceTiles['listen']>[0]>()
  const tellAll = (listener: Parameters<InstanceTiles['listen']>[0]) => {
    for (const [planting, own] of tiles) for (const [tile, { block, rect }] of own) listener(planting, tile, block, rect)
  }
  let held: Parameters<Parameters<InstanceTiles['listen']>[0]>[] | null = null
  const tell = (planting: string, tile: string, block: Block | null, rect: Rect) => {
    if (held) held.push([planting, tile, block, rect])
    else for (const listener of listeners) listener(planting, tile, block, rect)
  }
  let version = 0
  return {
    tiles,
    get version() {
      return version
    },
    set(planting, tile, block, rect) {
      version++
      const own = tiles.get(planting) ?? new Map<string, Tile>()
      tiles.set(planting, own)
      if (block) own.set(tile, { block, rect })
      else own.delete(tile)
      tell(planting, tile, block, rect)
    },
    drop(planting) {
      version++
      const own = tiles.get(planting)
      tiles.delete(planting)
      for (const [tile, { rect }] of own ?? []) tell(planting, tile, null, rect)
    },
    async together(work) {
      held ??= []
      try {
        await work()
      } finally {
        const news = held ?? []
        const pace = pacer(() => performance.now())
        // What comes in meanwhile joins the end.
        for (let k = 0; k < news.length; k++) {
          for (const listener of listeners) if (!joined.has(listener)) listener(...news[k])
          await pace()
        }
        held = null
        for (const listener of joined) if (listeners.has(listener)) tellAll(listener)
        joined.clear()
      }
    },
    listen(listener) {
      listeners.add(listener)
      if (held) joined.add(listener)
      else tellAll(listener)
      return () => listeners.delete(listener)
    },
  }
}
