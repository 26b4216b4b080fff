import type { BufferGeometry } from 'three'
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js'
import { STLLoader } from 'three/addons/loaders/STLLoader.js'
import { ProblemError } from '../document/problem.ts'
import type { BuiltPart } from './asset-build.ts'
import { buildAssetGlb } from './asset-build.ts'
import type { FileBeside } from './obj-mesh.ts'
import { readObj } from './obj-mesh.ts'

/** Meshes as OBJ, PLY and STL, written as GLB, from where on they are models like others; PLY and STL are read by three's loaders. */

const MAX_VERTICES = 6_000_000

/** A mesh file as a GLB, and what is left out. */
export interface MeshFile {
  readonly glb: Uint8Array<ArrayBuffer>
  readonly notes: readonly string[]
}

/** Reads a mesh file by its ending; `beside` are the files chosen with it. Throws ProblemError. */
export function meshFileToGlb(bytes: Uint8Array<ArrayBuffer>, name: string, beside: readonly FileBeside[] = [], report?: (share: number) => void): MeshFile {
  const lower = name.toLowerCase()
  const title = name.replace(/\.[^.]+$/, '')
  if (lower.endsWith('.obj')) {
    const { parts, notes } = readObj(bytes, name, beside, report)
    return { glb: buildAssetGlb(title, parts), notes }
  }
  if (lower.endsWith('.ply')) checkPly(bytes, name)
  else checkStl(bytes, name)
  const geometry = (() => {
    try {
      const buffer = bytes.slice().buffer
      return lower.endsWith('.ply') ? new PLYLoader().parse(buffer) : new STLLoader().parse(buffer)
    } catch (error) {
      throw damagedFile(name, error)
    }
  })()
  const part = partOf(geometry, 0, name)
  if (!part) throw new ProblemError(`“${name}” has no triangles to show; export the model as a mesh.`)
  return { glb: buildAssetGlb(title, [part]), notes: [] }
}

function damagedFile(name: string, cause?: unknown): ProblemError {
  return new ProblemError(`“${name}” is damaged, cut short, or no ${name.slice(-3).toUpperCase()} file; export or copy it again.`, cause)
}

const PLY_BYTES: Readonly<Record<string, number>> = { char: 1, uchar: 1, int8: 1, uint8: 1, short: 2, ushort: 2, int16: 2, uint16: 2, int: 4, uint: 4, int32: 4, uint32: 4, float: 4, float32: 4, double: 8, float64: 8 }
const MOST_HEADER = 65536

/** The header of a PLY (Turk 1994): every element announced must have room in the bytes that follow. */
function checkPly(bytes: Uint8Array<ArrayBuffer>, name: string): void {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, MOST_HEADER))
  const end = /^end_header\r?\n/m.exec(head)
  if (!head.startsWith('ply') || !end) throw damagedFile(name)
  const lines = head.slice(0, end.index).split(/\r?\n/)
  const ascii = lines.some((line) => /^format\s+ascii/.test(line))
  let least = 0
  let count = 0
  let width = 0
  const settle = () => {
    if (count > 0 && width === 0) throw damagedFile(name)
    least += count * width
  }
  for (const line of lines) {
    const words = line.trim().split(/\s+/)
    if (words[0] === 'element') {
      settle()
      count = Number(words[2])
      width = 0
      if (!Number.isInteger(count) || count < 0 || count > 2 * MAX_VERTICES) throw damagedFile(name)
    } else if (words[0] === 'property') {
      // A list takes its count at least; in text a value takes a digit and a gap.
      const bytesOf = PLY_BYTES[words[1] === 'list' ? words[2] : words[1]]
      if (!bytesOf || (words[1] === 'list' && !PLY_BYTES[words[3]])) throw damagedFile(name)
      width += ascii ? 2 : bytesOf
    }
  }
  settle()
  if (least > bytes.length - end.index + 2) throw damagedFile(name)
}

/** A binary STL must have the bytes that its count asks for; a text must begin and end as one. */
function checkStl(bytes: Uint8Array<ArrayBuffer>, name: string): void {
  const text = new TextDecoder('latin1').decode(bytes.subarray(0, 6)).trimStart().startsWith('solid')
  const count = bytes.length >= 84 ? new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true) : 0
  const whole = bytes.length >= 84 && 84 + 50 * count <= bytes.length && count > 0
  if (!whole && !text) throw damagedFile(name)
  if (count > MAX_VERTICES / 3 && whole) throw new ProblemError(`“${name}” has ${count.toLocaleString('en')} triangles; at most ${(MAX_VERTICES / 3).toLocaleString('en')} can be held, so lighten it first.`)
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
