import { ProblemError } from '../document/problem.ts'
import type { BuiltPart } from './asset-build.ts'
import { decodeText } from './decode-text.ts'
import { linear } from './srgb.ts'

/** Wavefront OBJ with its MTL, read in one pass over the text. Faces of more than three corners are cut into fans. */

const MOST_CORNERS = 6_000_000
const GREY = 190

/** A file beside the mesh: its materials, or a texture that these name. */
export interface FileBeside {
  readonly name: string
  readonly bytes: Uint8Array<ArrayBuffer>
}

export interface ObjMesh {
  readonly parts: readonly BuiltPart[]
  /** What is left out, in words. */
  readonly notes: readonly string[]
}

interface MtlMaterial {
  readonly name: string
  /** Linear 0…1, as files give it in sRGB. */
  colour: readonly [number, number, number] | null
  texture: string | null
  opacity: number
}

/** Growing columns of numbers. */
class Column {
  values = new Float64Array(1024)
  length = 0
  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = new Float64Array(2 * this.length)
      larger.set(this.values)
      this.values = larger
    }
    this.values[this.length++] = value
  }
}

interface Gathered {
  readonly places: Column
  readonly colours: Column
  readonly normals: Column
  readonly textures: Column
  /** Corners of triangles, v vt vn each counting from 1, 0 for none, by material. */
  readonly corners: Map<string, Column>
  readonly libraries: string[]
  lines: number
}

/** Reads an OBJ. Throws ProblemError. `report` tells the share that is read. */
export function readObj(bytes: Uint8Array<ArrayBuffer>, name: string, beside: readonly FileBeside[], report: (share: number) => void = () => undefined): ObjMesh {
  const text = decodeText(bytes)
  const found: Gathered = { places: new Column(), colours: new Column(), normals: new Column(), textures: new Column(), corners: new Map(), libraries: [], lines: 0 }
  let material = ''
  let faces = 0
  const damaged = (what: string) => new ProblemError(`“${name}” is no OBJ that can be read: line ${found.lines.toLocaleString('en')} ${what}.`)
  for (let at = 0; at < text.length; ) {
    let end = text.indexOf('\n', at)
    if (end < 0) end = text.length
    found.lines++
    if (found.lines % 65536 === 0) report(at / text.length)
    const words = wordsOf(text, at, end)
    at = end + 1
    switch (words[0]) {
      case 'v':
        pushNumbers(found.places, words, 3, damaged)
        if (words.length >= 7) {
          while (found.colours.length < found.places.length - 3) found.colours.push(GREY / 255)
          for (let c = 4; c < 7; c++) found.colours.push(Number(words[c]))
        }
        break
      case 'vn':
        pushNumbers(found.normals, words, 3, damaged)
        break
      case 'vt':
        pushNumbers(found.textures, words, 2, damaged)
        break
      case 'f':
        faces++
        pushFace(found, material, words, damaged)
        break
      case 'usemtl':
        material = words.slice(1).join(' ')
        break
      case 'mtllib':
        found.libraries.push(words.slice(1).join(' '))
    }
  }
  if (found.places.length === 0 || faces === 0) throw new ProblemError(`“${name}” holds no vertices and faces, so it is no OBJ mesh; export it again.`)
  return assemble(found, name, beside)
}

/** Words of a line between white space, up to a comment. */
function wordsOf(text: string, from: number, end: number): string[] {
  const words: string[] = []
  for (let at = from; at < end; ) {
    while (at < end && text.charCodeAt(at) <= 32) at++
    if (at >= end || text[at] === '#') break
    const start = at
    while (at < end && text.charCodeAt(at) > 32) at++
    words.push(text.slice(start, at))
  }
  return words
}

function pushNumbers(into: Column, words: readonly string[], count: number, damaged: (what: string) => ProblemError): void {
  for (let k = 1; k <= count; k++) {
    const value = words[k] === undefined && count === 2 ? 0 : Number(words[k])
    if (!(Math.abs(value) < 1e30)) throw damaged(words[k] === undefined ? 'ends where a number should be' : `has “${words[k].slice(0, 20)}” where a number should be`)
    into.push(value)
  }
}

function pushFace(found: Gathered, material: string, words: readonly string[], damaged: (what: string) => ProblemError): void {
  let corners = found.corners.get(material)
  if (!corners) {
    corners = new Column()
    found.corners.set(material, corners)
  }
  const lengths = [found.places.length / 3, found.textures.length / 2, found.normals.length / 3]
  const face: number[] = []
  for (let k = 1; k < words.length; k++) {
    const parts = words[k].split('/')
    for (let c = 0; c < 3; c++) {
      if (parts[c] === undefined || parts[c] === '') {
        face.push(0)
        continue
      }
      const told = Number(parts[c])
      const index = told < 0 ? lengths[c] + told + 1 : told
      if (!Number.isInteger(index) || index < 1 || (c === 0 && index > lengths[0])) throw damaged('has a face that names a corner which is not there')
      // Textures and normals may come later in the file, or not at all.
      face.push(index)
    }
    if (face[face.length - 3] === 0) throw damaged('has a face without corners')
  }
  for (let k = 6; k + 2 < face.length; k += 3) {
    for (const from of [0, k - 3, k]) for (let c = 0; c < 3; c++) corners.push(face[from + c])
    if (corners.length > 3 * MOST_CORNERS) throw new ProblemError(`There are more than ${(MOST_CORNERS / 3).toLocaleString('en')} triangles in the file, more than can be held; lighten it first.`)
  }
}

function assemble(found: Gathered, name: string, beside: readonly FileBeside[]): ObjMesh {
  const notes: string[] = []
  const materials = new Map<string, MtlMaterial>()
  const missing: string[] = []
  for (const wanted of found.libraries) {
    const file = fileCalled(beside, wanted)
    if (file) for (const one of readMtl(file.bytes)) materials.set(one.name, one)
    else missing.push(wanted)
  }
  const named = [...found.corners.keys()].filter((key) => key !== '')
  if (missing.length > 0) notes.push(`Its materials are in “${missing[0].slice(0, 60)}”, which was not chosen with it: choose both files together to keep its colours.`)
  else if (named.some((key) => !materials.has(key))) notes.push('Some of its materials are not described in its files; they are grey.')
  const lost = new Set<string>()
  const parts = [...found.corners].flatMap(([key, corners]) => partOf(found, key, corners, materials.get(key) ?? null, beside, lost) ?? [])
  if (lost.size > 0) notes.push(`The texture “${[...lost][0].slice(0, 60)}” was not chosen with it, or is neither PNG nor JPEG; its colour stands in.`)
  if (parts.length === 0) throw new ProblemError(`“${name}” has no triangles to show; export the model as a mesh.`)
  return { parts, notes }
}

/** The file beside the mesh that a path within it means. */
function fileCalled(beside: readonly FileBeside[], path: string): FileBeside | undefined {
  const last = (text: string) => text.replaceAll('\\', '/').split('/').at(-1)?.toLowerCase()
  return beside.find((file) => last(file.name) === last(path))
}

function readMtl(bytes: Uint8Array<ArrayBuffer>): MtlMaterial[] {
  const materials: MtlMaterial[] = []
  for (const line of decodeText(bytes).split('\n')) {
    const words = wordsOf(line, 0, line.length)
    const current = materials.at(-1)
    if (words[0] === 'newmtl') materials.push({ name: words.slice(1).join(' '), colour: null, texture: null, opacity: 1 })
    else if (!current) continue
    else if (words[0] === 'Kd') current.colour = [1, 2, 3].map((k) => Math.min(1, Math.max(0, Number(words[k]) || 0))) as [number, number, number]
    else if (words[0] === 'd') current.opacity = Math.min(1, Math.max(0, Number(words[1]) || 0))
    else if (words[0] === 'map_Kd') current.texture = words.filter((word, k) => k > 0 && !word.startsWith('-')).at(-1) ?? null
  }
  return materials
}

const IMAGE_TYPES = [
  { mime: 'image/png', begins: [0x89, 0x50, 0x4e, 0x47] },
  { mime: 'image/jpeg', begins: [0xff, 0xd8, 0xff] },
] as const

function partOf({ places, colours, normals, textures }: Gathered, key: string, { values, length }: Column, material: MtlMaterial | null, beside: readonly FileBeside[], lost: Set<string>): BuiltPart | null {
  if (length === 0) return null
  const corners = length / 3
  // One vertex for each corner that is told apart by place, texture place or normal.
  const numbers = new Map<number, number[]>()
  const order: number[] = []
  const indices = new Uint32Array(corners)
  for (let k = 0; k < corners; k++) {
    const [v, vt, vn] = [values[3 * k], values[3 * k + 1], values[3 * k + 2]]
    let same = numbers.get(v)
    if (!same) numbers.set(v, (same = []))
    let vertex = same.find((at) => values[3 * order[at] + 1] === vt && values[3 * order[at] + 2] === vn)
    if (vertex === undefined) {
      vertex = order.length
      order.push(k)
      same.push(vertex)
    }
    indices[k] = vertex
  }
  const count = order.length
  const positions = new Float32Array(3 * count)
  const own = new Float32Array(3 * count)
  const uvs = new Float32Array(2 * count)
  const rgba = new Uint8Array(4 * count).fill(255)
  let hasNormals = normals.length > 0
  let hasUvs = textures.length > 0
  for (let n = 0; n < count; n++) {
    const [v, vt, vn] = [0, 1, 2].map((c) => values[3 * order[n] + c])
    for (let c = 0; c < 3; c++) positions[3 * n + c] = places.values[3 * (v - 1) + c]
    if (vn === 0 || 3 * vn > normals.length) hasNormals = false
    else for (let c = 0; c < 3; c++) own[3 * n + c] = normals.values[3 * (vn - 1) + c]
    if (vt === 0 || 2 * vt > textures.length) hasUvs = false
    else {
      uvs[2 * n] = textures.values[2 * (vt - 1)]
      uvs[2 * n + 1] = 1 - textures.values[2 * (vt - 1) + 1]
    }
    const painted = 3 * v <= colours.length
    for (let c = 0; c < 3; c++) {
      const value = painted ? colours.values[3 * (v - 1) + c] : material?.colour ? linear(material.colour[c]) : material ? 1 : GREY / 255
      rgba[4 * n + c] = Math.round(255 * Math.min(1, Math.max(0, value)))
    }
  }
  const image = material?.texture && hasUvs ? fileCalled(beside, material.texture) : undefined
  const type = image && IMAGE_TYPES.find(({ begins }) => begins.every((byte, i) => image.bytes[i] === byte))
  if (material?.texture && hasUvs && !type) lost.add(material.texture)
  if (image && type) rgba.fill(255)
  return {
    name: key || 'Part',
    positions,
    normals: hasNormals ? own : null,
    colours: rgba,
    indices,
    roughness: 0.9,
    doubleSided: true,
    ...(image && type ? { uvs, texture: { bytes: image.bytes, mime: type.mime } } : {}),
  }
}
