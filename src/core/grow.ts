import { createBase } from './ground/footprint.ts'
import type { Rect, Terrain } from './ground/terrain.ts'
import type { Asset, Planting } from './meadow.ts'
import type { PreparedPlanting, PrepareOptions } from './plantings/define.ts'
import { PLANTINGS } from './plantings/index.ts'

/** Makes a planting of a meadow ready to be grown tile by tile on a terrain. */
export function preparePlanting(
  planting: Planting,
  assets: readonly Asset[],
  terrain: Terrain,
  waterLevel: number,
  options: PrepareOptions = {},
): PreparedPlanting {
  const found = planting.mix
    .map((entry) => ({ entry, index: assets.findIndex((asset) => asset.id === entry.asset) }))
    .filter(({ index, entry }) => index >= 0 && entry.share > 0)
  const usable = { ...planting, mix: found.map(({ entry }) => entry) }
  return PLANTINGS.get(planting.kind).prepare(
    usable,
    {
      terrain,
      waterLevel,
      assets: found.map(({ index }) => ({ room: assets[index].room, base: createBase(assets[index].base) })),
      assetNumbers: found.map(({ index }) => index),
    },
    options,
  )
}

/** A tile of a planting by its column and row; tile (i, j) covers side·i … side·(i+1). */
export interface TileAddress {
  readonly i: number
  readonly j: number
}

/** The rectangle of a tile. */
export function tileRect(side: number, { i, j }: TileAddress): Rect {
  return { x0: i * side, z0: j * side, x1: (i + 1) * side, z1: (j + 1) * side }
}

/** All tiles of a given side that a rectangle meets, row by row. */
export function tilesOver(bounds: Rect, side: number): TileAddress[] {
  const tiles: TileAddress[] = []
  for (let j = Math.floor(bounds.z0 / side); j * side < bounds.z1; j++)
    for (let i = Math.floor(bounds.x0 / side); i * side < bounds.x1; i++) tiles.push({ i, j })
  return tiles
}
