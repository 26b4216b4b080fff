import { PackageOpen, PenLine, Plus, Trash2 } from 'lucide-react'
import { useCallback, useEffect, useMemo, useState } from 'react'
import { useStore } from 'zustand'
import type { Asset } from '../../core/meadow.ts'
import { chooseWhere } from '../../state/chosen.ts'
import { removeAsset, userOf } from '../../document/edits/assets.ts'
import { BESIDE_ENDINGS, MODEL_ENDINGS } from '../../formats/endings.ts'
import { openAt } from '../../tools/choose/posies.ts'
import { attempt, notify } from '../../state/notices.ts'
import { IconAction } from '../parts/actions.tsx'
import type { ChosenModels } from '../parts/files.ts'
import { chooseModels } from '../parts/files.ts'
import { showQuantity } from '../params/quantity.ts'
import type { Entry } from '../parts/virtual-list.tsx'
import { VirtualList } from '../parts/virtual-list.tsx'
import type { ShelfRow } from './asset-rows.ts'
import { isFound, rowsByCategory, useColumns } from './asset-rows.ts'
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
export function Nursery({ onImport }: { readonly onImport: (chosen: ChosenModels) => void }) {
  const { assets } = useMeadow()
  const { tool } = useField()
  const [wanted, setWanted] = useState('')
  const shown = useStore(tool, (state) => state.shownAsset)
  useEffect(() => {
    if (shown === null) return
    setWanted(assets.find(({ id }) => id === shown)?.name ?? '')
    tool.setState({ shownAsset: null })
  }, [shown, assets, tool])
  const [shelf, columns] = useColumns<HTMLDivElement>(98)
  const rows = useMemo(() => rowsByCategory(assets.filter((asset) => isFound(asset, wanted)), columns), [assets, wanted, columns])
  const keys = useMemo(() => rows.map(({ key }) => key), [rows])
  const byKey = useMemo(() => new Map(rows.map((row) => [row.key, row])), [rows])
  const drawRow = useCallback((key: string, _place: number, entry: Entry) => <ShelfRowOf row={byKey.get(key)} columns={columns} entry={entry} />, [byKey, columns])

  return (
    <>
      <div className="drawer-head">
        <h2>Nursery</h2>
        <IconAction label="Bring in models, one or many (GLB, glTF, OBJ, PLY, STL)" onClick={() => void chooseModels(MODEL_ENDINGS, BESIDE_ENDINGS).then((chosen) => chosen && onImport(chosen))}>
          <Plus />
        </IconAction>
      </div>
      <input className="search" type="search" placeholder="Name, category or tag" aria-label="Search the nursery" value={wanted} onChange={(event) => setWanted(event.target.value)} />
      {rows.length === 0 && <p className="faded empty">{assets.length === 0 ? 'The shelf is empty. Bring in models, or drop them on the picture.' : 'Nothing by that name.'}</p>}
      <div ref={shelf}>
        <VirtualList className="shelf" label="Assets" keys={keys} estimate={186}>
          {drawRow}
        </VirtualList>
      </div>
    </>
  )
}

interface ShelfRowProps {
  readonly row: ShelfRow | undefined
  readonly columns: number
  readonly entry: Entry
}

function ShelfRowOf({ row, columns, entry: { ref, style, 'data-index': place } }: ShelfRowProps) {
  const { session, landscape, setOpen, tool } = useField()
  if (!row) return null
  function remove(asset: Asset) {
    const user = userOf(session, asset)
    if (user) notify('warning', `“${asset.name}” grows or was placed in “${user}”, or is a part of it; take it out there, and swap what was placed, first.`, { label: 'Choose all of it', run: () => tool.setState({ active: 'choose', chosen: chooseWhere(session.instances, session.meadow(), ({ block, row: at }) => block.asset[at] === asset.number) }) })
    else tellRemoved(session, asset.name, removeAsset(session, asset))
  }
  const change = (asset: Asset) =>
    attempt('Reading the model', async () => {
      const bytes = await session.blob(asset.blob)
      tool.setState({ incoming: { as: 'model', file: new File([bytes], `${asset.name}.glb`), instead: asset, settled: true } })
    })
  return (
    <li ref={ref} style={style} data-index={place}>
      {'heading' in row ? (
        <h3 className="category">{row.heading}</h3>
      ) : (
        <div className="shelf-row" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}>
          {row.assets.map((asset) => (
            <ShelfAsset key={asset.id} asset={asset} onSpread={() => setOpen(addPlanting(session, asset.id))} onRemove={() => remove(asset)} onChange={() => void change(asset)} onOpen={() => openAt(session, tool, asset, landscape?.view().target ?? [0, 0, 0])} />
          ))}
        </div>
      )}
    </li>
  )
}

interface ShelfAssetProps {
  readonly asset: Asset
  readonly onSpread: () => void
  readonly onRemove: () => void
  /** Changes the model, and all of it that stands. */
  readonly onChange: () => void
  /** Opens a posy in the picture. */
  readonly onOpen: () => void
}

function ShelfAsset({ asset, onSpread, onRemove, onChange, onOpen }: ShelfAssetProps) {
  return (
    <div className="shelf-asset" title={`${asset.tags.join(', ')}${asset.licence ? ` · ${asset.licence}` : ''}`}>
      <AssetThumb asset={asset} size={84} />
      <span className="asset-name">{asset.name}</span>
      <span className="asset-facts" title={sizeWords(asset.size)}>
        {showQuantity(Number(asset.size[1].toPrecision(2)), 'm')} tall
      </span>
      <span className="asset-facts">{asset.parts.length > 0 ? (asset.parts.length === 1 ? '1 part' : `${asset.parts.length} parts`) : `${asset.triangles[0]?.toLocaleString('en')} triangles`}</span>
      <span className="asset-actions">
        <button type="button" className="text-action" aria-label={`Spread ${asset.name}`} title="A new planting of it, spread over the ground" onClick={onSpread}>
          Spread
        </button>
        {asset.parts.length === 0 && (
          <IconAction label={`Change ${asset.name}: its model, axis, unit, pivot, tint and name`} onClick={onChange}>
            <PenLine />
          </IconAction>
        )}
        {asset.parts.length > 0 && (
          <IconAction label={`Open ${asset.name} and change its parts`} onClick={onOpen}>
            <PackageOpen />
          </IconAction>
        )}
        <IconAction label={`Remove ${asset.name}`} onClick={onRemove}>
          <Trash2 />
        </IconAction>
      </span>
    </div>
  )
}
