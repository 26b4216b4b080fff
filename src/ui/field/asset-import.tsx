import { useCallback, useEffect, useState } from 'react'
import { heightAt } from '../../core/grounds/terrain.ts'
import type { PlacedMesh } from '../../core/meadow.ts'
import { LIMITS, shortened } from '../../core/limits.ts'
import { addAsset } from '../../document/edits/assets.ts'
import { addMesh } from '../../document/edits/meshes.ts'
import { newId } from '../../document/new-planting.ts'
import type { ReadAssetOutput } from '../../runner/io-refs.ts'
import { READ_ASSET } from '../../runner/io-refs.ts'
import { readFileAlone } from '../../runner/read-file.ts'
import type { Repair } from '../../formats/repair.ts'
import { thumbnail } from '../../scene/thumbnails.ts'
import { enginePool } from '../../state/engine-pool.ts'
import { attempt } from '../../state/notices.ts'
import { Action } from '../parts/actions.tsx'
import type { Read } from '../parts/reading.tsx'
import { ReadingHead, useReading } from '../parts/reading.tsx'
import { Sheet } from '../parts/sheet.tsx'
import { NumberField } from '../params/number-field.tsx'
import { useField } from './field-context.ts'
import { ROLES } from '../../document/edits/meshes.ts'
import { sizeWords } from './nursery.tsx'
import { addPlanting } from '../../document/edits/plantings.ts'

const UNITS = [
  { label: 'metres', scale: 1 },
  { label: 'centimetres', scale: 0.01 },
  { label: 'millimetres', scale: 0.001 },
  { label: 'inches', scale: 0.0254 },
  { label: 'feet', scale: 0.3048 },
] as const

interface AssetImportProps {
  readonly file: File
  /** Materials and textures chosen with it. */
  readonly beside: readonly File[]
  /** Whether it was asked for as a mesh that stands in the meadow. */
  readonly asMesh: boolean
  readonly onClose: () => void
}

/** Shows a model as it will stand, lets its axis, unit and pivot be put right, then takes it in. */
export function AssetImport({ file, beside, asMesh, onClose }: AssetImportProps) {
  const [role, setRole] = useState<PlacedMesh['role']>('ground')
  const [repair, setRepair] = useState<Repair | null>(null)
  const [taking, setTaking] = useState(false)
  const [details, setDetails] = useState({ name: file.name.replace(/\.[^.]+$/, ''), category: 'Brought in', tags: '', licence: '' })
  const reading = useReading(
    file.name,
    useCallback<Read<ReadAssetOutput>>(async (options) => readFileAlone(enginePool(), READ_ASSET, file, { repair, beside: await besideOf(beside) }, options), [file, beside, repair]),
  )
  const read = reading.output
  // After a repair that cannot be, what was read before is not what is asked for.
  const busy = taking || reading.doing !== null || reading.problem !== null

  const chosen = repair ?? read?.repair
  const { accept, stand } = useTaking({ read, details, role, setTaking, onClose })

  return (
    <Sheet
      title={asMesh ? 'Bring in a mesh' : 'Bring in a model'}
      wide
      onClose={onClose}
      foot={
        <>
          <Action onClick={onClose}>Leave it</Action>
          {!asMesh && (
            <>
              <Action disabled={!read || busy} onClick={() => void accept(false)}>
                Put on the shelf
              </Action>
              <Action main disabled={!read || busy} onClick={() => void accept(true)}>
                Put on the shelf and spread it
              </Action>
            </>
          )}
          {asMesh && (
            <Action main disabled={!read || busy} onClick={() => void stand()}>
              Stand it in the meadow
            </Action>
          )}
        </>
      }
    >
      <ReadingHead fileName={file.name} reading={reading} kept="Nothing was changed." />
      {read && chosen && (
        <div className="import">
          <ModelPreview read={read} />
          <div>
            <p>
              <em>{sizeWords(read.measures.size)}</em>, {read.triangles.toLocaleString('en')} triangles; lighter forms of{' '}
              {read.standIns.map((form) => form.triangles.toLocaleString('en')).join(' and ')}.
            </p>
            {(asMesh ? [...read.notes, ...read.shapeNotes] : read.notes).map((note) => (
              <p key={note} className="faded">
                {note}
              </p>
            ))}
            <RepairFields chosen={chosen} first={read.repair} onChange={setRepair} />
            {asMesh && (
              <div className="param">
                <label className="param-label" htmlFor="model-role">
                  It is
                </label>
                <select id="model-role" value={role} onChange={(event) => setRole(event.target.value as PlacedMesh['role'])}>
                  {ROLES.map(({ value, label, help }) => (
                    <option key={value} value={value}>
                      {label}: {help.charAt(0).toLowerCase() + help.slice(1)}
                    </option>
                  ))}
                </select>
              </div>
            )}
            {(asMesh ? (['name'] as const) : (['name', 'category', 'tags', 'licence'] as const)).map((key) => (
              <div className="param" key={key}>
                <label className="param-label" htmlFor={`model-${key}`}>
                  {{ name: 'Name', category: 'Category', tags: 'Tags, by commas', licence: 'Licence' }[key]}
                </label>
                <input id={`model-${key}`} value={details[key]} maxLength={120} onChange={(event) => setDetails({ ...details, [key]: event.target.value })} />
              </div>
            ))}
          </div>
        </div>
      )}
    </Sheet>
  )
}

async function besideOf(files: readonly File[]) {
  return Promise.all(files.map(async (one) => ({ name: one.name, bytes: new Uint8Array(await one.arrayBuffer()) })))
}

interface Details {
  readonly name: string
  readonly category: string
  readonly tags: string
  readonly licence: string
}

interface Taking {
  readonly read: ReadAssetOutput | null
  readonly details: Details
  readonly role: PlacedMesh['role']
  readonly setTaking: (taking: boolean) => void
  readonly onClose: () => void
}

/** What can be done with a model that was read: put it on the shelf, or stand it in the meadow. What was refused is told, and the sheet stays. */
function useTaking({ read, details, role, setTaking, onClose }: Taking) {
  const { session, setOpen, landscape, tool } = useField()

  async function accept(spread: boolean) {
    if (!read) return
    setTaking(true)
    await attempt('Taking the model in', async () => {
      const { glb: blob, standIns } = read.hashes
      await session.putBlob(blob, read.glb)
      for (const [k, form] of read.standIns.entries()) await session.putBlob(standIns[k], form.glb)
      const id = newId()
      const taken = addAsset(session, {
        id,
        name: shortened(details.name, LIMITS.name) || 'Unnamed asset',
        category: shortened(details.category, LIMITS.word) || 'Brought in',
        tags: details.tags.split(',').map((tag) => shortened(tag, LIMITS.word)).filter(Boolean).slice(0, LIMITS.tags),
        licence: details.licence.trim(),
        blob,
        standIns: [...standIns],
        size: [...read.measures.size],
        base: [...read.measures.base],
        room: read.measures.room,
        triangles: [read.triangles, ...read.standIns.map((form) => form.triangles)],
      })
      // What was refused is told; the sheet stays.
      if (!taken) return
      if (spread) setOpen(addPlanting(session, id))
      onClose()
    })
    setTaking(false)
  }

  async function stand() {
    if (!read) return
    setTaking(true)
    await attempt('Standing the mesh in the meadow', async () => {
      const { glb: blob, shape } = read.hashes
      await session.putBlob(blob, read.glb)
      await session.putBlob(shape, read.shape)
      const id = newId()
      const [x, , z] = landscape?.view().target ?? [0, 0, 0]
      const round = (value: number) => Math.round(value * 100) / 100
      const y = round(heightAt(session.store.getState().terrain, x, z))
      const taken = addMesh(session, {
        id,
        name: shortened(details.name, LIMITS.name) || 'Unnamed mesh',
        role,
        blob,
        shape,
        triangles: read.shapeTriangles,
        visible: true,
        locked: false,
        position: [round(x), y, round(z)],
        turn: [0, 0, 0],
        size: 1,
      })
      // What was refused is told; the sheet stays.
      if (!taken) return
      onClose()
      tool.setState({ mesh: id })
    })
    setTaking(false)
  }

  return { accept, stand }
}

interface RepairProps {
  readonly chosen: Repair
  /** What was likely wanted. */
  readonly first: Repair
  readonly onChange: (repair: Repair) => void
}

/** Unit, scale, axis, pivot and sides of a model. */
function RepairFields({ chosen, first, onChange }: RepairProps) {
  return (
    <>
        <div className="param">
          <label className="param-label" htmlFor="model-unit">
            One unit of the file is a
          </label>
          <select
            id="model-unit"
            value={UNITS.findIndex((unit) => unit.scale === chosen.scale)}
            onChange={(event) => onChange({ ...chosen, scale: UNITS[Number(event.target.value)].scale })}
          >
            {UNITS.map((unit, i) => (
              <option key={unit.label} value={i}>
                {unit.label.replace(/s$/, '').replace('inche', 'inch').replace('feet', 'foot')}
              </option>
            ))}
            {!UNITS.some((unit) => unit.scale === chosen.scale) && <option value={-1}>own scale</option>}
          </select>
        </div>
        <div className="param">
          <span className="param-label">Scale</span>
          <NumberField label="Scale" value={chosen.scale} unit="factor" min={0.000001} max={100000} step={0.1} home={first.scale} onChange={(scale) => scale !== null && onChange({ ...chosen, scale })} />
        </div>
        <div className="param">
          <label className="param-label" htmlFor="model-up">
            Up in the file
          </label>
          <select id="model-up" value={chosen.up} onChange={(event) => onChange({ ...chosen, up: event.target.value as Repair['up'] })}>
            <option value="y">Y (glTF)</option>
            <option value="z">Z</option>
            <option value="x">X</option>
          </select>
        </div>
        <div className="param">
          <label className="param-label" htmlFor="model-pivot">
            It stands on
          </label>
          <select id="model-pivot" value={chosen.pivot} onChange={(event) => onChange({ ...chosen, pivot: event.target.value as Repair['pivot'] })}>
            <option value="base">the middle of its base</option>
            <option value="middle">its very middle</option>
            <option value="keep">the file’s own origin</option>
          </select>
        </div>
        <label className="param">
          <span className="param-label">Its faces turned round</span>
          <input type="checkbox" checked={chosen.flip} onChange={(event) => onChange({ ...chosen, flip: event.target.checked })} />
        </label>
    </>
  )
}

/** The repaired model from three sides, and beside a person of 1.75 m. */
function ModelPreview({ read }: { readonly read: ReadAssetOutput }) {
  const [urls, setUrls] = useState<string[]>([])
  useEffect(() => {
    let here = true
    void (async () => {
      const name = read.hashes.glb
      const made: string[] = []
      for (const turn of [0.6, 2.2, 3.7]) made.push(await thumbnail(name, async () => read.picture, turn))
      made.push(await thumbnail(name, async () => read.picture, 0, true))
      if (here) setUrls(made)
    })()
    return () => {
      here = false
    }
  }, [read])
  return (
    <div className="model-preview" aria-label="The model as it will stand, from three sides and beside a person of 1.75 m">
      {urls.map((url) => (
        <img key={url} src={url} alt="" />
      ))}
      <p className="faded">The last beside a person of 1.75 m.</p>
    </div>
  )
}
