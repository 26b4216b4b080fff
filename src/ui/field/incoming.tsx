import { useCallback } from 'react'
import { useStore } from 'zustand'
import { HEIGHT_ENDINGS, hasEnding, IMAGE_ENDINGS, MODEL_ENDINGS, OUTLINE_ENDINGS } from '../../formats/endings.ts'
import type { FieldSession } from '../../state/field-session.ts'
import type { FieldTool, Incoming } from '../../state/field-tool.ts'
import { notify } from '../../state/notices.ts'
import { AssetImport } from './asset-import.tsx'
import type { Drawer } from './drawers.tsx'
import { useField } from './field-context.ts'
import { GroundImport } from './ground-import.tsx'
import { bringInImage } from './image-import.ts'
import { OutlineImport } from './outline-import.tsx'
import { PlantingChooser } from './planting-chooser.tsx'

interface Taking {
  readonly session: FieldSession
  readonly tool: FieldTool
  readonly drawer: Drawer | null
  readonly setDrawer: (drawer: Drawer) => void
}

/** Takes files in that were dropped on the page, by what they are. */
export function takeFiles(files: readonly File[], { session, tool, drawer, setDrawer }: Taking): void {
  const bring = (as: Incoming['as'], one: File, others?: readonly File[]) => tool.setState({ incoming: { as, file: one, beside: others } })
  // A model may come with its materials and textures.
  const file = files.find((one) => hasEnding(one.name, MODEL_ENDINGS)) ?? files[0]
  if (!file) return
  if (hasEnding(file.name, HEIGHT_ENDINGS)) bring('ground', file)
  else if (hasEnding(file.name, MODEL_ENDINGS))
    bring(
      drawer === 'ground' ? 'mesh' : 'model',
      file,
      files.filter((one) => one !== file),
    )
  else if (hasEnding(file.name, IMAGE_ENDINGS)) void bringInImage(session, file)
  else if (hasEnding(file.name, OUTLINE_ENDINGS)) {
    setDrawer('outlines')
    bring('outlines', file)
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

const NOTHING_BESIDE: readonly File[] = []

/** The sheet that asks about the file on its way in. */
export function IncomingSheet() {
  const { tool } = useField()
  const incoming = useStore(tool, (state) => state.incoming)
  const close = useCallback(() => tool.setState({ incoming: null }), [tool])
  if (!incoming) return null
  const { as, file, beside = NOTHING_BESIDE } = incoming
  if (as === 'ground') return <GroundImport file={file} onClose={close} />
  if (as === 'outlines') return <OutlineImport file={file} onClose={close} />
  return <AssetImport file={file} beside={beside} asMesh={as === 'mesh'} onClose={close} />
}

