import type { OutlineFormat } from '../../formats/outline-format.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { fileName, saveFile } from '../parts/files.ts'

/** Saves all patches and paths as a file of a format. */
export function takeOutOutlines(session: FieldSession, format: OutlineFormat): void {
  const { name, outlines, ground } = session.meadow()
  saveFile(new Blob([format.write(outlines, ground)], { type: format.mime }), fileName(`${name} outlines`, format.extensions[0].slice(1)))
}
