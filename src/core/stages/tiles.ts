import type { Rect } from '../grounds/terrain.ts'

/** A tile of a plot by its column and row; tile (i, j) covers side·i … side·(i+1). */
export interface TileAddress {
  readonly i: number
  readonly j: number
}

/** The rectangle of a tile. */
export function tileRect(side: number, { i, j }: TileAddress): Rect {
  return { x0: i * side, z0: j * side, x1: (i + 1) * side, z1: (j + 1) * side }
}

/** All tiles of a given side that cover a rectangle, row by row. */
export function tilesOver(bounds: Rect, side: number): TileAddress[] {
  const tiles: TileAddress[] = []
  for (let j = Math.floor(bounds.z0 / side); j * side < bounds.z1; j++)
    for (let i = Math.floor(bounds.x0 / side); i * side < bounds.x1; i++) tiles.push({ i, j })
  return tiles
}
