/** The GLB container (glTF 2.0, section 4): 12-byte header, a JSON chunk, a BIN chunk. */

const MAGIC = 0x46546c67
const JSON_CHUNK = 0x4e4f534a
const BIN_CHUNK = 0x004e4942

/** The parts of the glTF JSON that are handled here; all other members are kept as they are. */
export interface GltfJson {
  asset: { version: string; generator?: string }
  scene?: number
  scenes?: { name?: string; nodes?: number[] }[]
  nodes?: Record<string, unknown>[]
  meshes?: { name?: string; primitives: GltfPrimitive[] }[]
  accessors?: GltfAccessor[]
  bufferViews?: { buffer: number; byteOffset?: number; byteLength: number; byteStride?: number; target?: number }[]
  buffers?: { byteLength: number; uri?: string }[]
  materials?: Record<string, unknown>[]
  textures?: { source?: number; sampler?: number; extensions?: Record<string, { source?: number }> }[]
  images?: { bufferView?: number; mimeType?: string; name?: string; uri?: string }[]
  samplers?: Record<string, unknown>[]
  extensionsUsed?: string[]
  extensionsRequired?: string[]
  [other: string]: unknown
}

export interface GltfPrimitive {
  attributes: Record<string, number>
  indices?: number
  material?: number
  mode?: number
}

export interface GltfAccessor {
  bufferView?: number
  byteOffset?: number
  componentType: number
  normalized?: boolean
  count: number
  type: string
  min?: number[]
  max?: number[]
}

/** Splits a GLB; null when it is not one or does not hold together. */
export function splitGlb(bytes: Uint8Array<ArrayBuffer>): { json: GltfJson; bin: Uint8Array<ArrayBuffer> } | null {
  if (bytes.length < 20) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (view.getUint32(0, true) !== MAGIC || view.getUint32(4, true) !== 2) return null
  const total = view.getUint32(8, true)
  const jsonLength = view.getUint32(12, true)
  if (total > bytes.length || view.getUint32(16, true) !== JSON_CHUNK || 20 + jsonLength > total) return null
  try {
    const json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(20, 20 + jsonLength))) as GltfJson
    const at = 20 + jsonLength
    if (at + 8 > total) return { json, bin: new Uint8Array(0) }
    const binLength = view.getUint32(at, true)
    if (view.getUint32(at + 4, true) !== BIN_CHUNK || at + 8 + binLength > total) return null
    return { json, bin: bytes.subarray(at + 8, at + 8 + binLength) }
  } catch {
    return null
  }
}

/** Joins JSON text pieces and binary pieces into the pieces of a GLB file; null when over 4 GiB. */
export function joinGlb(
  json: readonly Uint8Array<ArrayBuffer>[],
  bin: readonly Uint8Array<ArrayBuffer>[],
): Uint8Array<ArrayBuffer>[] | null {
  const lengthOf = (pieces: readonly Uint8Array[]) => pieces.reduce((sum, piece) => sum + piece.length, 0)
  const jsonLength = lengthOf(json)
  const binLength = lengthOf(bin)
  const jsonPadded = (jsonLength + 3) & ~3
  const binPadded = Math.ceil(binLength / 4) * 4
  const total = 12 + 8 + jsonPadded + (binLength > 0 ? 8 + binPadded : 0)
  if (total > 0xffffffff) return null
  const head = new DataView(new ArrayBuffer(20))
  head.setUint32(0, MAGIC, true)
  head.setUint32(4, 2, true)
  head.setUint32(8, total, true)
  head.setUint32(12, jsonPadded, true)
  head.setUint32(16, JSON_CHUNK, true)
  const pieces = [new Uint8Array(head.buffer), ...json, new Uint8Array(jsonPadded - jsonLength).fill(0x20)]
  if (binLength > 0) {
    const chunk = new DataView(new ArrayBuffer(8))
    chunk.setUint32(0, binPadded, true)
    chunk.setUint32(4, BIN_CHUNK, true)
    pieces.push(new Uint8Array(chunk.buffer), ...bin, new Uint8Array(binPadded - binLength))
  }
  return pieces
}

/** All pieces as one array. */
export function concatBytes(pieces: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let at = 0
  for (const piece of pieces) {
    out.set(piece, at)
    at += piece.length
  }
  return out
}
