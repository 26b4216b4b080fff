import { ProblemError } from '../document/problem.ts'
import type { GltfJson } from './glb.ts'

/**
 * Looks a glTF over before a library builds anything of it: lists must be lists, references must lead
 * somewhere, counts must be backed by bytes. Throws ProblemError with one sentence.
 */

const LISTS = ['scenes', 'nodes', 'meshes', 'accessors', 'bufferViews', 'buffers', 'materials', 'textures', 'images', 'samplers', 'skins', 'animations', 'cameras'] as const
type List = (typeof LISTS)[number]

const COMPONENT_BYTES: Readonly<Record<number, number>> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 }
const WIDTHS: Readonly<Record<string, number>> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 }

const MOST_NODES = 20_000
const DEEPEST = 200
/** Values of all columns together. */
const MOST_VALUES = 120_000_000
/** Rows of one column. */
const MOST_ROWS = 6_000_000
const MOST_ENTRIES = 100_000
const TRIANGLES = 4
const PICTURES = ['image/png', 'image/jpeg', 'image/webp']
/** Bytes that a compressed buffer may unpack to. */
const MOST_UNPACKED = 512 * 1024 * 1024

type Plain = Record<string, unknown>

/** `binLength`: bytes of the binary part of a GLB; null for a glTF whose buffers are data URIs. `mostTriangles` counts every placing. */
export function checkGltf(json: GltfJson, binLength: number | null, mostTriangles: number, name: string): void {
  const wrong = (what: string) => new ProblemError(`“${name}” is damaged: ${what}; export it again.`)
  const lists = listsOf(json, wrong)
  const count = (list: List) => lists[list].length
  const refer = (value: unknown, list: List, from: string): number => {
    if (typeof value !== 'number' || !Number.isInteger(value) || value < 0 || value >= count(list)) throw wrong(`${from} names a part that is not there`)
    return value
  }
  checkBuffers(lists, binLength, refer, wrong)
  checkAccessors(lists, refer, wrong)
  for (const mesh of lists.meshes) for (const primitive of primitivesOf(mesh, wrong)) checkPrimitive(primitive, lists, refer, wrong)
  checkMaterials(lists, refer, wrong)
  const placings = checkNodes(json, lists, refer, wrong, name)
  let triangles = 0
  for (const [mesh, times] of placings)
    for (const primitive of primitivesOf(lists.meshes[mesh], wrong)) if ((primitive.mode ?? TRIANGLES) === TRIANGLES) triangles += times * trianglesOf(primitive, lists)
  if (triangles > mostTriangles)
    throw new ProblemError(`“${name}” has ${Math.round(triangles).toLocaleString('en')} triangles; at most ${mostTriangles.toLocaleString('en')} can be held, so lighten it first.`)
}

type Lists = Readonly<Record<List, readonly Plain[]>>
type Refer = (value: unknown, list: List, from: string) => number
type Wrong = (what: string) => ProblemError

function listsOf(json: GltfJson, wrong: Wrong): Lists {
  return Object.fromEntries(
    LISTS.map((name) => {
      const list = (json as Plain)[name] ?? []
      if (!Array.isArray(list)) throw wrong(`its ${name} are no list`)
      if (list.length > MOST_ENTRIES) throw wrong(`it has ${list.length.toLocaleString('en')} ${name}`)
      if (list.some((entry) => typeof entry !== 'object' || entry === null || Array.isArray(entry))) throw wrong(`one of its ${name} is none`)
      return [name, list as Plain[]]
    }),
  ) as unknown as Lists
}

function whole(value: unknown, fallback: number): number {
  if (value === undefined) return fallback
  return typeof value === 'number' && Number.isInteger(value) && value >= 0 ? value : NaN
}

function checkBuffers({ buffers, bufferViews, images }: Lists, binLength: number | null, refer: Refer, wrong: Wrong): void {
  const lengths = buffers.map(({ byteLength, uri, extensions }, i) => {
    const told = whole(byteLength, NaN)
    // What is compressed announces the bytes that it will unpack to.
    if (isFallback(extensions) && told <= MOST_UNPACKED) return told
    const there = typeof uri === 'string' ? Math.floor((uri.length - uri.indexOf(',') - 1) * 0.75) : i === 0 && binLength !== null ? binLength : 0
    if (!(told <= there)) throw wrong('it has less data than it says')
    return told
  })
  for (const { buffer, byteOffset, byteLength, byteStride } of bufferViews) {
    const most = lengths[refer(buffer, 'buffers', 'a stretch of data')]
    const from = whole(byteOffset, 0)
    const length = whole(byteLength, NaN)
    const stride = whole(byteStride, 4)
    if (!(from + length <= most) || !(stride >= 1 && stride <= 252)) throw wrong('a stretch of data lies beyond its end')
  }
  for (const { bufferView, uri, mimeType } of images) {
    if (uri !== undefined) continue
    refer(bufferView, 'bufferViews', 'a picture')
    if (!PICTURES.includes(String(mimeType))) throw wrong('a picture is neither PNG, JPEG nor WebP')
  }
}

/** Whether a buffer only stands for what meshopt's compression unpacks (EXT_meshopt_compression). */
function isFallback(extensions: unknown): boolean {
  const own = (extensions as { EXT_meshopt_compression?: { fallback?: unknown } } | undefined)?.EXT_meshopt_compression
  return own?.fallback === true
}

function checkAccessors({ accessors, bufferViews }: Lists, refer: Refer, wrong: Wrong): void {
  let values = 0
  for (const { bufferView, byteOffset, componentType, type, count, sparse } of accessors) {
    const bytes = COMPONENT_BYTES[componentType as number]
    const width = WIDTHS[type as string]
    const rows = whole(count, NaN)
    if (!bytes || !width || !(rows >= 1)) throw wrong('a column is of no kind that there is')
    values += rows * width
    if (rows > MOST_ROWS) throw wrong(`a column would hold ${rows.toLocaleString('en')} rows, more than can be held`)
    if (!(values <= MOST_VALUES)) throw wrong(`its columns would hold ${values.toLocaleString('en')} numbers, more than can be held`)
    if (bufferView !== undefined) {
      const view = bufferViews[refer(bufferView, 'bufferViews', 'a column')]
      const stride = whole(view.byteStride, bytes * width)
      if (!(whole(byteOffset, 0) + stride * (rows - 1) + bytes * width <= whole(view.byteLength, 0))) throw wrong('a column is longer than its data')
    }
    if (sparse !== undefined) {
      const { count: some, indices, values: own } = (sparse ?? {}) as { count?: unknown; indices?: Plain; values?: Plain }
      if (!(whole(some, NaN) <= rows) || typeof indices !== 'object' || typeof own !== 'object') throw wrong('a sparse column does not hold together')
      for (const part of [indices, own]) refer(part?.bufferView, 'bufferViews', 'a sparse column')
    }
  }
}

function primitivesOf({ primitives }: Plain, wrong: Wrong): readonly Plain[] {
  if (!Array.isArray(primitives) || primitives.length === 0 || primitives.some((one) => typeof one !== 'object' || one === null)) throw wrong('a mesh has no parts')
  return primitives as Plain[]
}

function checkPrimitive({ attributes, indices, material, mode, targets }: Plain, { accessors }: Lists, refer: Refer, wrong: Wrong): void {
  if (typeof attributes !== 'object' || attributes === null || Array.isArray(attributes)) throw wrong('a part of a mesh has no columns')
  const lengths = Object.entries(attributes as Plain).map(([key, at]) => {
    const { count, type } = accessors[refer(at, 'accessors', 'a part of a mesh')]
    if (key === 'POSITION' && type !== 'VEC3') throw wrong('the places of a mesh are no places')
    if (key === 'NORMAL' && type !== 'VEC3') throw wrong('the normals of a mesh are no directions')
    if (key === 'TANGENT' && type !== 'VEC4') throw wrong('the tangents of a mesh are no directions')
    return count
  })
  if (new Set(lengths).size > 1) throw wrong('the columns of a mesh are of different length')
  if (indices !== undefined && accessors[refer(indices, 'accessors', 'a part of a mesh')].type !== 'SCALAR') throw wrong('the corners of a mesh are no numbers')
  if (material !== undefined) refer(material, 'materials', 'a part of a mesh')
  if (mode !== undefined && !(whole(mode, NaN) <= 6)) throw wrong('a mesh is of no kind that there is')
  if (targets !== undefined && !Array.isArray(targets)) throw wrong('the shapes of a mesh are no list')
}

/** Textures named anywhere in a material: those members that are objects with an `index`. */
function checkMaterials({ materials, textures }: Lists, refer: Refer, wrong: Wrong): void {
  const look = (value: unknown, depth: number): void => {
    if (typeof value !== 'object' || value === null || depth > 8) return
    for (const [key, one] of Object.entries(value)) {
      if (key.endsWith('Texture') && typeof one === 'object' && one !== null && 'index' in one) refer(one.index, 'textures', 'a material')
      look(one, depth + 1)
    }
  }
  const shares = (value: unknown, length: number) =>
    value === undefined || (Array.isArray(value) && value.length === length && value.every((v) => typeof v === 'number' && v >= 0 && v <= 1))
  for (const material of materials) {
    look(material, 0)
    const { pbrMetallicRoughness, emissiveFactor } = material
    const { baseColorFactor, metallicFactor = 0, roughnessFactor = 0 } = (pbrMetallicRoughness ?? {}) as Plain
    if (!shares(baseColorFactor, 4) || !shares(emissiveFactor, 3) || !shares([metallicFactor, roughnessFactor], 2)) throw wrong('a material has a colour or a gloss that cannot be')
  }
  for (const { source, sampler } of textures) {
    if (source !== undefined) refer(source, 'images', 'a texture')
    if (sampler !== undefined) refer(sampler, 'samplers', 'a texture')
  }
}

/** Checks the tree of nodes and returns how often each mesh is placed. */
function checkNodes(json: GltfJson, { nodes, scenes }: Lists, refer: Refer, wrong: Wrong, name: string): Map<number, number> {
  if (nodes.length > MOST_NODES)
    throw new ProblemError(`“${name}” has ${nodes.length.toLocaleString('en')} nodes; at most ${MOST_NODES.toLocaleString('en')} can be read, so join its parts first.`)
  const parents = new Int32Array(nodes.length).fill(-1)
  nodes.forEach(({ children, matrix, translation, rotation, scale, mesh, skin, camera }, i) => {
    for (const [list, length] of [[matrix, 16], [translation, 3], [rotation, 4], [scale, 3]] as const)
      if (list !== undefined && !(Array.isArray(list) && list.length === length && list.every((v) => typeof v === 'number' && Number.isFinite(v)))) throw wrong('a node stands at no possible place')
    if (mesh !== undefined) refer(mesh, 'meshes', 'a node')
    if (skin !== undefined) refer(skin, 'skins', 'a node')
    if (camera !== undefined) refer(camera, 'cameras', 'a node')
    if (children === undefined) return
    if (!Array.isArray(children)) throw wrong('the children of a node are no list')
    for (const child of children) {
      const at = refer(child, 'nodes', 'a node')
      if (parents[at] >= 0 || at === i) throw wrong('a node has two parents')
      parents[at] = i
    }
  })
  for (let i = 0; i < nodes.length; i++) {
    let depth = 0
    for (let at = i; at >= 0; at = parents[at]) if (depth++ > DEEPEST) throw wrong(`its nodes lie in each other more than ${DEEPEST} deep`)
  }
  if (json.scene !== undefined) refer(json.scene, 'scenes', 'it')
  for (const { nodes: roots } of scenes) {
    if (roots !== undefined && !Array.isArray(roots)) throw wrong('the nodes of a scene are no list')
    for (const root of (roots as unknown[] | undefined) ?? []) refer(root, 'nodes', 'a scene')
  }
  const placings = new Map<number, number>()
  for (const { mesh } of nodes) if (typeof mesh === 'number') placings.set(mesh, (placings.get(mesh) ?? 0) + 1)
  return placings
}

function trianglesOf({ attributes, indices }: Plain, { accessors }: Lists): number {
  const column = indices ?? (attributes as Plain).POSITION
  return typeof column === 'number' ? Math.floor(Number(accessors[column]?.count ?? 0) / 3) : 0
}
