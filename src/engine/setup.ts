import { mixAssets, partsNamed } from '../core/grow.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { hashString } from './content-hash.ts'
import type { GrowSetup } from './protocol.ts'

/** A planting with all that its growing depends on, as workers take it. */
export function setupOf(meadow: Meadow, planting: Planting, finer: number): GrowSetup {
  // Name, colour, eye and lock do not change what grows.
  const grown = { ...planting, name: '', colour: '', visible: true, locked: false }
  const assets = mixAssets(planting, meadow.assets)
  const { blob, sizeX, sizeZ } = meadow.ground
  const parts = partsNamed(planting, meadow)
  const surroundings = {
    terrain: terrainName(meadow),
    waterLevel: meadow.water.level,
    outlines: parts.outlines.map(plain),
    images: parts.images.map((one) => ({ ...one, name: '' })),
    beacons: parts.beacons.map(plain),
    views: parts.views,
    meshes: parts.meshes.map((one) => ({ ...one, visible: true, locked: false, role: 'ground' as const })),
  }
  const { beacons, ...others } = surroundings
  const tileKey = hashString(JSON.stringify([grown, assets, blob, sizeX, sizeZ, others, finer]))
  const key = beacons.length > 0 ? hashString(tileKey + JSON.stringify(beacons)) : tileKey
  return { key, tileKey, planting: grown, assets, surroundings, finer }
}

/** Without what does not change what grows. */
function plain<T extends { name: string; colour: string; visible: boolean; locked: boolean }>(one: T): T {
  return { ...one, name: '', colour: '', visible: true, locked: false }
}

/** The name under which workers know the terrain of a meadow. */
export function terrainName({ ground }: Meadow): string {
  return `${ground.blob}/${ground.sizeX}/${ground.sizeZ}`
}
