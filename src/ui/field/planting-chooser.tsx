import type { ReactNode } from 'react'
import { useMemo, useState } from 'react'
import type { Asset, PlacedMesh } from '../../core/meadow.ts'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { MODEL_ENDINGS, BESIDE_ENDINGS } from '../../formats/endings.ts'
import { within } from '../../scene/view.ts'
import { showQuantity } from '../params/quantity.ts'
import { Action, afterMenu } from '../parts/actions.tsx'
import { chooseModels } from '../parts/files.ts'
import { Sheet } from '../parts/sheet.tsx'
import { VirtualList } from '../parts/virtual-list.tsx'
import { isFound, rowsOf, useColumns } from './asset-rows.ts'
import { AssetThumb } from './asset-thumb.tsx'
import { useField, useMeadow } from './field-context.ts'
import type { ByHand } from './planting-ways.tsx'
import { HandWays, Way } from './planting-ways.tsx'
import { setToolValue } from '../../tools/define.ts'
import { firstStrewing } from '../../document/edits/along.ts'
import { addPlanting, firstSpacing, spacingAtFirst } from '../../document/edits/plantings.ts'

/** What a planting that begins with a tool is, and with which. */
const BY_HAND: Readonly<Record<ByHand, { readonly kind: string; readonly tool: string | null; readonly manner?: string }>> = {
  sow: { kind: 'sown', tool: 'sow' },
  place: { kind: 'sown', tool: 'place', manner: 'one' },
  strew: { kind: 'strewn', tool: 'strew' },
  row: { kind: 'row', tool: 'place', manner: 'base' },
  ring: { kind: 'ring', tool: 'place', manner: 'base' },
  trail: { kind: 'trail', tool: 'strew' },
  bed: { kind: 'bed', tool: 'draw' },
  perch: { kind: 'perch', tool: null },
}
/** What grows on the terrain and on all meshes that are grounds. */
const EVERYWHERE: readonly (ByHand | null)[] = ['sow', 'place']

/** Even spreads hold about so many instances to a squared spacing. */
const PER_SPACING2 = 0.66

/** Asks what a new planting is of, and how it is laid out. */
export function PlantingChooser({ onClose }: { readonly onClose: () => void }) {
  const { session, setOpen, tool, landscape } = useField()
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
    const begins = byHand && BY_HAND[byHand]
    const kind = begins?.kind ?? 'spread'
    // A pattern stands where one looks, until it is stood elsewhere.
    const [x, , z] = landscape?.view().target ?? [0, 0, 0]
    const [east, south] = within(session.store.getState().terrain, x, z)
    const base = PLANTINGS.get(kind).based ? { host: TERRAIN_ID, place: [east, 0, south] as [number, number, number], turn: [0, 0, 0, 1] as [number, number, number, number], size: 1 } : null
    setOpen(addPlanting(session, chosen.id, byHand === 'perch' ? meshes.slice(0, 1).map(({ id }) => id) : grounds(on, EVERYWHERE.includes(byHand)), kind, base))
    onClose()
    if (!begins?.tool) return
    // What is done by hand begins with its tool.
    if (begins.manner) setToolValue(tool, 'place', 'manner', begins.manner)
    if (byHand === 'bed') setToolValue(tool, 'draw', 'what', 'patch')
    if (byHand === 'place') setToolValue(tool, 'place', 'asset', chosen.id)
    // Once the sheet has given the focus back, which is the picture's then.
    const { tool: taken } = begins
    afterMenu(() => tool.setState({ active: taken }))
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
      wide="most"
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
            <HandWays byHand={byHand} onMeshes={meshGrounds.length > 0} anyMesh={meshes.length > 0} onChoose={(how) => choose(null, how)} />
            {meshGrounds.map((mesh) => (
              <Way key={mesh.id} chosen={on?.id === mesh.id} onChoose={() => choose(mesh, null)} label={`Spread over ${mesh.name}`} help="On the faces of this mesh.">
                <path d="M8 40 L14 16 L30 10 L42 24 L40 40Z" className="w-far" />
                {[[14, 20], [22, 13], [31, 13], [38, 22], [12, 31], [25, 24], [33, 32]].map(([x, y]) => (
                  <path key={`${x} ${y}`} d={`M${x} ${y}q-2 -4 -3 -6M${x} ${y}q1 -5 2 -7`} className="w-grass" />
                ))}
              </Way>
            ))}
          </div>
          {asset && <Sentence asset={asset} byHand={byHand} on={on} ground={ground} />}
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

interface SentenceProps {
  readonly asset: Asset
  readonly byHand: ByHand | null
  readonly on: PlacedMesh | null
  readonly ground: { readonly sizeX: number; readonly sizeZ: number }
}

/** What is about to grow, in a sentence. */
function Sentence({ asset, byHand, on, ground }: SentenceProps) {
  return (
    <p className="chooser-sentence" role="status">
      <em>{asset.name}</em>
      {byHand ? HAND_SENTENCES[byHand](asset, ground) : <SpreadSentence asset={asset} on={on} ground={ground} />}
    </p>
  )
}

const far = (metres: number) => <strong>{showQuantity(metres, 'm')}</strong>

const HAND_SENTENCES: Readonly<Record<ByHand, (asset: Asset, ground: SentenceProps['ground']) => ReactNode>> = {
  place: () => ', one by one where you click, just as it is shown. More of it can be sown by brush.',
  sow: (asset, ground) => <>, about every {far(spacingAtFirst('sown', asset, ground))} where it is painted. All of it can be changed while it grows.</>,
  strew: ({ room }) => (
    <>
      , one every {far(Number(firstStrewing(room).every))} of the lines that are drawn, up to {far(Number(firstStrewing(room).toSides))} to the sides.
    </>
  ),
  row: (asset, ground) => (
    <>
      , <strong>9</strong> in a row, {far(spacingAtFirst('row', asset, ground))} apart: it stands where you look, and where you click next.
    </>
  ),
  ring: (asset, ground) => (
    <>
      , <strong>9</strong> in a ring, {far(spacingAtFirst('ring', asset, ground))} apart: it stands where you look, and where you click next.
    </>
  ),
  trail: (asset, ground) => <>, one every {far(spacingAtFirst('trail', asset, ground))} along the path that you draw next.</>,
  bed: (asset, ground) => <>, one every {far(spacingAtFirst('bed', asset, ground))} in rows as far apart, within the patch that you draw next, or one that is there.</>,
  perch: () => ', at the middle of each face of a mesh; corners, edges and which mesh can be chosen then.',
}

function SpreadSentence({ asset, on, ground }: Omit<SentenceProps, 'byHand'>) {
  return (
    <>
      , about every {far(spacingAtFirst('spread', asset, ground))}
      {on ? ` on ${on.name}` : `: at most ${howMany(asset, ground)} on ${showQuantity(Number(ground.sizeX.toPrecision(4)), 'm')} × ${showQuantity(Number(ground.sizeZ.toPrecision(4)), 'm')}`}.{' '}
      {isWide(asset, ground) ? 'That is wide apart, as the ground is large: set them closer where you say where they grow.' : 'All of it can be changed while it grows.'}
    </>
  )
}
