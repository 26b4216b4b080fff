import type { GltfAccessor, GltfJson } from './glb.ts'
import { concatBytes, joinGlb, splitGlb } from './glb.ts'

export const FLOAT = 5126
export const UNSIGNED_INT = 5125
export const UNSIGNED_BYTE = 5121
export const UNSIGNED_SHORT = 5123
const ARRAY_BUFFER = 34962
const ELEMENT_ARRAY_BUFFER = 34963

type Column = Float32Array<ArrayBuffer> | Uint32Array<ArrayBuffer> | Uint16Array<ArrayBuffer> | Uint8Array<ArrayBuffer>

/** Gathers a glTF: JSON members as they grow, and the pieces of the one binary buffer. */
export interface GlbBuilder {
  readonly json: GltfJson
  readonly bin: Uint8Array<ArrayBuffer>[]
  binLength: number
}

export function startGlb(): GlbBuilder {
  return {
    json: { asset: { version: '2.0', generator: 'Wayward Meadow' } },
    bin: [],
    binLength: 0,
  }
}

/** Appends bytes as a buffer view, aligned to 4; returns its number. */
export function addView(b: GlbBuilder, bytes: Uint8Array<ArrayBuffer>, target?: number, byteStride?: number): number {
  const views = (b.json.bufferViews ??= [])
  views.push({
    buffer: 0,
    byteOffset: b.binLength,
    byteLength: bytes.length,
    ...(byteStride ? { byteStride } : {}),
    ...(target ? { target } : {}),
  })
  b.bin.push(bytes)
  const padding = -bytes.length & 3
  if (padding) b.bin.push(new Uint8Array(padding))
  b.binLength += bytes.length + padding
  return views.length - 1
}

interface ColumnOptions {
  readonly componentType: number
  readonly type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4'
  readonly use?: 'vertices' | 'indices'
  readonly normalized?: boolean
  readonly bounds?: boolean
}

const WIDTH = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4 }

/** Appends a tightly packed column as an accessor; returns its number. */
export function addColumn(b: GlbBuilder, column: Column, options: ColumnOptions): number {
  const width = WIDTH[options.type]
  const target =
    options.use === 'vertices' ? ARRAY_BUFFER : options.use === 'indices' ? ELEMENT_ARRAY_BUFFER : undefined
  const bytes = new Uint8Array(column.buffer, column.byteOffset, column.byteLength)
  const accessor: GltfAccessor = {
    bufferView: addView(b, bytes, target),
    componentType: options.componentType,
    count: column.length / width,
    type: options.type,
  }
  if (options.normalized) accessor.normalized = true
  if (options.bounds) Object.assign(accessor, boundsOf(column, width))
  const accessors = (b.json.accessors ??= [])
  accessors.push(accessor)
  return accessors.length - 1
}

function boundsOf(column: Column, width: number): { min: number[]; max: number[] } {
  const min = new Array<number>(width).fill(Infinity)
  const max = new Array<number>(width).fill(-Infinity)
  for (let i = 0; i < column.length; i++) {
    const c = i % width
    if (column[i] < min[c]) min[c] = column[i]
    if (column[i] > max[c]) max[c] = column[i]
  }
  return { min, max }
}

/** Adds a plain object to a list of the JSON; returns its number. */
export function addTo(b: GlbBuilder, list: 'materials' | 'nodes', entry: Record<string, unknown>): number {
  const entries = (b.json[list] ??= [])
  entries.push(entry)
  return entries.length - 1
}

/** Adds a picture and a texture of it; returns the texture's number. */
export function addTexture(b: GlbBuilder, { bytes, mime }: { readonly bytes: Uint8Array<ArrayBuffer>; readonly mime: string }): number {
  const images = (b.json.images ??= [])
  images.push({ bufferView: addView(b, bytes), mimeType: mime })
  const textures = (b.json.textures ??= [])
  textures.push({ source: images.length - 1 })
  return textures.length - 1
}

export function addMesh(b: GlbBuilder, mesh: NonNullable<GltfJson['meshes']>[number]): number {
  const meshes = (b.json.meshes ??= [])
  meshes.push(mesh)
  return meshes.length - 1
}

/**
 * Copies all meshes, materials, textures and images of a repaired asset GLB into the builder,
 * renumbering every reference. Returns the numbers of its meshes.
 */
export function mergeAsset(b: GlbBuilder, glb: Uint8Array<ArrayBuffer>): number[] {
  const parts = splitGlb(glb)
  if (!parts) throw new RangeError('mergeAsset: not a GLB')
  const { json, bin } = parts
  const viewBase = (json.bufferViews ?? []).map((view) =>
    addView(
      b,
      bin.slice(view.byteOffset ?? 0, (view.byteOffset ?? 0) + view.byteLength),
      view.target,
      view.byteStride,
    ),
  )
  const base = {
    accessors: (b.json.accessors ??= []).length,
    images: b.json.images?.length ?? 0,
    samplers: b.json.samplers?.length ?? 0,
    textures: b.json.textures?.length ?? 0,
    materials: b.json.materials?.length ?? 0,
  }
  for (const accessor of json.accessors ?? [])
    b.json.accessors.push({
      ...accessor,
      ...(accessor.bufferView === undefined ? {} : { bufferView: viewBase[accessor.bufferView] }),
    })
  for (const image of json.images ?? [])
    (b.json.images ??= []).push({
      ...image,
      ...(image.bufferView === undefined ? {} : { bufferView: viewBase[image.bufferView] }),
    })
  if (json.samplers) (b.json.samplers ??= []).push(...json.samplers)
  for (const texture of json.textures ?? [])
    (b.json.textures ??= []).push({
      ...texture,
      ...(texture.source === undefined ? {} : { source: texture.source + base.images }),
      ...(texture.sampler === undefined ? {} : { sampler: texture.sampler + base.samplers }),
      ...(texture.extensions
        ? {
            extensions: Object.fromEntries(
              Object.entries(texture.extensions).map(([name, ext]) => [
                name,
                ext.source === undefined ? ext : { ...ext, source: ext.source + base.images },
              ]),
            ),
          }
        : {}),
    })
  for (const material of json.materials ?? [])
    (b.json.materials ??= []).push(shiftTextures(material, base.textures) as Record<string, unknown>)
  const meshes = (json.meshes ?? []).map((mesh) =>
    addMesh(b, {
      ...mesh,
      primitives: mesh.primitives.map((primitive) => ({
        ...primitive,
        attributes: Object.fromEntries(
          Object.entries(primitive.attributes).map(([name, at]) => [name, at + base.accessors]),
        ),
        ...(primitive.indices === undefined ? {} : { indices: primitive.indices + base.accessors }),
        ...(primitive.material === undefined ? {} : { material: primitive.material + base.materials }),
      })),
    }),
  )
  useExtensions(b, json.extensionsUsed ?? [], json.extensionsRequired ?? [])
  return meshes
}

/** Within a material, the only members called `index` are those of texture infos. */
function shiftTextures(value: unknown, by: number): unknown {
  if (Array.isArray(value)) return value.map((entry) => shiftTextures(entry, by))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value).map(([key, entry]) => [
      key,
      key === 'index' && typeof entry === 'number' ? entry + by : shiftTextures(entry, by),
    ]),
  )
}

/** Notes extensions as used, and as required where they are. */
export function useExtensions(b: GlbBuilder, used: readonly string[], required: readonly string[] = []): void {
  if (used.length) b.json.extensionsUsed = [...new Set([...(b.json.extensionsUsed ?? []), ...used])].sort()
  if (required.length)
    b.json.extensionsRequired = [...new Set([...(b.json.extensionsRequired ?? []), ...required])].sort()
}

/** Ends a GLB whose scene is of these nodes; `who` says whose it was when it would be over 4 GiB: RangeError. */
export function endGlb(b: GlbBuilder, nodes: number[], who: string): Uint8Array<ArrayBuffer> {
  b.json.scenes = [{ nodes }]
  b.json.scene = 0
  b.json.buffers = [{ byteLength: b.binLength }]
  const pieces = joinGlb([new TextEncoder().encode(JSON.stringify(b.json))], b.bin)
  if (!pieces) throw new RangeError(`${who}: over 4 GiB`)
  return concatBytes(pieces)
}
