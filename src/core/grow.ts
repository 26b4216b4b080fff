import { TERRAIN_ID } from './grounds/ground.ts'
import { createBase } from './grounds/footprint.ts'
import type { Rect } from './grounds/terrain.ts'
import { CONDITIONS } from './fields/conditions/index.ts'
import { DRIVERS } from './fields/drivers/index.ts'
import type { RefTarget } from './kinds.ts'
import { refsOf } from './kinds.ts'
import type { Asset, Meadow, Planting } from './meadow.ts'
import { meshGroundsOf } from './meadow.ts'
import type { PreparedPlanting, PrepareOptions } from './plantings/define.ts'
import { PLANTINGS } from './plantings/index.ts'
import type { Plot } from './stages/plot.ts'
import type { TileAddress } from './stages/tiles.ts'
import { tileRect } from './stages/tiles.ts'
import type { Surroundings } from './surroundings.ts'
import type { Thing, ThingKind } from './things/define.ts'
import { listOfThings, THINGS } from './things/index.ts'

/** What growing needs of an asset of a mix. */
export interface MixAsset {
  readonly id: string
  /** What instances name it by. */
  readonly number: number
  /** Radius of its room at size 1, m. */
  readonly room: number
  /** Base outline at size 1: x z pairs, m. */
  readonly base: readonly number[]
  /** Bounding box size, m. */
  readonly size: readonly [number, number, number]
}

/** The assets that a planting's mix names, as far as the meadow has them. */
export function mixAssets(planting: Planting, assets: readonly Asset[]): MixAsset[] {
  const used = new Set(planting.mix.map((entry) => entry.asset))
  return assets.filter(({ id }) => used.has(id)).map(({ id, number, room, base, size }) => ({ id, number, room, base, size }))
}

/** A thing of the meadow, or another planting, that a planting names, and where it names it. */
export interface Named {
  readonly to: RefTarget
  readonly id: string
  /** The condition, driver or list that names it. */
  readonly by: string
  /** How far it is looked for, m. */
  readonly reach: number
  /** Whether all of it matters wherever any of it does. */
  readonly whole?: boolean
}

/** All that the switched-on conditions and drivers of a planting name, and the meshes it grows on. */
export function namedBy({ kind, habitat, drivers, mix, grounds, along, base, params: own }: Planting): Named[] {
  const conditions = [...habitat, ...mix.flatMap(({ where }) => where ?? [])]
    .filter((use) => use.on)
    .flatMap((use) => {
      const { params, label, reach } = CONDITIONS.get(use.kind)
      return refsOf(params, use.params).map((ref) => ({ ...ref, by: `condition “${label}”`, reach: reach?.(use.params) ?? Infinity }))
    })
  const driven = drivers
    .filter((use) => use.on)
    .flatMap((use) => {
      const { params, label, reach } = DRIVERS.get(use.kind)
      return refsOf(params, use.params).map((ref) => ({ ...ref, by: `driver “${label}”`, reach: reach?.(use.params, use.over) ?? Infinity }))
    })
  const standing = meshGroundsOf({ grounds }).map((id) => ({ to: 'mesh', id, by: 'list of grounds', reach: 0 }))
  // All of a pattern moves with what it stands on, and however far from it.
  const host = base && base.host !== TERRAIN_ID ? [{ to: 'mesh', id: base.host, by: 'base', reach: Infinity, whole: true }] : []
  const { lineReach } = PLANTINGS.get(kind)
  // Where a line begins decides where on it things lie, all along.
  const lines = lineReach ? along.map((id) => ({ to: 'line', id, by: 'list of lines', reach: lineReach(own), whole: true })) : []
  return [...conditions, ...driven, ...standing, ...host, ...lines]
}

/** A thing that a planting looks at, and how far at most, m. */
export interface LookedAt {
  readonly kind: ThingKind
  readonly thing: Thing
  readonly reach: number
  /** Whether all of it matters wherever any of it does. */
  readonly whole: boolean
}

/** The things of a meadow that a planting names, as far as the meadow has them, in the meadow's order. */
export function thingsNamed(planting: Planting, meadow: Meadow): LookedAt[] {
  const reaches = new Map<string, Pick<LookedAt, 'reach' | 'whole'>>()
  for (const { id, reach, whole = false } of namedBy(planting)) {
    const before = reaches.get(id)
    reaches.set(id, { reach: Math.max(reach, before?.reach ?? 0), whole: whole || (before?.whole ?? false) })
  }
  return THINGS.all.flatMap((kind) =>
    listOfThings(meadow, kind).flatMap((thing) => {
      const looked = reaches.get(thing.id)
      return looked ? [{ kind, thing, ...looked }] : []
    }),
  )
}

/** Makes a planting of a meadow ready to be grown tile by tile. */
export function preparePlanting(
  planting: Planting,
  assets: readonly MixAsset[],
  surroundings: Surroundings,
  options: PrepareOptions = {},
): PreparedPlanting {
  const found = planting.mix.flatMap((entry) => {
    const asset = assets.find(({ id }) => id === entry.asset)
    return asset && entry.share > 0 ? [{ entry, asset }] : []
  })
  return PLANTINGS.get(planting.kind).prepare(
    { ...planting, mix: found.map(({ entry }) => entry) },
    {
      ...surroundings,
      assets: found.map(({ asset }) => ({ room: asset.room, base: createBase(asset.base), size: asset.size })),
      assetNumbers: found.map(({ asset }) => asset.number),
    },
    options,
  )
}

/** The tiles of a plot that are to be grown; one that grows as a whole is one. */
export function tilesOfPlot({ ground, tileSide, tiles, bounds }: Plot): { readonly key: string; readonly rect: Rect }[] {
  if (tileSide === 0) return [{ key: tileKey(ground, WHOLE), rect: bounds }]
  return tiles.map((address) => ({ key: tileKey(ground, tileName(tileSide, address)), rect: tileRect(tileSide, address) }))
}

/** The tile of a plot that a plan place lies in; all of it where it grows as a whole. */
export function tileAt({ ground, tileSide, bounds }: Plot, [x, z]: readonly [number, number]): { readonly key: string; readonly rect: Rect } {
  if (tileSide === 0) return { key: tileKey(ground, WHOLE), rect: bounds }
  const address = { i: Math.floor(x / tileSide), j: Math.floor(z / tileSide) }
  return { key: tileKey(ground, tileName(tileSide, address)), rect: tileRect(tileSide, address) }
}

const WHOLE = 'whole'

/** What a tile is named by among all of a planting: by its ground, and by its place there. */
export function tileKey(ground: string, name: string): string {
  return `${ground}/${name}`
}

/** The ground of a tile named by {@link tileKey}. */
export function groundOfTile(key: string): string {
  return key.slice(0, key.lastIndexOf('/'))
}

/** Ground, side, column and row of a tile named by {@link tileKey}; side 0 where it is all of its ground. */
export function placeOfTile(key: string): { readonly ground: string; readonly side: number } & TileAddress {
  const name = key.slice(key.lastIndexOf('/') + 1)
  const [side, i, j] = name === WHOLE ? [0, 0, 0] : name.split(':').map(Number)
  return { ground: groundOfTile(key), side, i, j }
}

/** What a tile is named by on its plot. */
function tileName(side: number, { i, j }: TileAddress): string {
  return `${side}:${i}:${j}`
}
