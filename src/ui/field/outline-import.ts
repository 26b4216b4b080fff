import { FILE_PATIENCE, READ_OUTLINES } from '../../engine/io-refs.ts'
import type { OutlineFormat } from '../../formats/outline-format.ts'
import { enginePool } from '../../state/engine-pool.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { attempt, notify } from '../../state/notices.ts'
import type { FieldTool } from '../../state/field-tool.ts'
import { fileName, saveFile } from '../parts/files.ts'
import { addOutlines } from './outline-edits.ts'

/** Brings in the patches and paths of a file, as one step. */
export async function bringInOutlines(session: FieldSession, tool: FieldTool, file: File): Promise<void> {
  await attempt('Bringing in the outlines', async () => {
    const bytes = new Uint8Array(await file.arrayBuffer())
    const read = await enginePool().run(READ_OUTLINES, { name: file.name, bytes }, { urgent: true, silence: FILE_PATIENCE })
    const first = addOutlines(session, 'Bring in outlines', read)
    tool.setState({ selected: first, point: null, drawing: null })
    const { sizeX, sizeZ } = session.store.getState().history.meadow.ground
    const off = read.filter(({ lines }) => !lines.some((line) => line.some((_, i) => i % 2 === 0 && Math.abs(line[i]) <= sizeX / 2 && Math.abs(line[i + 1]) <= sizeZ / 2)))
    if (off.length > 0)
      notify(
        'warning',
        `${off.length === read.length ? 'All' : off.length} of the ${read.length} outlines in “${file.name}” lie beside the ground; outlines are in metres from its middle.`,
      )
    else notify('word', `${read.length === 1 ? 'One outline is' : `${read.length} outlines are`} brought in from “${file.name}”.`)
  })
}

/** Saves all patches and paths as a file of a format. */
export function takeOutOutlines(session: FieldSession, format: OutlineFormat): void {
  const { name, outlines, ground } = session.store.getState().history.meadow
  saveFile(new Blob([format.write(outlines, ground)], { type: format.mime }), fileName(`${name} outlines`, format.extensions[0].slice(1)))
}
