import type { Block } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'

/** A tile of instances. */
export interface Tile {
  readonly block: Block
  readonly rect: Rect
}

/**
 * Blocks in the order of their tiles: row by row from −Z, in a row from −X, then by name. So what is handed
 * off, listed or counted does not depend on which tiles were grown first.
 */
export function inTileOrder(tiles: ReadonlyMap<string, Tile>): Block[] {
  return namedInTileOrder(tiles).map(([, { block }]) => block)
}

/** The tiles in that order, with their names. */
export function namedInTileOrder(tiles: ReadonlyMap<string, Tile>): [name: string, tile: Tile][] {
  return [...tiles].sort(([nameA, { rect: a }], [nameB, { rect: b }]) => a.z0 - b.z0 || a.x0 - b.x0 || (nameA < nameB ? -1 : 1))
}
