import { Plus, Sprout, Trash2 } from 'lucide-react'
import { useState } from 'react'
import type { Asset } from '../../core/meadow.ts'
import { removeAsset, userOf } from '../../document/edits/assets.ts'
import { BESIDE_ENDINGS, MODEL_ENDINGS } from '../../formats/endings.ts'
import { notify } from '../../state/notices.ts'
import { IconAction } from '../parts/actions.tsx'
import { chooseModel } from '../parts/files.ts'
import { showQuantity } from '../params/quantity.ts'
import { AssetThumb } from './asset-thumb.tsx'
import { useField, useMeadow } from './field-context.ts'
import { tellRemoved } from './tell.ts'
import { addPlanting } from '../../document/edits/plantings.ts'

/** "0.8 × 1.2 × 0.8 m": width, height, depth. */
export function sizeWords([x, y, z]: readonly [number, number, number]): string {
  const short = (v: number) => Number(v.toPrecision(2)).toString()
  return `${short(x)} × ${short(y)} × ${showQuantity(Number(z.toPrecision(2)), 'm')}`
}

/** The shelf of assets, by category, with a search. */
export function Nursery({ onImport }: { readonly onImport: (file: File, beside: readonly File[]) => void }) {
  const { session, setOpen } = useField()
  const { assets } = useMeadow()
  const [wanted, setWanted] = useState('')
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
  const shown = assets.filter((asset) => {
    const text = [asset.name, asset.category, ...asset.tags].join(' ').toLowerCase()
    return words.every((word) => text.includes(word))
  })
  const categories = [...new Set(shown.map((asset) => asset.category))].sort()

  function remove(asset: Asset) {
    const user = userOf(session, asset)
    if (user) notify('warning', `“${asset.name}” grows in “${user}”; take it out of that mix first.`)
    else tellRemoved(session, asset.name, removeAsset(session, asset))
  }

  return (
    <>
      <div className="drawer-head">
        <h2>Nursery</h2>
        <IconAction label="Bring in a model (GLB, glTF, OBJ, PLY, STL)" onClick={() => void chooseModel(MODEL_ENDINGS, BESIDE_ENDINGS).then((chosen) => chosen && onImport(chosen.file, chosen.beside))}>
          <Plus />
        </IconAction>
      </div>
      <input className="search" type="search" placeholder="Name, category or tag" aria-label="Search the nursery" value={wanted} onChange={(event) => setWanted(event.target.value)} />
      {shown.length === 0 && <p className="faded empty">{assets.length === 0 ? 'The shelf is empty. Bring in a model, or drop one on the picture.' : 'Nothing by that name.'}</p>}
      {categories.map((category) => (
        <section key={category}>
          <h3 className="category">{category}</h3>
          <ul className="shelf">
            {shown
              .filter((asset) => asset.category === category)
              .map((asset) => (
                <li key={asset.id} title={`${asset.tags.join(', ')}${asset.licence ? ` · ${asset.licence}` : ''}`}>
                  <AssetThumb asset={asset} size={84} />
                  <span className="asset-name">{asset.name}</span>
                  <span className="asset-facts" title={sizeWords(asset.size)}>
                    {showQuantity(Number(asset.size[1].toPrecision(2)), 'm')} tall
                  </span>
                  <span className="asset-facts">{asset.triangles[0]?.toLocaleString('en')} triangles</span>
                  <span className="asset-actions">
                    <IconAction label={`Spread ${asset.name}`} onClick={() => setOpen(addPlanting(session, asset.id))}>
                      <Sprout />
                    </IconAction>
                    <IconAction label={`Remove ${asset.name}`} onClick={() => remove(asset)}>
                      <Trash2 />
                    </IconAction>
                  </span>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </>
  )
}
