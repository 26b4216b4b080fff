import { measureAsset } from '../../core/asset/measure.ts'
import type { Asset } from '../../core/meadow.ts'
import { buildAssetGlb } from '../../formats/asset-build.ts'
import type { DemoAsset } from './define.ts'
import { DEMO_ASSETS } from './index.ts'
import { INLAND } from './inland.ts'
import { makePosies } from './posies.ts'

type Keep = (bytes: Uint8Array<ArrayBuffer>) => Promise<string>

/** Made-up assets with their full forms and stand-ins stored through `keep`. */
export async function makeAssets(made: readonly DemoAsset[], keep: Keep): Promise<Asset[]> {
  const assets: Asset[] = []
  for (const one of made) assets.push({ ...(await makeAsset(one, keep)), number: assets.length })
  return assets
}

/** All made-up assets: those of the demo, then those from inland. */
export async function makeShelf(keep: Keep): Promise<Asset[]> {
  return withPosies(await makeAssets([...DEMO_ASSETS, ...INLAND], keep))
}

/** Assets with the ready-made posies of them. */
export function withPosies(assets: readonly Asset[]): Asset[] {
  return [...assets, ...makePosies(assets, assets.length)]
}

async function makeAsset(demo: DemoAsset, keep: Keep): Promise<Omit<Asset, 'number'>> {
  const forms = ([0, 1, 2] as const).map((detail) => demo.build(detail))
  const hashes: string[] = []
  for (const parts of forms) hashes.push(await keep(buildAssetGlb(demo.name, parts)))
  const measures = measureAsset(forms[0].map((part) => part.positions))
  return {
    id: demo.id,
    name: demo.name,
    category: demo.category,
    tags: [...demo.tags],
    licence: 'CC0, made with Wayward Meadow',
    parts: [],
    drapes: false,
    blob: hashes[0],
    standIns: hashes.slice(1),
    size: measures.size,
    base: measures.base,
    room: demo.room ?? measures.room,
    triangles: forms.map((parts) => parts.reduce((sum, part) => sum + part.indices.length / 3, 0)),
  }
}
