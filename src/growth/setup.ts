import { mixAssets, partsNamed } from '../core/grow.ts'
import type { Meadow, Outline, Planting } from '../core/meadow.ts'
import { hashString, hashValue } from './content-hash.ts'
import type { GrowSetup } from '../runner/protocol.ts'

/** A planting with all that its growing depends on, and the large things that go to workers by names of their own. */
export interface Setup {
  readonly setup: GrowSetup
  readonly outlines: readonly { readonly name: string; readonly outline: Outline }[]
}

/** Makes ready what workers must know to grow a planting. Looks through what has not been looked through before only. */
export function setupOf(meadow: Meadow, planting: Planting, finer: number): Setup {
  // Name, colour, eye and lock do not change what grows.
  const grown = { ...planting, name: '', colour: '', visible: true, locked: false }
  const assets = mixAssets(planting, meadow.assets)
  const { water } = meadow
  const parts = partsNamed(planting, meadow)
  const outlines = parts.outlines.map((one) => ({ name: outlineName(one), outline: plain(one) }))
  const surroundings = {
    terrain: terrainName(meadow),
    waterLevel: water.level,
    outlines: outlines.map(({ name }) => name),
    images: parts.images.map((one) => ({ ...one, name: '' })),
    beacons: parts.beacons.map(plain),
    views: parts.views,
    meshes: parts.meshes.map((one) => ({ ...one, visible: true, locked: false, role: 'ground' as const })),
  }
  const { terrain, waterLevel, images, beacons, views, meshes } = surroundings
  const { id, kind, seed, combine, mix, habitat, drivers, grounds, params } = planting
  const tileKey = hashString(
    [id, kind, seed, combine, ...[mix, habitat, drivers, grounds, params, assets, images, views, meshes].map(hashValue), terrain, waterLevel, ...surroundings.outlines, finer].join('\n'),
  )
  const key = beacons.length > 0 ? hashString(tileKey + hashValue(beacons)) : tileKey
  return { setup: { key, tileKey, planting: grown, assets, surroundings, finer }, outlines }
}

/** Without what does not change what grows. */
function plain<T extends { name: string; colour: string; visible: boolean; locked: boolean }>(one: T): T {
  return { ...one, name: '', colour: '', visible: true, locked: false }
}

function outlineName({ id, kind, smooth, closed, width, lines }: Outline): string {
  return `outline/${hashString([id, kind, smooth, closed, width, hashValue(lines)].join('\n'))}`
}

/** The name under which workers know the terrain of a meadow. */
export function terrainName({ ground }: Meadow): string {
  return `${ground.blob}/${ground.sizeX}/${ground.sizeZ}`
}
