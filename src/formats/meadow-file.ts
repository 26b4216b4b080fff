import { strFromU8, strToU8, Unzip, UnzipInflate, zipSync } from 'fflate'
import { bytesToShape } from '../core/grounds/mesh-shape.ts'
import type { Meadow } from '../core/meadow.ts'
import { blobsOf, bytesToHeights, hashBytes } from '../document/blobs.ts'
import { LIMITS } from '../core/limits.ts'
import { readMeadow, thrownAnew } from '../document/migrations.ts'
import { packLists, unpackLists } from '../document/pieces.ts'
import { ProblemError } from '../document/problem.ts'
import { concatBytes } from './glb.ts'

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
  const packed = packLists(meadow)
  for (const [hash, bytes] of packed.blobs) own.set(hash, bytes)
  return zipMeadow(packed.document, own)
}

/** Zips any document with blobs, checking nothing. */
export function zipMeadow(document: unknown, blobs: Blobs): Uint8Array<ArrayBuffer> {
  const files: Record<string, Uint8Array> = { 'meadow.json': strToU8(JSON.stringify(document, null, 1)) }
  for (const [hash, bytes] of blobs) files[`blobs/${hash}`] = bytes
  return zipSync(files, { level: 3, mtime: '2000-01-01T00:00:00' }) as Uint8Array<ArrayBuffer>
}

/**
 * Opens a `.meadow` file; every blob is checked against its name. `thrownAnew` says in words what stands
 * elsewhere since the version that wrote it. Throws ProblemError.
 */
export async function readMeadowFile(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
): Promise<{ meadow: Meadow; blobs: Blobs; thrownAnew: string | null }> {
  if (bytes.length === 0) throw new ProblemError(`“${name}” is empty (0 bytes); copy it again.`)
  if (bytes.length > MAX_FILE)
    throw new ProblemError(`“${name}” is larger than ${MAX_FILE / 1048576} MB, the most that can be brought in.`)
  if (!(bytes[0] === 0x50 && bytes[1] === 0x4b)) throw new ProblemError(`“${name}” is not a .meadow file.`)
  const files = unpack(bytes, name)
  const json = files.get('meadow.json')
  if (!json) throw new ProblemError(`“${name}” is a zip file without a meadow in it.`)
  const parsed = (() => {
    try {
      return JSON.parse(strFromU8(json)) as unknown
    } catch (error) {
      throw new ProblemError(`“${name}” is damaged: its meadow.json cannot be read.`, error)
    }
  })()
  const part = async (hash: string) => {
    const blob = files.get(`blobs/${hash}`)
    if (!blob) throw new ProblemError(`“${name}” is not whole: the part blobs/${hash.slice(0, 8)}… is missing.`)
    const own = new Uint8Array(blob)
    if ((await hashBytes(own)) !== hash)
      throw new ProblemError(`“${name}” is damaged: the part blobs/${hash.slice(0, 8)}… has changed.`)
    return own
  }
  const checked = readMeadow(await unpackLists(parsed, part))
  if ('problem' in checked) throw new ProblemError(`“${name}” cannot be brought in: ${checked.problem}.`)
  const blobs: Blobs = new Map()
  for (const hash of blobsOf(checked.meadow)) {
    blobs.set(hash, await part(hash))
  }
  const { ground } = checked.meadow
  if (blobs.get(ground.blob)?.length !== 4 * ground.columns * ground.rows)
    throw new ProblemError(`“${name}” is damaged: its ground has not the ${ground.columns} × ${ground.rows} heights it says.`)
  if (!areHeights(blobs.get(ground.blob) as Uint8Array<ArrayBuffer>)) throw new ProblemError(`“${name}” is damaged: its ground has heights that cannot be.`)
  for (const { name: own, blob, columns, rows } of checked.meadow.images)
    if (blobs.get(blob)?.length !== 4 * columns * rows)
      throw new ProblemError(`“${name}” is damaged: its image “${own}” has not the ${columns} × ${rows} pixels it says.`)
  for (const { name: own, shape } of checked.meadow.meshes) {
    const packed = blobs.get(shape)
    if (!packed || !bytesToShape(packed)) throw new ProblemError(`“${name}” is damaged: the shape of its mesh “${own}” cannot be read.`)
  }
  return { meadow: checked.meadow, blobs, thrownAnew: thrownAnew(parsed) }
}

/** How much is looked at between one check of what it has come to and the next, bytes. */
const SLICE = 256 * 1024

/** Unpacks the parts of a meadow, giving up as soon as they come to more than there is room for, whatever the file says of itself. */
function unpack(bytes: Uint8Array, name: string): Map<string, Uint8Array> {
  const pieces = new Map<string, Uint8Array[]>()
  const ended = new Set<string>()
  let total = 0
  const tooLarge = () => new ProblemError(`“${name}” would unpack to more than can be held; it was not opened.`)
  const unzip = new Unzip((file) => {
    const json = file.name === 'meadow.json'
    if (!json && !/^blobs\/[0-9a-f]{64}$/.test(file.name)) return
    const own: Uint8Array[] = []
    pieces.set(file.name, own)
    let length = 0
    file.ondata = (error, chunk, final) => {
      if (error) throw error
      total += chunk.length
      length += chunk.length
      if (total > MAX_UNPACKED || (json && length > MAX_JSON)) throw tooLarge()
      own.push(chunk)
      if (final) ended.add(file.name)
    }
    file.start()
  })
  unzip.register(UnzipInflate)
  try {
    for (let at = 0; at < bytes.length; at += SLICE) unzip.push(bytes.subarray(at, at + SLICE), at + SLICE >= bytes.length)
  } catch (error) {
    throw error instanceof ProblemError ? error : new ProblemError(`“${name}” is damaged or cut short; copy it again.`, error)
  }
  if (pieces.size === 0 || ended.size < pieces.size) {
    if (pieces.size > 0) throw new ProblemError(`“${name}” is damaged or cut short; copy it again.`)
    throw new ProblemError(`“${name}” is a zip file without a meadow in it, or is cut short.`)
  }
  return new Map([...pieces].map(([key, own]) => [key, own.length === 1 ? own[0] : concatBytes(own)]))
}

/** Whether stored heights are such as a ground can have. */
function areHeights(bytes: Uint8Array<ArrayBuffer>): boolean {
  const heights = bytesToHeights(bytes)
  let some = false
  for (const h of heights) {
    if (h !== h) continue
    if (!(Math.abs(h) <= LIMITS.height)) return false
    some = true
  }
  return some
}
