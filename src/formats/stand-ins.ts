import type { Primitive } from '@gltf-transform/core'
import { WebIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS } from '@gltf-transform/extensions'
import { MeshoptSimplifier } from 'meshoptimizer'
import { silhouettes } from './silhouette.ts'

export interface StandIn {
  readonly glb: Uint8Array<ArrayBuffer>
  readonly triangles: number
}

/** Triangles that a stand-in may have at most, and its share of the full form; nearest first. */
const FORMS = [
  { share: 0.25, most: 400 },
  { share: 0.04, most: 48 },
]

/** Share of the full form's silhouettes that a lighter one must keep. */
const KEEPS = 0.9

/**
 * Makes two lighter forms of a repaired asset: edge collapse first (Garland & Heckbert's quadrics,
 * by meshoptimizer), and vertex clustering where that cannot get low enough. A form that loses too much of
 * the silhouette from eight sides gets more triangles; where none keeps it, the form before stands in.
 * `corners` are all triangles of the full form, nine coordinates each.
 */
export async function makeStandIns(glb: Uint8Array<ArrayBuffer>, triangles: number, corners: Float32Array): Promise<StandIn[]> {
  await MeshoptSimplifier.ready
  const full = outlineOf(corners)
  const forms: StandIn[] = []
  let before: StandIn = { glb, triangles }
  for (const { share, most } of FORMS) {
    for (let wanted = Math.max(4, Math.min(Math.round(triangles * share), most)); wanted < before.triangles; wanted *= 2) {
      const form = await lighterForm(glb, wanted / triangles)
      if (form.triangles >= before.triangles) break
      if (keeps(full, form.corners)) {
        before = { glb: form.glb, triangles: form.triangles }
        break
      }
    }
    forms.push(before)
  }
  return forms
}

interface Outline {
  readonly radius: number
  readonly height: number
  readonly lowest: number
  readonly areas: readonly number[]
}

function outlineOf(corners: Float32Array): Outline {
  let radius = 0
  let lowest = Infinity
  let highest = -Infinity
  for (let i = 0; i < corners.length; i += 3) {
    radius = Math.max(radius, Math.hypot(corners[i], corners[i + 2]))
    lowest = Math.min(lowest, corners[i + 1])
    highest = Math.max(highest, corners[i + 1])
  }
  const height = highest - lowest
  return { radius, height, lowest, areas: silhouettes(standing(corners, lowest), radius, height) }
}

/** The corners with the lowest at 0. */
function standing(corners: Float32Array, lowest: number): Float32Array {
  return lowest === 0 ? corners : corners.map((v, i) => (i % 3 === 1 ? v - lowest : v))
}

/** Whether a form keeps enough of the silhouettes, all sides together and no side much less. */
function keeps({ radius, height, lowest, areas }: Outline, corners: Float32Array): boolean {
  const own = silhouettes(standing(corners, lowest), radius, height)
  const sum = (list: readonly number[]) => list.reduce((all, one) => all + one, 0)
  return sum(own) >= KEEPS * sum(areas) && own.every((area, side) => area >= (KEEPS - 0.1) * areas[side])
}

async function lighterForm(glb: Uint8Array<ArrayBuffer>, share: number): Promise<StandIn & { readonly corners: Float32Array }> {
  const io = new WebIO().registerExtensions(ALL_EXTENSIONS)
  const document = await io.readBinary(glb)
  const primitives = document.getRoot().listMeshes().flatMap((mesh) => mesh.listPrimitives())
  let total = 0
  for (const primitive of primitives) total += lighten(primitive, share)
  for (const accessor of document.getRoot().listAccessors())
    if (accessor.listParents().every((parent) => parent.propertyType === 'Root')) accessor.dispose()
  const corners: number[] = []
  for (const primitive of primitives) {
    const positions = primitive.getAttribute('POSITION')?.getArray() ?? []
    for (const index of primitive.getIndices()?.getArray() ?? []) corners.push(positions[3 * index], positions[3 * index + 1], positions[3 * index + 2])
  }
  return { glb: (await io.writeBinary(document)) as Uint8Array<ArrayBuffer>, triangles: total, corners: Float32Array.from(corners) }
}

function lighten(primitive: Primitive, share: number): number {
  const positionAccessor = primitive.getAttribute('POSITION')
  const indexAccessor = primitive.getIndices()
  if (!positionAccessor || !indexAccessor) return 0
  const positions = Float32Array.from(positionAccessor.getArray() ?? [])
  const indices = Uint32Array.from(indexAccessor.getArray() ?? [])
  const aim = Math.max(3, Math.floor((indices.length * share) / 3) * 3)
  const pieces = piecesOf(indices, positions)
  let lighter: Uint32Array
  if (pieces.length >= FEWEST_PIECES) {
    // Half of the way by plainer pieces, the rest by fewer.
    const plainer = MeshoptSimplifier.simplify(indices, positions, 3, Math.floor(Math.sqrt(share) * (indices.length / 3)) * 3, PLAIN_ERROR)[0]
    lighter = fewer(piecesOf(plainer, positions), positions, aim)
  } else {
    ;[lighter] = MeshoptSimplifier.simplify(indices, positions, 3, aim, 1)
    if (lighter.length > 1.5 * aim) [lighter] = MeshoptSimplifier.simplifySloppy(indices, positions, 3, null, aim, 1)
  }
  if (lighter.length < 3) lighter = indices.slice(0, 3)
  const [remap, unique] = MeshoptSimplifier.compactMesh(lighter)
  for (const semantic of primitive.listSemantics()) {
    const accessor = primitive.getAttribute(semantic)
    const array = semantic === 'POSITION' ? positions : accessor?.getArray()
    if (!accessor || !array) continue
    const width = accessor.getElementSize()
    const packed = new (array.constructor as new (length: number) => typeof array)(width * unique)
    for (let v = 0; v < remap.length; v++)
      if (remap[v] !== 0xffffffff) for (let c = 0; c < width; c++) packed[width * remap[v] + c] = array[width * v + c]
    primitive.setAttribute(semantic, accessor.clone().setArray(packed))
  }
  primitive.setIndices(indexAccessor.clone().setArray(lighter))
  return lighter.length / 3
}

/** From so many separate pieces on, a mesh is foliage: pieces are left out rather than melted together. */
const FEWEST_PIECES = 6
/** How far plainer pieces may leave the true ones, as a share of the mesh's extent. */
const PLAIN_ERROR = 0.02
/** What is left of the pieces grows sideways to cover for the others, up to this factor. */
const WIDEST = 2.4

/** The connected pieces of a mesh, as their triangles; corners at one place are connected. */
function piecesOf(indices: Uint32Array, positions: Float32Array): number[][] {
  const corners = new Map<string, number>()
  const first = new Int32Array(positions.length / 3).fill(-1)
  const up: number[] = []
  const root = (n: number): number => {
    while (up[n] !== n) n = up[n] = up[up[n]]
    return n
  }
  const node = (v: number): number => {
    if (first[v] >= 0) return first[v]
    const place = `${positions[3 * v]},${positions[3 * v + 1]},${positions[3 * v + 2]}`
    let n = corners.get(place)
    if (n === undefined) {
      n = up.length
      up.push(n)
      corners.set(place, n)
    }
    first[v] = n
    return n
  }
  for (let t = 0; t < indices.length; t += 3) {
    const a = root(node(indices[t]))
    for (let k = 1; k < 3; k++) up[root(node(indices[t + k]))] = a
  }
  const pieces = new Map<number, number[]>()
  for (let t = 0; t < indices.length; t += 3) {
    const at = root(node(indices[t]))
    const found = pieces.get(at)
    if (found) found.push(indices[t], indices[t + 1], indices[t + 2])
    else pieces.set(at, [indices[t], indices[t + 1], indices[t + 2]])
  }
  return [...pieces.values()]
}

/**
 * Leaves out pieces until `aim` indices are left, evenly over the list, and widens those that stay
 * about their own middles so that as much is covered (Cook, Halstead, Planck & Ryu 2007, stochastic
 * simplification of aggregate detail). Heights stay. Writes the widened places to `positions`.
 */
function fewer(pieces: number[][], positions: Float32Array, aim: number): Uint32Array {
  const all = pieces.reduce((sum, piece) => sum + piece.length, 0)
  const heights = pieces.map((piece) => piece.reduce((top, v) => Math.max(top, positions[3 * v + 1]), -Infinity))
  const tallest = heights.indexOf(Math.max(...heights))
  // The tallest stays; of the others the golden ratio's multiples fall evenly, however many are taken.
  const order = pieces.map((piece, i) => ({ piece, at: i === tallest ? -1 : (i * 0.6180339887498949) % 1 })).sort((p, q) => p.at - q.at)
  const kept: number[] = []
  for (const { piece } of order) if (kept.length === 0 || kept.length + piece.length <= aim) kept.push(...piece)
  const widen = Math.min(WIDEST, Math.max(1, all / kept.length)) ** 0.75
  const moved = new Set<number>()
  for (const { piece } of order) {
    const own = [...new Set(piece)]
    const x = own.reduce((sum, v) => sum + positions[3 * v], 0) / own.length
    const z = own.reduce((sum, v) => sum + positions[3 * v + 2], 0) / own.length
    for (const v of own) {
      if (moved.has(v)) continue
      moved.add(v)
      positions[3 * v] = x + (positions[3 * v] - x) * widen
      positions[3 * v + 2] = z + (positions[3 * v + 2] - z) * widen
    }
  }
  return Uint32Array.from(kept)
}
