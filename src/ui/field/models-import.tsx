import { yupResolver } from '@hookform/resolvers/yup'
import { useEffect, useRef, useState } from 'react'
import { useForm, useWatch } from 'react-hook-form'
import { addAssets } from '../../document/edits/assets.ts'
import { tellProblem } from '../../document/log.ts'
import type { Repair } from '../../formats/repair.ts'
import { NO_REPAIR } from '../../formats/repair.ts'
import type { ReadAssetOutput } from '../../runner/io-refs.ts'
import { READ_ASSET } from '../../runner/io-refs.ts'
import { CancelledError } from '../../runner/pool.ts'
import { readFileAlone } from '../../runner/read-file.ts'
import { enginePool } from '../../state/engine-pool.ts'
import { attempt, notify } from '../../state/notices.ts'
import { TextRow } from '../forms/form-rows.tsx'
import type { ModelsForm } from '../forms/schemas.ts'
import { modelsForm, tagsOf } from '../forms/schemas.ts'
import { Action } from '../parts/actions.tsx'
import { Sheet } from '../parts/sheet.tsx'
import { SwitchRow } from '../parts/switch-row.tsx'
import { useField } from './field-context.ts'
import { assetOf, besideOf, BROUGHT_IN, nameOfFile } from './model-taking.ts'
import { sizeWords } from './nursery.tsx'
import { RepairFields } from './repair-fields.tsx'
import { useThumbnail } from './use-thumbnail.ts'

interface ModelsImportProps {
  readonly files: readonly File[]
  /** Materials and textures chosen with them. */
  readonly beside: readonly File[]
  readonly onClose: () => void
}

/** What is known of one of the files. */
interface Row {
  readonly read: ReadAssetOutput | null
  readonly problem: string | null
  /** The repair that `read` or `problem` is of, as text; null as long as it has not been read. */
  readonly of: string | null
}

const UNREAD: Row = { read: null, problem: null, of: null }

/** Many models at once: all put right alike, or each for itself, then put on the shelf in one step. */
export function ModelsImport({ files, beside, onClose }: ModelsImportProps) {
  const { session } = useField()
  const [apart, setApart] = useState<ReadonlyMap<number, Repair>>(new Map())
  const [open, setOpen] = useState<number | null>(null)
  const [taking, setTaking] = useState(false)
  const { control, handleSubmit, setValue } = useForm<ModelsForm>({
    resolver: yupResolver(modelsForm),
    defaultValues: { names: files.map(({ name }) => ({ name: nameOfFile(name) })), category: BROUGHT_IN, tags: '', licence: '', alike: null },
    mode: 'onChange',
  })
  const alike = useWatch({ control, name: 'alike' })
  const rows = useReadings(files, beside, (i) => apart.get(i) ?? alike)
  const ready = rows.filter(({ read, problem }) => read && !problem).length
  const failed = rows.filter(({ problem }) => problem).length
  const busy = taking || rows.some(({ of }, i) => of !== JSON.stringify(apart.get(i) ?? alike))

  async function accept({ names, category, tags, licence }: ModelsForm) {
    setTaking(true)
    await attempt('Taking the models in', async () => {
      const assets = []
      for (const [i, { read, problem }] of rows.entries()) if (read && !problem) assets.push(await assetOf(session, read, { name: names[i].name, category, tags: tagsOf(tags), licence }))
      // What was refused is told; the sheet stays.
      if (!addAssets(session, assets)) return
      notify('word', `${assets.length} ${assets.length === 1 ? 'model is' : 'models are'} on the shelf.${failed > 0 ? ` ${failed} could not be read and ${failed === 1 ? 'was' : 'were'} left out.` : ''}`)
      onClose()
    })
    setTaking(false)
  }

  return (
    <Sheet
      title={`Bring in ${files.length} models`}
      wide
      onClose={onClose}
      onSubmit={() => ready > 0 && !busy && void handleSubmit(accept)()}
      foot={
        <>
          <Action onClick={onClose}>Cancel</Action>
          <Action main type="submit" disabled={ready === 0 || busy}>
            {ready === 0 || ready === files.length ? 'Put all on the shelf' : `Put ${ready} on the shelf`}
          </Action>
        </>
      }
    >
      <p role="status">
        {busy && !taking ? `Reading: ${ready + failed} of ${files.length}…` : `${ready} of ${files.length} can be put on the shelf.`}
        {failed > 0 && ` ${failed} cannot be read.`}
      </p>
      <div className="import models-import">
        <ul aria-label="Models">
          {rows.map((row, i) => (
            <li key={i}>
              <ModelThumb read={row.read} />
              <span className="grow">
                <TextRow control={control} name={`names.${i}.name`} label={`Name of ${files[i].name}`} bare />
                {row.problem ? (
                  <small className="alarm" role="alert">
                    {row.problem}
                  </small>
                ) : (
                  <small className="faded">{row.read ? `${sizeWords(row.read.measures.size)}, ${row.read.triangles.toLocaleString('en')} triangles` : 'waiting'}</small>
                )}
                {row.read && open === i && (
                  <RepairFields chosen={apart.get(i) ?? row.read.repair} first={row.read.repair} onChange={(repair) => setApart(new Map(apart).set(i, repair))} />
                )}
              </span>
              <button type="button" className="text-action" aria-expanded={open === i} aria-label={`${open === i ? 'Close' : 'Put right'} ${files[i].name} for itself`} disabled={!row.read} onClick={() => setOpen(open === i ? null : i)}>
                {open === i ? 'Close' : apart.has(i) ? 'Apart' : 'Put right'}
              </button>
            </li>
          ))}
        </ul>
        <div>
          <SwitchRow
            label="All alike"
            help="One unit, axis and pivot for all; else each as its file suggests"
            on={alike !== null}
            onChange={(on) => setValue('alike', on ? (rows.find(({ read }) => read)?.read?.repair ?? NO_REPAIR) : null)}
          />
          {alike ? <RepairFields chosen={alike} first={NO_REPAIR} onChange={(repair) => setValue('alike', repair)} /> : <p className="faded">Each has the unit, axis and pivot that its file suggests. What is put right for itself stays so.</p>}
          <TextRow control={control} name="category" label="Category" placeholder={BROUGHT_IN} />
          <TextRow control={control} name="tags" label="Tags, by commas" />
          <TextRow control={control} name="licence" label="Licence" />
        </div>
      </div>
    </Sheet>
  )
}

/** Reads the files one after the other, and those again whose repair is another now. Ends when the sheet is gone. */
function useReadings(files: readonly File[], beside: readonly File[], repairOf: (i: number) => Repair | null): readonly Row[] {
  const [rows, setRows] = useState<readonly Row[]>(() => files.map(() => UNREAD))
  const current = useRef(rows)
  current.current = rows
  // As text, so that the same repair made anew is no other one.
  const wanted = JSON.stringify(files.map((_, i) => JSON.stringify(repairOf(i))))
  useEffect(() => {
    const gone = new AbortController()
    const set = (i: number, row: Row) => !gone.signal.aborted && setRows((all) => all.map((one, k) => (k === i ? row : one)))
    void (async () => {
      const others = await besideOf(beside).catch(() => [])
      for (const [i, of] of (JSON.parse(wanted) as string[]).entries()) {
        if (gone.signal.aborted) return
        const file = files[i]
        if (current.current[i].of === of) continue
        try {
          const read = await readFileAlone(enginePool(), READ_ASSET, file, { repair: JSON.parse(of) as Repair | null, beside: others }, { signal: gone.signal })
          set(i, { read, problem: null, of })
        } catch (error) {
          if (error instanceof CancelledError) return
          set(i, { read: current.current[i].read, problem: tellProblem(error, `Reading “${file.name}”`), of })
        }
      }
    })()
    return () => gone.abort()
  }, [files, beside, wanted])
  return rows
}

function ModelThumb({ read }: { readonly read: ReadAssetOutput | null }) {
  const url = useThumbnail(read?.hashes.glb ?? null, () => (read ? Promise.resolve(read.picture) : Promise.reject(new Error('not read yet'))))
  return <span className="thumb">{url && <img src={url} alt="" width={52} height={52} />}</span>
}
