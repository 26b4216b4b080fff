import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { bytesToShape } from '../core/ground/mesh-shape.ts'
import type { Meadow } from '../core/meadow.ts'
import { blobsOf, hashBytes } from '../document/blobs.ts'
import { readMeadow } from '../document/migrations.ts'
import { ProblemError } from '../document/problem.ts'

/** A `.meadow` file: a zip of `meadow.json` and `blobs/<hash>`, so that any zip tool can look inside. */

const MAX_FILE = 1024 * 1024 * 1024
const MAX_UNPACKED = 2 * 1024 * 1024 * 1024 - 1
const MAX_JSON = 64 * 1024 * 1024

export type Blobs = Map<string, Uint8Array<ArrayBuffer>>

/** Packs a meadow with all blobs it stands on. Throws ProblemError when one is missing. */
export function writeMeadowFile(meadow: Meadow, blobs: Blobs): Uint8Array<ArrayBuffer> {
  const own: Blobs = new Map()
  for (const hash of blobsOf(meadow)) {
    const bytes = blobs.get(hash)
    if (!bytes) throw new ProblemError(`“${meadow.name}” cannot be taken out: a part of it is missing from the store.`)
    own.set(hash, bytes)
  }
  return zipMeadow(meadow, own)
}

/** Zips any document with blobs, checking nothing. */
export function zipMeadow(document: unknown, blobs: Blobs): Uint8Array<ArrayBuffer> {
  const files: Record<string, Uint8Array> = { 'meadow.json': strToU8(JSON.stringify(document, null, 1)) }
  for (const [hash, bytes] of blobs) files[`blobs/${hash}`] = bytes
  return zipSync(files, { level: 3, mtime: '2000-01-01T00:00:00' }) as Uint8Array<ArrayBuffer>
}

/** Opens a `.meadow` file; every blob is checked against its name. Throws ProblemError. */
export async function readMeadowFile(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
): Promise<{ meadow: Meadow; blobs: Blobs }> {
  if (bytes.length === 0) throw new ProblemError(`“${name}” is empty (0 bytes); copy it again.`)
  if (bytes.length > MAX_FILE)
    throw new ProblemError(`“${name}” is larger than ${MAX_FILE / 1048576} MB, the most that can be brought in.`)
  if (!(bytes[0] === 0x50 && bytes[1] === 0x4b)) throw new ProblemError(`“${name}” is not a .meadow file.`)
  const files = unpack(bytes, name)
  const json = files['meadow.json']
  if (!json) throw new ProblemError(`“${name}” is a zip file without a meadow in it.`)
  const parsed = (() => {
    try {
      return JSON.parse(strFromU8(json)) as unknown
    } catch (error) {
      throw new ProblemError(`“${name}” is damaged: its meadow.json cannot be read.`, error)
    }
  })()
  const checked = readMeadow(parsed)
  if ('problem' in checked) throw new ProblemError(`“${name}” cannot be brought in: ${checked.problem}.`)
  const blobs: Blobs = new Map()
  for (const hash of blobsOf(checked.meadow)) {
    const blob = files[`blobs/${hash}`]
    if (!blob) throw new ProblemError(`“${name}” is not whole: the part blobs/${hash.slice(0, 8)}… is missing.`)
    const own = new Uint8Array(blob)
    if ((await hashBytes(own)) !== hash)
      throw new ProblemError(`“${name}” is damaged: the part blobs/${hash.slice(0, 8)}… has changed.`)
    blobs.set(hash, own)
  }
  const { ground } = checked.meadow
  if (blobs.get(ground.blob)?.length !== 4 * ground.columns * ground.rows)
    throw new ProblemError(`“${name}” is damaged: its ground has not the ${ground.columns} × ${ground.rows} heights it says.`)
  for (const { name: own, blob, columns, rows } of checked.meadow.images)
    if (blobs.get(blob)?.length !== 4 * columns * rows)
      throw new ProblemError(`“${name}” is damaged: its image “${own}” has not the ${columns} × ${rows} pixels it says.`)
  for (const { name: own, shape } of checked.meadow.meshes) {
    const packed = blobs.get(shape)
    if (!packed || !bytesToShape(packed)) throw new ProblemError(`“${name}” is damaged: the shape of its mesh “${own}” cannot be read.`)
  }
  return { meadow: checked.meadow, blobs }
}

function unpack(bytes: Uint8Array, name: string): Record<string, Uint8Array> {
  let total = 0
  let tooLarge = false
  try {
    return unzipSync(bytes, {
      filter: (file) => {
        total += file.originalSize
        if (total > MAX_UNPACKED || (file.name === 'meadow.json' && file.originalSize > MAX_JSON)) tooLarge = true
        return !tooLarge && (file.name === 'meadow.json' || /^blobs\/[0-9a-f]{64}$/.test(file.name))
      },
    })
  } catch (error) {
    throw new ProblemError(`“${name}” is damaged or cut short; copy it again.`, error)
  } finally {
    if (tooLarge) throw new ProblemError(`“${name}” would unpack to more than can be held; it was not opened.`)
  }
}
