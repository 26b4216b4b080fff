import { yupResolver } from '@hookform/resolvers/yup'
import { useCallback, useEffect, useState } from 'react'
import { useForm, useWatch } from 'react-hook-form'
import { addAssets } from '../../document/edits/assets.ts'
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
  readonly onClose: () => void
}

/** Shows a model as it will stand, lets its axis, unit and pivot be put right, then takes it in. */
export function AssetImport({ file, beside, asMesh, onClose }: AssetImportProps) {
  const [taking, setTaking] = useState(false)
  const { control, handleSubmit, setValue } = useForm<ModelForm>({
    resolver: yupResolver(modelForm),
    defaultValues: { name: nameOfFile(file.name), category: BROUGHT_IN, tags: '', licence: '', role: 'ground', repair: null },
    mode: 'onChange',
  })
  const repair = useWatch({ control, name: 'repair' })
  const reading = useReading(
    file.name,
    useCallback<Read<ReadAssetOutput>>(async (options) => readFileAlone(enginePool(), READ_ASSET, file, { repair, beside: await besideOf(beside) }, options), [file, beside, repair]),
  )
  const read = reading.output
  // After a repair that cannot be, what was read before is not what is asked for.
  const busy = taking || reading.doing !== null || reading.problem !== null

  const chosen = repair ?? read?.repair
  const { accept, stand } = useTaking({ read, setTaking, onClose })
  const put = (spread: boolean) => void handleSubmit((form) => accept(form, spread))()

  return (
    <Sheet
      title={asMesh ? 'Bring in a mesh' : 'Bring in a model'}
      wide
      onClose={onClose}
      onSubmit={() => {
        if (!read || busy) return
        if (asMesh) void handleSubmit(stand)()
        else put(true)
      }}
      foot={
        <>
          <Action onClick={onClose}>Cancel</Action>
          {!asMesh && (
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
  readonly setTaking: (taking: boolean) => void
  readonly onClose: () => void
}

/** What can be done with a model that was read: put it on the shelf, or stand it in the meadow. What was refused is told, and the sheet stays. */
function useTaking({ read, setTaking, onClose }: Taking) {
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

  return { accept, stand }
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
