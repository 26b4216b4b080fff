import type { Asset } from '../core/meadow.ts'
import { assetsByNumber } from '../core/meadow.ts'
import type { AssetForms } from './asset-forms.ts'
import { loadForms } from './asset-forms.ts'
import type { CoverOf } from './ground-cover.ts'
import { coverOf } from './ground-cover.ts'
import type { InstancePicture } from './instance-picture.ts'

/** An asset under way or loaded: its forms are null until it is. */
interface Loaded {
  readonly blob: string
  forms: AssetForms | null
  cover: CoverOf | null
}

/** Loads the forms of a meadow's assets and hands them to the picture of the instances. */
export interface AssetShelf {
  set(assets: readonly Asset[]): void
  /** How an asset covers far ground; null until it is loaded. */
  coverOf(number: number): CoverOf | null
}

interface ShelfOptions {
  readonly picture: Pick<InstancePicture, 'setForms'>
  readonly readBlob: (hash: string) => Promise<Uint8Array<ArrayBuffer>>
  readonly onLoaded: () => void
  readonly onProblem: (asset: Asset, error: unknown) => void
}

export function createAssetShelf({ picture, readBlob, onLoaded, onProblem }: ShelfOptions): AssetShelf {
  const loaded = new Map<string, Loaded>()
  let shown: ReadonlyMap<number, Asset> = new Map()

  async function show(asset: Asset): Promise<void> {
    const have = loaded.get(asset.id)
    if (have?.blob === asset.blob) {
      if (have.forms) picture.setForms(asset.number, have.forms)
      return
    }
    const entry: Loaded = { blob: asset.blob, forms: null, cover: null }
    loaded.set(asset.id, entry)
    try {
      entry.forms = await loadForms(asset, readBlob)
      entry.cover = coverOf(entry.forms, asset.size)
      if (shown.get(asset.number)?.id === asset.id) picture.setForms(asset.number, entry.forms)
      onLoaded()
    } catch (error) {
      onProblem(asset, error)
    }
  }

  return {
    set(assets) {
      const before = shown
      // Posies are drawn as the models that they are made of.
      const models = assets.filter(({ parts }) => parts.length === 0)
      shown = assetsByNumber(models)
      for (const asset of models) if (before.get(asset.number) !== asset) void show(asset)
      for (const number of before.keys()) if (!shown.has(number)) picture.setForms(number, null)
    },
    coverOf: (number) => loaded.get(shown.get(number)?.id ?? '')?.cover ?? null,
  }
}
