import { useMemo, useState } from 'react'
import type { Asset, PlacedMesh } from '../../core/meadow.ts'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { MODEL_ENDINGS, BESIDE_ENDINGS } from '../../formats/endings.ts'
import { showQuantity } from '../params/quantity.ts'
import { Action, afterMenu } from '../parts/actions.tsx'
import { chooseModels } from '../parts/files.ts'
import { Sheet } from '../parts/sheet.tsx'
import { VirtualList } from '../parts/virtual-list.tsx'
import { isFound, rowsOf, useColumns } from './asset-rows.ts'
import { AssetThumb } from './asset-thumb.tsx'
import { useField, useMeadow } from './field-context.ts'
import { setToolValue } from '../../tools/define.ts'
import { firstStrewing } from '../../document/edits/along.ts'
import { addPlanting, firstSpacing, spacingAtFirst } from '../../document/edits/plantings.ts'

type ByHand = 'sow' | 'place' | 'strew'

/** What a planting that begins with a tool is. */
const KIND_BY_HAND: Readonly<Record<ByHand, string>> = { sow: 'sown', place: 'sown', strew: 'strewn' }

/** Even spreads hold about so many instances to a squared spacing. */
const PER_SPACING2 = 0.66

/** Asks what a new planting is of, and how it is laid out. */
export function PlantingChooser({ onClose }: { readonly onClose: () => void }) {
  const { session, setOpen, tool } = useField()
  const { assets, meshes, ground } = useMeadow()
  const meshGrounds = meshes.filter(({ role }) => role === 'ground')
  const [wanted, setWanted] = useState('')
  const [asset, setAsset] = useState<Asset | null>(null)
  const [on, setOn] = useState<PlacedMesh | null>(null)
  const [byHand, setByHand] = useState<ByHand | null>(null)
  const [shelf, columns] = useColumns<HTMLDivElement>(98)
  const rows = useMemo(() => rowsOf(assets.filter((one) => isFound(one, wanted)), columns), [assets, wanted, columns])
  const byKey = useMemo(() => new Map(rows.map((row) => [row.key, row])), [rows])

  const grow = (chosen: Asset | null) => {
    if (!chosen) return
    setOpen(addPlanting(session, chosen.id, grounds(on, byHand !== null && byHand !== 'strew'), byHand ? KIND_BY_HAND[byHand] : 'spread'))
    onClose()
    // What is done by hand begins with its tool.
    if (byHand === 'place') setToolValue(tool, 'place', 'asset', chosen.id)
    // Once the sheet has given the focus back, which is the picture's then.
    if (byHand) afterMenu(() => tool.setState({ active: byHand }))
  }
  const choose = (mesh: PlacedMesh | null, how: ByHand | null) => {
    setOn(mesh)
    setByHand(how)
  }
  /** What is sown by hand can be sown on the terrain and on all meshes that are grounds. */
  const grounds = (mesh: PlacedMesh | null, all: boolean) => (mesh ? [mesh.id] : all ? [TERRAIN_ID, ...meshGrounds.map(({ id }) => id)] : undefined)
  const bring = async () => {
    const chosen = await chooseModels(MODEL_ENDINGS, BESIDE_ENDINGS)
    if (!chosen) return
    onClose()
    tool.setState({ incoming: { as: 'model', ...chosen } })
  }
  return (
    <Sheet
      title="A new planting"
      wide
      onClose={onClose}
      foot={
        <>
          <Action onClick={onClose}>Cancel</Action>
          <Action main disabled={!asset} onClick={() => grow(asset)}>
            Let it grow
          </Action>
        </>
      }
    >
      <div className="chooser">
        <section aria-label="What">
          <div className="row">
            <h3>What</h3>
            <input className="search grow" type="search" placeholder="Name, category or tag" aria-label="Search the nursery" value={wanted} onChange={(event) => setWanted(event.target.value)} />
          </div>
          {assets.length === 0 && (
            <p className="faded">
              The nursery is empty.{' '}
              <button type="button" className="text-action" onClick={() => void bring()}>
                Bring in models
              </button>
            </p>
          )}
          <div className="chooser-shelf" role="radiogroup" aria-label="Assets of the nursery" ref={shelf}>
            <VirtualList role="none" keys={rows.map(({ key }) => key)} estimate={118}>
              {(key, _place, { ref, style, 'data-index': index }) => (
                <li role="none" ref={ref} style={style} data-index={index}>
                  <div className="shelf-row" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}>
                    {byKey.get(key)?.assets.map((one) => (
                      <button key={one.id} type="button" role="radio" aria-checked={asset?.id === one.id} className="chooser-asset" onClick={() => setAsset(one)} onDoubleClick={() => grow(one)}>
                        <AssetThumb asset={one} size={72} />
                        <span className="asset-name">{one.name}</span>
                        <span className="asset-facts">{showQuantity(Number(one.size[1].toPrecision(2)), 'm')} tall</span>
                      </button>
                    ))}
                  </div>
                </li>
              )}
            </VirtualList>
          </div>
        </section>
        <section aria-label="How">
          <h3>How</h3>
          <div role="radiogroup" aria-label="How it is laid out" className="chooser-ways">
            <Way chosen={on === null && !byHand} onChoose={() => choose(null, null)} label="Spread over the ground" help="By rule, wherever its conditions let it.">
              <path d="M2 34 C16 26 26 36 46 28 V42 H2Z" className="w-near" />
              {[[7, 31], [13, 29], [18, 31], [25, 32], [31, 31], [38, 28], [43, 29], [22, 36], [34, 36], [11, 37]].map(([x, y]) => (
                <path key={`${x} ${y}`} d={`M${x} ${y}q-2 -5 -3 -7M${x} ${y}q0 -6 1 -9M${x} ${y}q2 -4 3 -6`} className="w-grass" />
              ))}
            </Way>
            <HandWays byHand={byHand} onMeshes={meshGrounds.length > 0} onChoose={(how) => choose(null, how)} />
            {meshGrounds.map((mesh) => (
              <Way key={mesh.id} chosen={on?.id === mesh.id} onChoose={() => choose(mesh, null)} label={`Spread over ${mesh.name}`} help="On the faces of this mesh.">
                <path d="M8 40 L14 16 L30 10 L42 24 L40 40Z" className="w-far" />
                {[[14, 20], [22, 13], [31, 13], [38, 22], [12, 31], [25, 24], [33, 32]].map(([x, y]) => (
                  <path key={`${x} ${y}`} d={`M${x} ${y}q-2 -4 -3 -6M${x} ${y}q1 -5 2 -7`} className="w-grass" />
                ))}
              </Way>
            ))}
          </div>
          {asset && byHand === 'place' && (
            <p className="chooser-sentence" role="status">
              <em>{asset.name}</em>, one by one where you click, just as it is shown. More of it can be sown by brush.
            </p>
          )}
          {asset && byHand === 'strew' && (
            <p className="chooser-sentence" role="status">
              <em>{asset.name}</em>, one every <strong>{showQuantity(Number(firstStrewing(asset.room).every), 'm')}</strong> of the lines that are drawn, up to <strong>{showQuantity(Number(firstStrewing(asset.room).toSides), 'm')}</strong> to the sides.
            </p>
          )}
          {asset && byHand !== 'place' && byHand !== 'strew' && (
            <p className="chooser-sentence" role="status">
              <em>{asset.name}</em>, about every <strong>{showQuantity(spacingAtFirst(byHand === 'sow' ? 'sown' : 'spread', asset, ground), 'm')}</strong>
              {byHand === 'sow' ? ' where it is painted' : on ? ` on ${on.name}` : `: at most ${howMany(asset, ground)} on ${showQuantity(Number(ground.sizeX.toPrecision(4)), 'm')} × ${showQuantity(Number(ground.sizeZ.toPrecision(4)), 'm')}`}.{' '}
              {byHand === null && isWide(asset, ground) ? 'That is wide apart, as the ground is large: set them closer where you say where they grow.' : 'All of it can be changed while it grows.'}
            </p>
          )}
        </section>
      </div>
    </Sheet>
  )
}

/** Whether the first spacing is much wider than the asset would have by itself. */
function isWide(asset: Asset, ground: { readonly sizeX: number; readonly sizeZ: number }): boolean {
  return firstSpacing(asset, ground) > 3 * firstSpacing(asset, { sizeX: 1, sizeZ: 1 })
}

function howMany(asset: Asset, ground: { readonly sizeX: number; readonly sizeZ: number }): string {
  const spacing = firstSpacing(asset, ground)
  return Number(((PER_SPACING2 * ground.sizeX * ground.sizeZ) / spacing ** 2).toPrecision(2)).toLocaleString('en')
}

interface HandWaysProps {
  readonly byHand: ByHand | null
  /** Whether there are meshes to sow on. */
  readonly onMeshes: boolean
  readonly onChoose: (how: ByHand) => void
}

/** What is done by hand. */
function HandWays({ byHand, onMeshes, onChoose }: HandWaysProps) {
  return (
    <>
    <Way chosen={byHand === 'sow'} onChoose={() => onChoose('sow')} label="Sown by hand" help={onMeshes ? 'Painted with a brush, on the ground and on meshes.' : 'Painted with a brush.'}>
      <path d="M2 34 C16 26 26 36 46 28 V42 H2Z" className="w-near" />
      <path d="M5 33 C14 24 24 40 42 27" className="w-stroke" />
      {[[9, 30], [14, 29], [19, 32], [24, 34], [29, 34], [35, 31], [40, 28]].map(([x, y]) => (
        <path key={`${x} ${y}`} d={`M${x} ${y}q-2 -5 -3 -7M${x} ${y}q0 -6 1 -9M${x} ${y}q2 -4 3 -6`} className="w-grass" />
      ))}
    </Way>
    <Way chosen={byHand === 'strew'} onChoose={() => onChoose('strew')} label="Strewn along a line" help="Along lines drawn on the ground.">
      <path d="M2 34 C16 26 26 36 46 28 V42 H2Z" className="w-near" />
      <path d="M4 37 C14 28 26 40 44 31" className="w-line" />
      {[[7, 33], [11, 36], [15, 31], [20, 35], [24, 37], [27, 32], [32, 37], [36, 33], [40, 35]].map(([x, y]) => (
        <path key={`${x} ${y}`} d={`M${x - 2} ${y}q2 -4 4 0Z`} className="w-shell" />
      ))}
    </Way>
    <Way chosen={byHand === 'place'} onChoose={() => onChoose('place')} label="One by one" help="Placed where you click, as it is shown.">
      <path d="M2 34 C16 26 26 36 46 28 V42 H2Z" className="w-near" />
      <path d="M23 32q-5 -12 -8 -17M23 32q0 -14 2 -22M23 32q5 -10 9 -14" className="w-grass" />
      <path d="M12 8 H36 V35 H12Z" className="w-box" />
    </Way>
    </>
  )
}

interface WayProps {
  readonly chosen: boolean
  readonly onChoose: () => void
  readonly label: string
  readonly help: string
  readonly children: React.ReactNode
}

/** One way of laying out, with a small drawing. */
function Way({ chosen, onChoose, label, help, children }: WayProps) {
  return (
    <button type="button" role="radio" aria-checked={chosen} className="chooser-way" onClick={onChoose}>
      <svg viewBox="0 0 48 44" width="60" height="55" aria-hidden="true">
        {children}
      </svg>
      <span>
        <strong>{label}</strong>
        <span className="faded">{help}</span>
      </span>
    </button>
  )
}
