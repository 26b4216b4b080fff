import { yupResolver } from '@hookform/resolvers/yup'
import { useCallback, useEffect, useState } from 'react'
import { useForm, useWatch } from 'react-hook-form'
import type { Asset } from '../../core/meadow.ts'
import { addAssets, changeAsset } from '../../document/edits/assets.ts'
import { BESIDE_ENDINGS, MODEL_ENDINGS } from '../../formats/endings.ts'
import { addMesh } from '../../document/edits/meshes.ts'
import type { ReadAssetOutput } from '../../runner/io-refs.ts'
import { READ_ASSET } from '../../runner/io-refs.ts'
import { readFileAlone } from '../../runner/read-file.ts'
import { thumbnail } from '../../scene/thumbnails.ts'
import { enginePool } from '../../state/engine-pool.ts'
import { attempt } from '../../state/notices.ts'
import { tellTaken } from '../../state/tell-taken.ts'
import { ChoiceRow, TextRow } from '../forms/form-rows.tsx'
import type { ModelForm } from '../forms/schemas.ts'
import { modelForm, tagsOf } from '../forms/schemas.ts'
import { Action } from '../parts/actions.tsx'
import { chooseModels } from '../parts/files.ts'
import type { Read } from '../parts/reading.tsx'
import { ReadingHead, useReading } from '../parts/reading.tsx'
import { Sheet } from '../parts/sheet.tsx'
import { useField } from './field-context.ts'
import { ROLES } from '../../document/edits/meshes.ts'
import { assetOf, BROUGHT_IN, besideOf, meshOf, nameOfFile } from './model-taking.ts'
import { sizeWords } from './nursery.tsx'
import { RepairFields } from './repair-fields.tsx'
import { addPlanting } from '../../document/edits/plantings.ts'

interface AssetImportProps {
  readonly file: File
  /** Materials and textures chosen with it. */
  readonly beside: readonly File[]
  /** Whether it was asked for as a mesh that stands in the meadow. */
  readonly asMesh: boolean
  /** The asset whose model it is to be; null where it is to be one of its own. */
  readonly instead: Asset | null
  /** Whether the file is that asset's own model as it is kept. */
  readonly settled: boolean
  readonly onClose: () => void
}

/** Shows a model as it will stand, lets its axis, unit, pivot and tint be put right, then takes it in. */
export function AssetImport({ file, beside, asMesh, instead, settled, onClose }: AssetImportProps) {
  const [taking, setTaking] = useState(false)
  const { control, handleSubmit, setValue } = useForm<ModelForm>({
    resolver: yupResolver(modelForm),
    defaultValues: { ...(instead ? { name: instead.name, category: instead.category, tags: instead.tags.join(', '), licence: instead.licence } : { name: nameOfFile(file.name), category: BROUGHT_IN, tags: '', licence: '' }), role: 'ground', repair: null },
    mode: 'onChange',
  })
  const repair = useWatch({ control, name: 'repair' })
  const reading = useReading(
    file.name,
    useCallback<Read<ReadAssetOutput>>(async (options) => readFileAlone(enginePool(), READ_ASSET, file, { repair, settled, beside: await besideOf(beside) }, options), [file, beside, repair, settled]),
  )
  const read = reading.output
  // After a repair that cannot be, what was read before is not what is asked for.
  const busy = taking || reading.doing !== null || reading.problem !== null

  const chosen = repair ?? read?.repair
  const { accept, change, stand } = useTaking({ read, instead, setTaking, onClose })
  const put = (spread: boolean) => void handleSubmit((form) => accept(form, spread))()

  return (
    <Sheet
      title={asMesh ? 'Bring in a mesh' : instead ? `Change ${instead.name}` : 'Bring in a model'}
      wide
      onClose={onClose}
      onSubmit={() => {
        if (!read || busy) return
        if (asMesh) void handleSubmit(stand)()
        else if (instead) void handleSubmit(change)()
        else put(true)
      }}
      foot={
        <>
          <Action onClick={onClose}>Cancel</Action>
          {instead && <OtherFile instead={instead} disabled={taking} />}
          {instead && (
            <Action main type="submit" disabled={!read || busy}>
              Change all of it
            </Action>
          )}
          {!asMesh && !instead && (
            <>
              <Action disabled={!read || busy} onClick={() => put(false)}>
                Put on the shelf
              </Action>
              <Action main type="submit" disabled={!read || busy}>
                Put on the shelf and spread it
              </Action>
            </>
          )}
          {asMesh && (
            <Action main type="submit" disabled={!read || busy}>
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
            <RepairFields chosen={chosen} first={read.repair} onChange={(wanted) => setValue('repair', wanted)} />
            {asMesh && <ChoiceRow control={control} name="role" label="It is" options={ROLE_OPTIONS} />}
            <TextRow control={control} name="name" label="Name" />
            {!asMesh && (
              <>
                <TextRow control={control} name="category" label="Category" placeholder={BROUGHT_IN} />
                <TextRow control={control} name="tags" label="Tags, by commas" />
                <TextRow control={control} name="licence" label="Licence" />
              </>
            )}
          </div>
        </div>
      )}
    </Sheet>
  )
}

const ROLE_OPTIONS = ROLES.map(({ value, label, help }) => [value, `${label}: ${help.charAt(0).toLowerCase()}${help.slice(1)}`] as const)

interface Taking {
  readonly read: ReadAssetOutput | null
  readonly instead: Asset | null
  readonly setTaking: (taking: boolean) => void
  readonly onClose: () => void
}

/** What can be done with a model that was read: put it on the shelf, or stand it in the meadow. What was refused is told, and the sheet stays. */
function useTaking({ read, instead, setTaking, onClose }: Taking) {
  const { session, setOpen, landscape, tool } = useField()

  async function accept({ name, category, tags, licence }: ModelForm, spread: boolean) {
    if (!read) return
    setTaking(true)
    await attempt('Taking the model in', async () => {
      const asset = await assetOf(session, read, { name, category, tags: tagsOf(tags), licence })
      const taken = addAssets(session, [asset])
      // What was refused is told; the sheet stays.
      if (!taken) return
      if (spread) setOpen(addPlanting(session, asset.id))
      onClose()
    })
    setTaking(false)
  }

  async function change({ name, category, tags, licence }: ModelForm) {
    if (!read || !instead) return
    setTaking(true)
    await attempt('Taking the model in', async () => {
      const { id: _, ...asset } = await assetOf(session, read, { name, category, tags: tagsOf(tags), licence })
      if (changeAsset(session, instead.id, asset)) onClose()
    })
    setTaking(false)
  }

  async function stand({ name, role }: ModelForm) {
    if (!read) return
    setTaking(true)
    await attempt('Standing the mesh in the meadow', async () => {
      const mesh = await meshOf(session, landscape, read, name, role)
      const taken = addMesh(session, mesh)
      // What was refused is told; the sheet stays.
      if (!taken) return
      onClose()
      tellTaken(session, mesh)
      tool.setState({ mesh: mesh.id })
    })
    setTaking(false)
  }

  return { accept, change, stand }
}

/** Takes another file for the model of an asset. */
function OtherFile({ instead, disabled }: { readonly instead: Asset; readonly disabled: boolean }) {
  const { tool } = useField()
  return (
    <Action disabled={disabled} onClick={() => void chooseModels(MODEL_ENDINGS, BESIDE_ENDINGS).then((chosen) => chosen && tool.setState({ incoming: { as: 'model', file: chosen.file, beside: chosen.beside, instead } }))}>
      Take another file…
    </Action>
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
      for (const turn of [0.6, 2.2, 3.7]) made.push(await thumbnail(name, async () => read.picture, turn).url)
      made.push(await thumbnail(name, async () => read.picture, 0, true).url)
      if (here) setUrls(made)
    })()
    return () => {
      here = false
    }
  }, [read])
  return (
    <div className="model-preview" role="group" aria-label="The model as it will stand, from three sides and beside a person of 1.75 m">
      {urls.map((url) => (
        <img key={url} src={url} alt="" />
      ))}
      <p className="faded">The last beside a person of 1.75 m.</p>
    </div>
  )
}
