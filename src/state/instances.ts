import type { Block } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Tile } from '../growth/tile-order.ts'

/** The grown tiles of all plantings, outside React: the picture listens, nobody copies. */
export interface InstanceTiles {
  readonly tiles: ReadonlyMap<string, ReadonlyMap<string, Tile>>
  set(planting: string, tile: string, block: Block | null, rect: Rect): void
  drop(planting: string): void
  /** Calls back on every change of a tile; null block when it is gone. Returns the way to stop. */
  listen(listener: (planting: string, tile: string, block: Block | null, rect: Rect) => void): () => void
}

export function createInstanceTiles(): InstanceTiles {
  const tiles = new Map<string, Map<string, Tile>>()
  const listeners = new Set<(planting: string, tile: string, block: Block | null, rect: Rect) => void>()
  const tell = (planting: string, tile: string, block: Block | null, rect: Rect) => {
    for (const listener of listeners) listener(planting, tile, block, rect)
  }
  return {
    tiles,
    set(planting, tile, block, rect) {
      const own = tiles.get(planting) ?? new Map<string, Tile>()
      tiles.set(planting, own)
      if (block) own.set(tile, { block, rect })
      else own.delete(tile)
      tell(planting, tile, block, rect)
    },
    drop(planting) {
      const own = tiles.get(planting)
      tiles.delete(planting)
      for (const [tile, { rect }] of own ?? []) tell(planting, tile, null, rect)
    },
    listen(listener) {
      listeners.add(listener)
      for (const [planting, own] of tiles) for (const [tile, { block, rect }] of own) listener(planting, tile, block, rect)
      return () => listeners.delete(listener)
    },
  }
}
