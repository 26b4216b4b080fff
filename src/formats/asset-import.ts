import { tintOf } from './model-tint.ts'
import type { Document, Primitive } from '@gltf-transform/core'
import { WebIO } from '@gltf-transform/core'
import { EXTMeshoptCompression, KHRDracoMeshCompression } from '@gltf-transform/extensions'
import { ProblemError } from '../document/problem.ts'
import { hasEnding, MESH_ENDINGS } from './endings.ts'
import { dracoDecoder } from './draco.ts'
import { splitGlb } from './glb.ts'
import { checkGltf } from './gltf-check.ts'
import type { GltfJson } from './glb.ts'
import type { MeshFile } from './mesh-files.ts'
import { COMPRESSIONS, EXTENSIONS, placed } from './model-parts.ts'
import type { FileBeside } from './obj-mesh.ts'
import type { Repair } from './repair.ts'

export interface ReadModel {
  readonly document: Document
  /** Size as the file has it, file units, its own axes. */
  readonly rawSize: [number, number, number]
  readonly triangles: number
  /** What the reader left out or mended, in words. */
  readonly notes: readonly string[]
  /** What is likely wanted. */
  readonly guess: Repair
}

const MAX_BYTES = 256 * 1024 * 1024
const MAX_TRIANGLES = 2_000_000

/** A reader of models; decoders are loaded for those that want them. */
async function readerFor({ extensionsUsed = [] }: GltfJson): Promise<WebIO> {
  const io = new WebIO().registerExtensions(EXTENSIONS)
  if (extensionsUsed.includes(KHRDracoMeshCompression.EXTENSION_NAME)) io.registerDependencies({ 'draco3d.decoder': await dracoDecoder() })
  if (extensionsUsed.includes(EXTMeshoptCompression.EXTENSION_NAME)) {
    const { MeshoptDecoder } = await import('meshoptimizer')
    await MeshoptDecoder.ready
    io.registerDependencies({ 'meshopt.decoder': MeshoptDecoder })
  }
  return io
}

/** Reads a GLB, a self-contained glTF, or a mesh as OBJ, PLY or STL. Throws ProblemError with one sentence. */
export async function readModel(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  beside: readonly FileBeside[] = [],
  report: (share: number) => void = () => undefined,
): Promise<ReadModel> {
  if (bytes.length === 0) throw new ProblemError(`“${name}” is empty (0 bytes); copy it again.`)
  if (bytes.length > MAX_BYTES)
    throw new ProblemError(`“${name}” is larger than ${MAX_BYTES / 1048576} MB, the most that a model can have.`)
  const { glb: own, notes } = await asGlb(bytes, name, beside, report)
  const json = jsonOf(own, name)
  checkGltf(json.json, json.binLength, MAX_TRIANGLES, name)
  refuseOutside(json, name)
  refuseExtensions(json, name)
  const document = await (async () => {
    try {
      const io = await readerFor(json.json)
      return json.binLength === null ? await io.readJSON({ json: json.json as never, resources: {} }) : await io.readBinary(own)
    } catch (error) {
      if (error instanceof ProblemError) throw error
      throw new ProblemError(`“${name}” is damaged: a part of its model cannot be read; export it again.`, error)
    }
  })()
  for (const extension of document.getRoot().listExtensionsUsed()) if (COMPRESSIONS.some(({ EXTENSION_NAME }) => EXTENSION_NAME === extension.extensionName)) extension.dispose()
  return inspect(document, name, notes)
}

/** Files of meshes alone, read and written as GLB; others as they are. */
async function asGlb(bytes: Uint8Array<ArrayBuffer>, name: string, beside: readonly FileBeside[], report: (share: number) => void): Promise<MeshFile> {
  if (!hasEnding(name, MESH_ENDINGS)) return { glb: bytes, notes: [] }
  const { meshFileToGlb } = await import('./mesh-files.ts')
  return meshFileToGlb(bytes, name, beside, report)
}

/** The JSON of a model, and how many bytes of data a GLB has beside it. */
function jsonOf(bytes: Uint8Array<ArrayBuffer>, name: string): { json: GltfJson; binLength: number | null } {
  if (bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46) {
    const glb = splitGlb(bytes)
    if (!glb) throw new ProblemError(`“${name}” is a damaged or cut-short GLB; export or copy it again.`)
    if (typeof glb.json !== 'object' || glb.json === null || typeof glb.json.asset !== 'object') throw new ProblemError(`“${name}” is a damaged GLB; export or copy it again.`)
    return { json: glb.json, binLength: glb.bin.length }
  }
  try {
    const json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as GltfJson
    if (typeof json?.asset?.version === 'string' && json.asset.version.startsWith('2')) return { json, binLength: null }
  } catch {
    // Falls through to the sentence below.
  }
  throw new ProblemError(`“${name}” is not a GLB or glTF 2.0 model; export it as GLB.`)
}

function refuseOutside({ json }: { json: GltfJson }, name: string): void {
  for (const part of [...(json.buffers ?? []), ...(json.images ?? [])])
    if (part.uri !== undefined && !String(part.uri).startsWith('data:'))
      throw new ProblemError(
        `“${name}” needs the file “${String(part.uri).slice(0, 80)}” beside it; export it as one GLB with everything inside.`,
      )
}

function refuseExtensions({ json }: { json: GltfJson }, name: string): void {
  const known = new Set<string>(EXTENSIONS.map((extension) => extension.EXTENSION_NAME))
  const required: unknown = json.extensionsRequired ?? []
  const foreign = Array.isArray(required) ? (required as unknown[]).map(String).find((extension) => !known.has(extension)) : 'a list that is none'
  if (foreign)
    throw new ProblemError(
      `“${name}” cannot be read without ${foreign}, which is not supported; export it without that.`,
    )
}

function inspect(document: Document, name: string, before: readonly string[]): ReadModel {
  const notes = [...before]
  const root = document.getRoot()
  if (root.listSkins().length) notes.push('Its bones are left out; it stands as it was modelled.')
  if (root.listAnimations().length) notes.push('Its animations are left out.')
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  let triangles = 0
  const point = [0, 0, 0]
  let skipped = false
  for (const mesh of root.listMeshes())
    for (const primitive of mesh.listPrimitives()) if (primitive.getMode() !== 4) skipped = true
  if (skipped) notes.push('Its lines, points and triangle strips are left out.')
  for (const { primitive, matrix } of placed(document)) {
    const position = primitive.getAttribute('POSITION')
    if (!position) continue
    triangles += Math.floor((primitive.getIndices()?.getCount() ?? position.getCount()) / 3)
    refuseLostCorners(primitive, position.getCount(), name)
    for (let i = 0; i < position.getCount(); i++) {
      position.getElement(i, point)
      for (let c = 0; c < 3; c++) {
        const v = matrix[c] * point[0] + matrix[4 + c] * point[1] + matrix[8 + c] * point[2] + matrix[12 + c]
        if (!Number.isFinite(v) || Math.abs(v) > 1e7)
          throw new ProblemError(`“${name}” has a corner at no possible place (${v}); repair and export it again.`)
        if (v < low[c]) low[c] = v
        if (v > high[c]) high[c] = v
      }
    }
  }
  if (triangles === 0) throw new ProblemError(`“${name}” has no triangles to show; export the model as a mesh.`)
  if (triangles > MAX_TRIANGLES)
    throw new ProblemError(
      `“${name}” has ${triangles.toLocaleString('en')} triangles; at most ${MAX_TRIANGLES.toLocaleString('en')} can be held, so lighten it first.`,
    )
  const rawSize: [number, number, number] = [high[0] - low[0], high[1] - low[1], high[2] - low[2]]
  return { document, rawSize, triangles, notes, guess: { up: 'y', scale: guessScale(Math.max(...rawSize)), pivot: 'base', flip: false, tint: tintOf(document) } }
}

/** A face that names a corner which is not there would lead the mesh libraries astray. */
function refuseLostCorners(primitive: Primitive, corners: number, name: string): void {
  const indices = primitive.getIndices()
  if (!indices) return
  for (let i = 0; i < indices.getCount(); i++)
    if (!(indices.getScalar(i) < corners)) throw new ProblemError(`“${name}” has a face that names a corner which is not there; repair and export it again.`)
}

/** Plants and stones are centimetres to tens of metres: a larger model is likely in cm or mm. */
function guessScale(largest: number): number {
  if (largest > 1000) return 0.001
  if (largest > 60) return 0.01
  return 1
}
