import { createBase } from './ground/footprint.ts'
import type { Rect, Terrain } from './ground/terrain.ts'
import { CONDITIONS } from './conditions/index.ts'
import { refsOf } from './kinds.ts'
import type { Asset, Outline, Planting } from './meadow.ts'
import type { PreparedPlanting, PrepareOptions } from './plantings/define.ts'
import { PLANTINGS } from './plantings/index.ts'

/** What growing needs of an asset of a mix. */
export interface MixAsset {
  readonly id: string
  /** Its place in the meadow's list. */
  readonly number: number
  /** Radius of its room at size 1, m. */
  readonly room: number
  /** Base outline at size 1: x z pairs, m. */
  readonly base: readonly number[]
}

/** The assets that a planting's mix names, as far as the meadow has them. */
export function mixAssets(planting: Planting, assets: readonly Asset[]): MixAsset[] {
  const used = new Set(planting.mix.map((entry) => entry.asset))
  return assets.flatMap(({ id, room, base }, number) => (used.has(id) ? [{ id, number, room, base }] : []))
}

/** The patches and paths that a planting's habitat names, as far as the meadow has them. */
export function habitatOutlines({ habitat }: Planting, outlines: readonly Outline[]): Outline[] {
  const used = new Set(
    habitat.filter((use) => use.on).flatMap((use) => refsOf(CONDITIONS.get(use.kind).params, use.params).map(({ id }) => id)),
  )
  return outlines.filter(({ id }) => used.has(id))
}

/** Makes a planting of a meadow ready to be grown tile by tile on a terrain. */
export function preparePlanting(
  planting: Planting,
  assets: readonly MixAsset[],
  terrain: Terrain,
  waterLevel: number,
  outlines: readonly Outline[],
  options: PrepareOptions = {},
): PreparedPlanting {
  const found = planting.mix.flatMap((entry) => {
    const asset = assets.find(({ id }) => id === entry.asset)
    return asset && entry.share > 0 ? [{ entry, asset }] : []
  })
  return PLANTINGS.get(planting.kind).prepare(
    { ...planting, mix: found.map(({ entry }) => entry) },
    {
      terrain,
      waterLevel,
      outlines,
      assets: found.map(({ asset }) => ({ room: asset.room, base: createBase(asset.base) })),
      assetNumbers: found.map(({ asset }) => asset.number),
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
