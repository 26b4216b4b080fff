import type { Accessor, Document, Primitive } from '@gltf-transform/core'
import { WebIO } from '@gltf-transform/core'
import type { AssetMeasures } from '../core/asset/measure.ts'
import { measureAsset } from '../core/asset/measure.ts'
import { orientFaces } from '../core/grounds/mesh-orient.ts'
import { weldShape } from '../core/grounds/mesh-shape.ts'
import type { ReadModel } from './asset-import.ts'
import { EXTENSIONS, placed } from './model-parts.ts'
import { tintModel } from './model-tint.ts'
import type { Repair } from './repair.ts'

export interface RepairedAsset {
  /** How many faces were turned so that all look outwards, and whether they have two sides at all. */
  readonly turned: number
  readonly oneSided: boolean
  /** All triangles, nine coordinates each, m. */
  readonly corners: Float32Array<ArrayBuffer>
  readonly glb: Uint8Array<ArrayBuffer>
  readonly measures: AssetMeasures
  readonly triangles: number
}

/** A primitive of the result: plain columns, repaired, world placed. */
interface FlatPart {
  readonly primitive: Primitive
  readonly positions: Float32Array<ArrayBuffer>
}

/** Repairs a model in place and writes it as a GLB with one node, everything baked into it. */
export async function repairModel({ document }: ReadModel, repair: Repair, name: string): Promise<RepairedAsset> {
  const parts: FlatPart[] = []
  const root = document.getRoot()
  const buffer = root.listBuffers()[0] ?? document.createBuffer()
  let triangles = 0
  for (const { primitive, matrix } of [...placed(document)]) {
    if (!primitive.getAttribute('POSITION')) continue
    const part = bake(document, primitive, matrix, repair)
    triangles += Math.floor((part.primitive.getIndices()?.getCount() ?? part.positions.length / 3) / 3)
    parts.push(part)
  }
  settlePivot(parts, repair.pivot)
  const { turned, count, oneSided } = orientFaces(weldShape(cornersOf(parts)), triangles)
  if (count > 0) turnFaces(parts, turned)
  if (repair.flip) turnFaces(parts, null)
  for (const part of parts)
    part.primitive.setAttribute(
      'POSITION',
      document.createAccessor().setType('VEC3').setArray(part.positions).setBuffer(buffer),
    )
  tintModel(document, parts.map(({ primitive }) => primitive), repair.tint)
  replaceScene(document, parts, name)
  const measures = measureAsset(parts.map((part) => part.positions))
  const glb = (await new WebIO().registerExtensions(EXTENSIONS).writeBinary(document)) as Uint8Array<ArrayBuffer>
  return { glb, measures, triangles, turned: count, oneSided, corners: cornersOf(parts) }
}

/** Turns the faces that are marked, all of them without marks; normals follow where all corners agree, else they are made anew. */
function turnFaces(parts: readonly FlatPart[], marks: Uint8Array | null): void {
  let first = 0
  for (const { primitive, positions } of parts) {
    const indices = primitive.getIndices()?.getArray() as Uint32Array<ArrayBuffer>
    const faces = indices.length / 3
    let turned = 0
    for (let f = 0; f < faces; f++) {
      if (marks && marks[first + f] === 0) continue
      turned++
      const a = indices[3 * f]
      indices[3 * f] = indices[3 * f + 1]
      indices[3 * f + 1] = a
    }
    first += faces
    primitive.getIndices()?.setArray(indices)
    const normal = primitive.getAttribute('NORMAL')
    if (turned === 0 || !normal) continue
    normal.setArray(turned === faces ? (normal.getArray() as Float32Array<ArrayBuffer>).map((v) => -v) : smoothNormals(positions, indices))
  }
}

/** All triangles, nine coordinates each. */
function cornersOf(parts: readonly FlatPart[]): Float32Array<ArrayBuffer> {
  const lists = parts.map(({ primitive, positions }) => ({ positions, indices: primitive.getIndices()?.getArray() ?? Uint32Array.from({ length: positions.length / 3 }, (_, i) => i) }))
  const corners = new Float32Array(3 * lists.reduce((sum, { indices }) => sum + indices.length, 0))
  let at = 0
  for (const { positions, indices } of lists)
    for (let i = 0; i < indices.length; i++) for (let c = 0; c < 3; c++) corners[at++] = positions[3 * indices[i] + c]
  return corners
}

const UP_AXES: Record<Repair['up'], (v: number[]) => number[]> = {
  y: (v) => v,
  z: ([x, y, z]) => [x, z, -y],
  x: ([x, y, z]) => [-y, x, z],
}

/** Columns that a model keeps; those of bones and of unknown names are left out. */
const KEPT = /^(POSITION|NORMAL|TANGENT|TEXCOORD_\d+|COLOR_\d+|_.+)$/

/** The column itself, or a copy in which what is no number is 0. */
function withoutNaN(accessor: Accessor | null): Accessor | null {
  const array = accessor?.getArray()
  if (!accessor || !(array instanceof Float32Array) || array.every(Number.isFinite)) return accessor
  return accessor.clone().setArray(array.map((v) => (Number.isFinite(v) ? v : 0)) as Float32Array<ArrayBuffer>)
}

function bake(document: Document, source: Primitive, m: number[], { up, scale }: Repair): FlatPart {
  const buffer = document.getRoot().listBuffers()[0]
  const primitive = source.clone()
  for (const target of primitive.listTargets()) primitive.removeTarget(target)
  for (const semantic of primitive.listSemantics()) {
    if (!KEPT.test(semantic)) primitive.setAttribute(semantic, null)
    else if (!/^(POSITION|NORMAL|TANGENT)$/.test(semantic)) primitive.setAttribute(semantic, withoutNaN(primitive.getAttribute(semantic)))
  }
  const turnUp = UP_AXES[up]
  const position = source.getAttribute('POSITION') as Accessor
  const count = position.getCount()
  const positions = new Float32Array(3 * count)
  const v = [0, 0, 0]
  for (let i = 0; i < count; i++) {
    position.getElement(i, v)
    const world = [0, 1, 2].map((c) => m[c] * v[0] + m[4 + c] * v[1] + m[8 + c] * v[2] + m[12 + c])
    positions.set(
      turnUp(world).map((value) => value * scale),
      3 * i,
    )
  }
  const determinant =
    m[0] * (m[5] * m[10] - m[6] * m[9]) - m[4] * (m[1] * m[10] - m[2] * m[9]) + m[8] * (m[1] * m[6] - m[2] * m[5])
  const indices = indicesOf(source, count, determinant < 0)
  primitive.setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer))
  const cofactor = cofactors(m)
  const normal = source.getAttribute('NORMAL')
  const normals = normal
    ? directions(normal, (n) => turnUp(multiply3(cofactor, n)))
    : smoothNormals(positions, indices)
  primitive.setAttribute('NORMAL', document.createAccessor().setType('VEC3').setArray(normals).setBuffer(buffer))
  const tangent = source.getAttribute('TANGENT')
  if (tangent) {
    const tangents = directions(tangent, (t) => turnUp(multiply3([m[0], m[1], m[2], m[4], m[5], m[6], m[8], m[9], m[10]], t)))
    primitive.setAttribute('TANGENT', document.createAccessor().setType('VEC4').setArray(tangents).setBuffer(buffer))
  }
  return { primitive, positions }
}

function indicesOf(source: Primitive, count: number, flipped: boolean): Uint32Array<ArrayBuffer> {
  const given = source.getIndices()
  const length = given ? given.getCount() - (given.getCount() % 3) : count - (count % 3)
  const indices = new Uint32Array(length)
  for (let i = 0; i < length; i++) indices[i] = given ? given.getScalar(i) : i
  if (flipped)
    for (let i = 0; i < length; i += 3) {
      const a = indices[i]
      indices[i] = indices[i + 1]
      indices[i + 1] = a
    }
  return indices
}

/** Cofactor matrix of the upper 3 × 3, column by column: what normals are turned by. */
function cofactors(m: number[]): number[] {
  const sign =
    m[0] * (m[5] * m[10] - m[6] * m[9]) - m[4] * (m[1] * m[10] - m[2] * m[9]) + m[8] * (m[1] * m[6] - m[2] * m[5]) < 0
      ? -1
      : 1
  return [
    m[5] * m[10] - m[6] * m[9],
    m[6] * m[8] - m[4] * m[10],
    m[4] * m[9] - m[5] * m[8],
    m[2] * m[9] - m[1] * m[10],
    m[0] * m[10] - m[2] * m[8],
    m[1] * m[8] - m[0] * m[9],
    m[1] * m[6] - m[2] * m[5],
    m[2] * m[4] - m[0] * m[6],
    m[0] * m[5] - m[1] * m[4],
  ].map((value) => value * sign)
}

function multiply3(m: number[], v: number[]): number[] {
  return [0, 1, 2].map((c) => m[c] * v[0] + m[3 + c] * v[1] + m[6 + c] * v[2])
}

/** Turns unit vectors and makes them unit again; a null vector becomes up. Keeps a fourth component. */
function directions(accessor: Accessor, turn: (v: number[]) => number[]): Float32Array<ArrayBuffer> {
  const width = accessor.getElementSize()
  const out = new Float32Array(width * accessor.getCount())
  const v: number[] = []
  for (let i = 0; i < accessor.getCount(); i++) {
    accessor.getElement(i, v)
    const t = turn(v.slice(0, 3))
    const length = Math.hypot(t[0], t[1], t[2])
    const unit = length > 1e-20 && length < Infinity ? t.map((c) => c / length) : [0, 1, 0]
    out.set(unit, width * i)
    if (width === 4) out[4 * i + 3] = v[3] < 0 ? -1 : 1
  }
  return out
}

/** Area-weighted vertex normals. */
export function smoothNormals(
  positions: Float32Array,
  indices: Uint32Array,
): Float32Array<ArrayBuffer> {
  const normals = new Float32Array(positions.length)
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const e = [0, 1, 2].map((k) => positions[b + k] - positions[a + k])
    const f = [0, 1, 2].map((k) => positions[c + k] - positions[a + k])
    const n = [e[1] * f[2] - e[2] * f[1], e[2] * f[0] - e[0] * f[2], e[0] * f[1] - e[1] * f[0]]
    for (const at of [a, b, c]) for (let k = 0; k < 3; k++) normals[at + k] += n[k]
  }
  for (let i = 0; i < normals.length; i += 3) {
    const length = Math.hypot(normals[i], normals[i + 1], normals[i + 2])
    if (length > 1e-20) for (let k = 0; k < 3; k++) normals[i + k] /= length
    else normals[i + 1] = 1
  }
  return normals
}

function settlePivot(parts: readonly FlatPart[], pivot: Repair['pivot']): void {
  if (pivot === 'keep') return
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  for (const { positions } of parts)
    for (let i = 0; i < positions.length; i++) {
      if (positions[i] < low[i % 3]) low[i % 3] = positions[i]
      if (positions[i] > high[i % 3]) high[i % 3] = positions[i]
    }
  const shift = [
    (low[0] + high[0]) / 2,
    pivot === 'base' ? low[1] : (low[1] + high[1]) / 2,
    (low[2] + high[2]) / 2,
  ]
  for (const { positions } of parts) for (let i = 0; i < positions.length; i++) positions[i] -= shift[i % 3]
}

/** Leaves one scene with one node and mesh made of the parts, and drops what nobody refers to. */
function replaceScene(document: Document, parts: readonly FlatPart[], name: string): void {
  const root = document.getRoot()
  for (const animation of root.listAnimations()) animation.dispose()
  for (const skin of root.listSkins()) skin.dispose()
  for (const camera of root.listCameras()) camera.dispose()
  for (const node of root.listNodes()) node.dispose()
  for (const scene of root.listScenes()) scene.dispose()
  for (const mesh of root.listMeshes()) mesh.dispose()
  const mesh = document.createMesh(name)
  for (const { primitive } of parts) mesh.addPrimitive(primitive)
  const node = document.createNode(name).setMesh(mesh)
  root.setDefaultScene(document.createScene().addChild(node))
  const unused = <T extends { listParents(): { propertyType: string }[]; dispose(): void }>(list: T[]) => {
    for (const entry of list) if (entry.listParents().every((parent) => parent.propertyType === 'Root')) entry.dispose()
  }
  // Primitives of the old meshes still hold accessors; they are no longer below any mesh.
  for (const accessor of root.listAccessors())
    for (const parent of accessor.listParents())
      if (parent.propertyType === 'Primitive' && parent.listParents().length === 0) parent.dispose()
  unused(root.listMaterials().filter((material) => material.listParents().every((p) => p.propertyType === 'Root' || (p.propertyType === 'Primitive' && p.listParents().length === 0))))
  unused(root.listAccessors())
  unused(root.listTextures())
  const buffers = root.listBuffers()
  for (const accessor of root.listAccessors()) accessor.setBuffer(buffers[0])
  for (const buffer of buffers.slice(1)) buffer.dispose()
}
