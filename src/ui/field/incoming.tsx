import { useCallback, useMemo } from 'react'
import { useStore } from 'zustand'
import { HEIGHT_ENDINGS, hasEnding, IMAGE_ENDINGS, MODEL_ENDINGS, OUTLINE_ENDINGS } from '../../formats/endings.ts'
import type { FieldSession } from '../../state/field-session.ts'
import type { FieldTool } from '../../state/field-tool.ts'
import { notify } from '../../state/notices.ts'
import { sortModels } from '../parts/files.ts'
import { AssetImport } from './asset-import.tsx'
import type { Drawer } from './drawers.tsx'
import { useField } from './field-context.ts'
import { GroundImport } from './ground-import.tsx'
import { bringInImage } from './image-import.ts'
import { OutlineImport } from './outline-import.tsx'
import { ModelsImport } from './models-import.tsx'
import { PlantingChooser } from './planting-chooser.tsx'

interface Taking {
  readonly session: FieldSession
  readonly tool: FieldTool
  readonly drawer: Drawer | null
  readonly setDrawer: (drawer: Drawer) => void
}

/** Takes files in that were dropped on the page, by what they are. */
export function takeFiles(files: readonly File[], { session, tool, drawer, setDrawer }: Taking): void {
  const chosen = sortModels(files, (name) => hasEnding(name, MODEL_ENDINGS))
  if (!chosen) return
  const { file } = chosen
  if (hasEnding(file.name, HEIGHT_ENDINGS)) tool.setState({ incoming: { as: 'ground', file } })
  else if (hasEnding(file.name, MODEL_ENDINGS)) tool.setState({ incoming: { as: drawer === 'ground' ? 'mesh' : 'model', ...chosen } })
  else if (hasEnding(file.name, IMAGE_ENDINGS)) void bringInImage(session, file)
  else if (hasEnding(file.name, OUTLINE_ENDINGS)) {
    setDrawer('outlines')
    tool.setState({ incoming: { as: 'outlines', file } })
  } else
    notify(
      'warning',
      `“${file.name}” is of no kind that can be brought in here; drop a height file (${HEIGHT_ENDINGS.join(', ')}), a model (${MODEL_ENDINGS.join(', ')}), an image (${IMAGE_ENDINGS.join(', ')}) or outlines (${OUTLINE_ENDINGS.join(', ')}).`,
    )
}

/** Asks what a new planting is of. */
export function ChooserSheet() {
  const { tool } = useField()
  const choosing = useStore(tool, (state) => state.choosing)
  return choosing ? <PlantingChooser onClose={() => tool.setState({ choosing: false })} /> : null
}

const NONE: readonly File[] = []

/** The sheet that asks about the file on its way in, or about many models. */
export function IncomingSheet() {
  const { tool } = useField()
  const incoming = useStore(tool, (state) => state.incoming)
  // Meshes that came together are asked about one after the other: each has a place and a role of its own.
  const close = useCallback(
    () =>
      tool.setState(({ incoming: was }) => {
        const [next, ...more] = was?.as === 'mesh' ? (was.more ?? NONE) : NONE
        return { incoming: next && was ? { ...was, file: next, more } : null }
      }),
    [tool],
  )
  const all = useMemo(() => (incoming ? [incoming.file, ...(incoming.more ?? NONE)] : NONE), [incoming])
  if (!incoming) return null
  const { as, file, beside = NONE, instead = null, settled = false } = incoming
  if (as === 'ground') return <GroundImport file={file} onClose={close} />
  if (as === 'outlines') return <OutlineImport file={file} onClose={close} />
  if (as === 'model' && all.length > 1) return <ModelsImport files={all} beside={beside} onClose={close} />
  return <AssetImport key={`${file.name} ${all.length}`} file={file} beside={beside} asMesh={as === 'mesh'} instead={instead} settled={settled} onClose={close} />
}
