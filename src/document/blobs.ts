import type { BlobHash, Meadow } from '../core/meadow.ts'
import { listOfThings, THINGS } from '../core/things/index.ts'

/** The name of a blob: hex SHA-256 of its bytes. */
export async function hashBytes(bytes: Uint8Array<ArrayBuffer>): Promise<BlobHash> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('')
}

/** All blobs that a document stands on, each once. */
export function blobsOf(meadow: Meadow): BlobHash[] {
  return [
    ...new Set([
      meadow.ground.blob,
      ...meadow.assets.flatMap((asset) => (asset.blob === '' ? [] : [asset.blob, ...asset.standIns])),
      ...THINGS.all.flatMap((kind) => listOfThings(meadow, kind).flatMap((thing) => kind.blobs(thing))),
    ]),
  ]
}

/** Whether a text looks like the name of a blob. */
export function isBlobName(text: string): boolean {
  return NAME.test(text)
}

const NAME = /^[0-9a-f]{64}$/

/** All that looks like the name of a blob in any value: for documents of another version, or damaged ones. */
export function blobNamesIn(value: unknown, into = new Set<BlobHash>()): Set<BlobHash> {
  if (typeof value === 'string') {
    if (isBlobName(value)) into.add(value)
  } else if (Array.isArray(value)) {
    // Long lists are of numbers.
    if (typeof value[0] !== 'number') for (const one of value) blobNamesIn(one, into)
  } else if (typeof value === 'object' && value !== null && !ArrayBuffer.isView(value)) for (const one of Object.values(value)) blobNamesIn(one, into)
  return into
}

/** Heights as a blob: little-endian Float32, row by row. */
export function heightsToBytes(heights: Float32Array): Uint8Array<ArrayBuffer> {
  if (LITTLE) return new Uint8Array(heights.slice().buffer)
  const bytes = new Uint8Array(4 * heights.length)
  const view = new DataView(bytes.buffer)
  for (let i = 0; i < heights.length; i++) view.setFloat32(4 * i, heights[i], true)
  return bytes
}

const LITTLE = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1

/** The inverse of {@link heightsToBytes}, as a view of the same memory where it can be; throws RangeError when the length is no multiple of 4. */
export function bytesToHeights(bytes: Uint8Array<ArrayBuffer>): Float32Array<ArrayBuffer> {
  if (bytes.length % 4 !== 0) throw new RangeError(`bytesToHeights: ${bytes.length} bytes are not whole heights`)
  if (LITTLE && bytes.byteOffset % 4 === 0) return new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4)
  const heights = new Float32Array(bytes.length / 4)
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  for (let i = 0; i < heights.length; i++) heights[i] = view.getFloat32(4 * i, true)
  return heights
}
