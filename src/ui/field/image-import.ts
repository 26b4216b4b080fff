import { hashBytes } from '../../document/blobs.ts'
import { newId } from '../../document/new-planting.ts'
import { FILE_PATIENCE, READ_IMAGE } from '../../engine/io-refs.ts'
import { enginePool } from '../../state/engine-pool.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { attempt, notify } from '../../state/notices.ts'

/** Lays a picture over the whole ground, for conditions and drivers. */
export async function bringInImage(session: FieldSession, file: File): Promise<void> {
  await attempt('Bringing in the image', async () => {
    const bytes = new Uint8Array(await file.arrayBuffer())
    const { columns, rows, pixels } = await enginePool().run(READ_IMAGE, { name: file.name, bytes }, { urgent: true, silence: FILE_PATIENCE })
    const blob = await hashBytes(pixels)
    await session.putBlob(blob, pixels)
    const name = file.name.replace(/\.[^.]+$/, '').slice(0, 100) || 'Image'
    session.edit('Bring in an image', ({ images, ground: { sizeX, sizeZ } }) => void images.push({ id: newId(), name, blob, columns, rows, x: 0, z: 0, sizeX, sizeZ, turn: 0 }))
    notify('word', `“${name}” lies over the whole ground now; a condition or driver “Image” can follow it.`)
  })
}
