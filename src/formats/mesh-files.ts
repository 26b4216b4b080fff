import type { BufferGeometry } from 'three'
import { Mesh } from 'three'
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js'
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js'
import { STLLoader } from 'three/addons/loaders/STLLoader.js'
import { ProblemError } from '../document/problem.ts'
import type { BuiltPart } from './asset-build.ts'
import { buildAssetGlb } from './asset-build.ts'

/** Meshes as OBJ, PLY and STL, read by three's loaders and written as GLB, from where on they are models like others. */

const MAX_VERTICES = 6_000_000

/** Reads a mesh file by its ending. Throws ProblemError. */
export function meshFileToGlb(bytes: Uint8Array<ArrayBuffer>, name: string): Uint8Array<ArrayBuffer> {
  const lower = name.toLowerCase()
  const geometries = (() => {
    try {
      if (lower.endsWith('.obj')) return readObj(bytes, name)
      const buffer = bytes.slice().buffer
      if (lower.endsWith('.ply') && String.fromCharCode(...bytes.subarray(0, 3)) !== 'ply') throw new Error('no PLY')
      return [lower.endsWith('.ply') ? new PLYLoader().parse(buffer) : new STLLoader().parse(buffer)]
    } catch (error) {
      if (error instanceof ProblemError) throw error
      throw new ProblemError(`“${name}” is damaged, cut short, or no ${lower.slice(-3).toUpperCase()} file; export or copy it again.`, error)
    }
  })()
  const parts = geometries.flatMap((geometry, i) => partOf(geometry, i, name) ?? [])
  if (parts.length === 0) throw new ProblemError(`“${name}” has no triangles to show; export the model as a mesh.`)
  return buildAssetGlb(name.replace(/\.[^.]+$/, ''), parts)
}

function readObj(bytes: Uint8Array<ArrayBuffer>, name: string): BufferGeometry[] {
  let text: string
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    throw new ProblemError(`“${name}” is no text, so it is no OBJ; export it again.`)
  }
  if (!/^\s*v\s/m.test(text) || !/^\s*f\s/m.test(text)) throw new ProblemError(`“${name}” holds no vertices and faces, so it is no OBJ mesh; export it again.`)
  const geometries: BufferGeometry[] = []
  new OBJLoader().parse(text).traverse((object) => {
    if (object instanceof Mesh) geometries.push(object.geometry as BufferGeometry)
  })
  return geometries
}

function partOf(geometry: BufferGeometry, number: number, name: string): BuiltPart | null {
  const position = geometry.getAttribute('position')
  const count = position?.count ?? 0
  if (count < 3) return null
  if (count > MAX_VERTICES) throw new ProblemError(`“${name}” has ${count.toLocaleString('en')} corners; at most ${MAX_VERTICES.toLocaleString('en')} can be held, so lighten it first.`)
  const positions = new Float32Array(3 * count)
  for (let i = 0; i < count; i++) positions.set([position.getX(i), position.getY(i), position.getZ(i)], 3 * i)
  if (!positions.every(Number.isFinite)) throw new ProblemError(`“${name}” has a corner at no possible place; repair and export it again.`)
  const indices = geometry.index ? Uint32Array.from(geometry.index.array) : Uint32Array.from({ length: count - (count % 3) }, (_, i) => i)
  if (indices.length === 0) return null
  if (indices.some((index) => index >= count)) throw new ProblemError(`“${name}” has a face that names a corner which is not there; repair and export it again.`)
  if (!geometry.hasAttribute('normal')) geometry.computeVertexNormals()
  const normal = geometry.getAttribute('normal')
  const normals = new Float32Array(3 * count)
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [normal.getX(i), normal.getY(i), normal.getZ(i)]
    const length = Math.hypot(x, y, z)
    normals.set(length > 1e-12 ? [x / length, y / length, z / length] : [0, 1, 0], 3 * i)
  }
  const colour = geometry.getAttribute('color')
  const colours = new Uint8Array(4 * count).fill(255)
  const GREY = 190
  for (let i = 0; i < count; i++)
    colours.set(colour ? [colour.getX(i), colour.getY(i), colour.getZ(i)].map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))) : [GREY, GREY, GREY], 4 * i)
  return { name: `Part ${number + 1}`, positions, normals, colours, indices, roughness: 0.9, doubleSided: true }
}
