import { Progress } from '@chakra-ui/react'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { ParamValue } from '../../core/kinds.ts'
import { defaultsOf } from '../../core/kinds.ts'
import { groundOfTile } from '../../core/grow.ts'
import { CancelledError } from '../../runner/pool.ts'
import type { Tile } from '../../growth/tile-order.ts'
import { namedInTileOrder } from '../../growth/tile-order.ts'
import { FILE_PATIENCE, HANDOFF } from '../../runner/io-refs.ts'
import { countOf, modelsOf } from '../../formats/handoff.ts'
import { HANDOFF_FORMS } from '../../formats/handoff-forms.ts'
import { enginePool } from '../../state/engine-pool.ts'
import { attempt } from '../../state/notices.ts'
import { Action } from '../parts/actions.tsx'
import { fileName, saveFile, sizeText } from '../parts/files.ts'
import { ParamField } from '../params/param-field.tsx'
import { useField, useFieldState, useMeadow } from '../field/field-context.ts'

const MOST_INSTANCES = 1_000_000

interface Made {
  readonly name: string
  readonly blob: Blob
  readonly seconds: number
}

/** What goes out, in which form, how large, and the files. */
export function Handoff({ onClose }: { readonly onClose: () => void }) {
  const { session } = useField()
  const meadow = useMeadow()
  const states = useFieldState((state) => state.plantings)
  const growing = useFieldState((state) => state.growing)
  const terrain = useFieldState((state) => state.terrain)
  const [form, setForm] = useState('glb-instanced')
  const [chosen, setChosen] = useState<ReadonlySet<string>>(() => new Set(meadow.plantings.filter((p) => p.visible).map((p) => p.id)))
  const [values, setValues] = useState<Record<string, Record<string, ParamValue>>>({})
  const [progress, setProgress] = useState<{ share: number; note: string } | null>(null)
  const [made, setMade] = useState<readonly Made[]>([])
  const running = useRef<AbortController | null>(null)

  const kind = HANDOFF_FORMS.get(form)
  const own = useMemo(() => ({ ...(defaultsOf(kind.params) as Record<string, ParamValue>), ...values[form] }), [kind, values, form])
  const going = meadow.plantings.filter((planting) => chosen.has(planting.id))
  const plantings = going.map(({ id }) => {
    const tiles = namedInTileOrder(session.instances.tiles.get(id) ?? new Map<string, Tile>())
    return { id, blocks: tiles.map(([, { block }]) => block), grounds: tiles.map(([name]) => groundOfTile(name)) }
  })
  const count = countOf({ meadow, plantings })
  const used = modelsOf({ meadow, plantings })
  const failed = going.filter((planting) => states[planting.id]?.phase === 'failed')
  const tooMany = count > MOST_INSTANCES
  const assetBytes = useBytes(used.map(({ blob }) => blob))
  const meshBytes = useBytes(meadow.meshes.filter(({ visible }) => visible).map(({ blob }) => blob))
  const bytes = assetBytes === null || meshBytes === null ? null : kind.estimate({ meadow, plantings, assetBytes, meshBytes }, own)

  async function write() {
    const stop = new AbortController()
    running.current = stop
    setProgress({ share: 0, note: 'Starting' })
    const started = performance.now()
    await attempt('Handing off', async () => {
      const assets: [string, Uint8Array<ArrayBuffer>][] = []
      for (const asset of used) assets.push([asset.id, await session.blob(asset.blob)])
      for (const mesh of meadow.meshes) if (mesh.visible) assets.push([mesh.id, await session.blob(mesh.blob)])
      const goingOut = plantings.map(({ id, blocks, grounds }) => ({ id, grounds, blocks: blocks.map(({ count: rows, buffer }) => ({ count: rows, buffer })) }))
      try {
        const pieces = await enginePool().run(
          HANDOFF,
          { form, values: own, meadow, plantings: goingOut, assets, heights: terrain.stored as Float32Array<ArrayBuffer> },
          { signal: stop.signal, urgent: true, silence: FILE_PATIENCE, onProgress: (share, note) => setProgress({ share, note }) },
        )
        const blob = new Blob([...pieces], { type: kind.mime })
        const name = fileName(meadow.name + (form === 'glb-nodes' ? ' nodes' : ''), kind.extension)
        setMade((before) => [{ name, blob, seconds: (performance.now() - started) / 1000 }, ...before])
        saveFile(blob, name)
      } catch (error) {
        if (!(error instanceof CancelledError)) throw error
      }
    })
    setProgress(null)
  }

  return (
    <section className="handoff" aria-label="Handoff">
      <div className="drawer-head">
        <h2>Handoff</h2>
        <Action onClick={onClose}>Back to the field</Action>
      </div>
      <div className="handoff-columns">
        <div>
          <h3>What goes out</h3>
          <GoingOut chosen={chosen} onChange={setChosen} />
          {meadow.plantings.length === 0 && <p className="faded">There is no planting yet; only the ground can go out.</p>}
        </div>
        <div>
          <h3>In which form</h3>
          <Forms form={form} onChange={setForm} />
          {Object.entries(kind.params).map(([key, param]) => (
            <ParamField key={key} param={param} value={own[key]} onChange={(value) => setValues({ ...values, [form]: { ...own, [key]: value } })} />
          ))}
        </div>
        <div>
          <h3>Before it goes</h3>
          <ul className="checks">
            <li className={tooMany ? 'bad' : 'good'}>
              {count.toLocaleString('en')} instances{tooMany ? `; at most ${MOST_INSTANCES.toLocaleString('en')} can go into one file, so leave some plantings out` : ''}
            </li>
            <li className="good">
              {used.length} assets in full form, {used.reduce((sum, asset) => sum + (asset.triangles[0] ?? 0), 0).toLocaleString('en')} triangles
            </li>
            <li className="good">{bytes === null ? 'adding up its size' : `about ${sizeText(bytes)}`}</li>
            {growing && <li className="bad">still growing; wait a moment</li>}
            {failed.map((planting) => (
              <li key={planting.id} className="bad">
                “{planting.name}” did not grow
              </li>
            ))}
            {meadow.ground.source && <li className="good">ground: {meadow.ground.source}</li>}
          </ul>
          {progress ? (
            <div className="going-out">
              <Progress.Root value={100 * progress.share} max={100}>
                <Progress.Label>{progress.note}</Progress.Label>
                <Progress.Track>
                  <Progress.Range />
                </Progress.Track>
              </Progress.Root>
              <Action onClick={() => running.current?.abort()}>Stop</Action>
            </div>
          ) : (
            <Action main disabled={growing || tooMany} onClick={() => void write()}>
              Hand off {kind.label}
            </Action>
          )}
          <FilesMade made={made} />
        </div>
      </div>
    </section>
  )
}

interface GoingOutProps {
  readonly chosen: ReadonlySet<string>
  readonly onChange: (chosen: ReadonlySet<string>) => void
}

/** Which plantings go out, with their counts. */
function GoingOut({ chosen, onChange }: GoingOutProps) {
  const meadow = useMeadow()
  const states = useFieldState((state) => state.plantings)
  return (
    <ul className="going">
      {meadow.plantings.map((planting) => (
        <li key={planting.id}>
          <label className="row">
            <input
              type="checkbox"
              checked={chosen.has(planting.id)}
              onChange={(event) => {
                const next = new Set(chosen)
                if (event.target.checked) next.add(planting.id)
                else next.delete(planting.id)
                onChange(next)
              }}
            />
            <span className="grow">{planting.name}</span>
            <span className="tabular">{(states[planting.id]?.count ?? 0).toLocaleString('en')}</span>
          </label>
        </li>
      ))}
    </ul>
  )
}

/** The forms to choose from. */
function Forms({ form, onChange }: { readonly form: string; readonly onChange: (form: string) => void }) {
  return (
    <div role="radiogroup" aria-label="Form">
      {HANDOFF_FORMS.all.map((one) => (
        <label key={one.kind} className={one.kind === form ? 'form chosen' : 'form'}>
          <input type="radio" name="form" checked={one.kind === form} onChange={() => onChange(one.kind)} />
          <span>
            <strong>{one.label}</strong>
            <span className="faded">{one.help}</span>
          </span>
        </label>
      ))}
    </div>
  )
}

/** The files that were made, to be saved again. */
function FilesMade({ made }: { readonly made: readonly Made[] }) {
  return (
    <ul className="files" aria-label="Files made">
      {made.map((file, i) => (
        <li key={i} className="row">
          <button type="button" className="text-action" onClick={() => saveFile(file.blob, file.name)}>
            {file.name}
          </button>
          <span className="faded">
            {sizeText(file.blob.size)}, {file.seconds.toFixed(1)} s
          </span>
        </li>
      ))}
    </ul>
  )
}

/** Bytes of blobs together; null while they are looked up. */
function useBytes(hashes: readonly string[]): number | null {
  const { session } = useField()
  const [sum, setSum] = useState<{ readonly of: string; readonly bytes: number } | null>(null)
  const of = [...new Set(hashes)].join()
  useEffect(() => {
    let here = true
    void Promise.all(of === '' ? [] : of.split(',').map((hash) => session.blob(hash).then(({ length }) => length, () => 0))).then(
      (lengths) => here && setSum({ of, bytes: lengths.reduce((all, one) => all + one, 0) }),
    )
    return () => {
      here = false
    }
  }, [of, session])
  return sum?.of === of ? sum.bytes : null
}
