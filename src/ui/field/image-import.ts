import { hashBytes } from '../../document/blobs.ts'
import { addImage } from '../../document/edits/images.ts'
import { LIMITS, shortened } from '../../core/limits.ts'
import { READ_IMAGE } from '../../runner/io-refs.ts'
import { readFileAlone } from '../../runner/read-file.ts'
import { enginePool } from '../../state/engine-pool.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { attempt, notify } from '../../state/notices.ts'
import { plantingsNaming } from '../../document/named-in.ts'
import { tellTaken } from '../../state/tell-taken.ts'

/** Lays a picture over the whole ground, for conditions and drivers. */
export async function bringInImage(session: FieldSession, file: File): Promise<void> {
  await attempt('Bringing in the image', async () => {
    const { columns, rows, pixels } = await readFileAlone(enginePool(), READ_IMAGE, file, {})
    const blob = await hashBytes(pixels)
    await session.putBlob(blob, pixels)
    const name = shortened(file.name.replace(/\.[^.]+$/, ''), LIMITS.name) || 'Image'
    if (!addImage(session, { name, blob, columns, rows })) return
    const image = session.meadow().images.at(-1)
    if (image && plantingsNaming(session.meadow(), image.id).length > 0) tellTaken(session, image)
    else notify('word', `“${name}” lies over the whole ground now; a condition or driver “Image” can follow it.`)
  })
}
