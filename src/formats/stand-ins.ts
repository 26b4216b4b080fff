import type { Document, Primitive } from '@gltf-transform/core'
import { WebIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS } from '@gltf-transform/extensions'
import { MeshoptSimplifier } from 'meshoptimizer'
import { HEAVY_TRIANGLES as HEAVY } from '../core/asset/measure.ts'
import { silhouettes } from './silhouette.ts'

export interface StandIn {
  readonly glb: Uint8Array<ArrayBuffer>
  readonly triangles: number
}

export interface LighterForms {
  /** Nearest first. */
  readonly forms: readonly StandIn[]
  /** A GLB light enough for small pictures, as like the full form as can be. */
  readonly picture: Uint8Array<ArrayBuffer>
}

/** Triangles that a stand-in may have at most, and its share of the full form; nearest first. */
const FORMS = [
  { share: 0.25, most: 400 },
  { share: 0.04, most: 48 },
]

/** Share of the full form's silhouettes that a lighter one must keep. */
const KEEPS = 0.9
const STEP = 0.25
/** A step that leaves more than this share of the triangles is not worth another. */
const WORTH = 0.7

/**
 * Makes two lighter forms of a repaired asset: edge collapse first (Garland & Heckbert's quadrics,
 * by meshoptimizer), and vertex clustering where that cannot get low enough. A form that loses too much of
 * the silhouette from eight sides gets more triangles; where none keeps it, the form before stands in.
 * `corners` are all triangles of the full form, nine coordinates each; `tell` hears of every try.
 */
export async function makeStandIns(glb: Uint8Array<ArrayBuffer>, triangles: number, corners: Float32Array, tell: () => void = () => undefined): Promise<LighterForms> {
  await MeshoptSimplifier.ready
  const outline = outlineOf(corners)
  const fullForm = await bodiesOf(glb)
  const base = reduce(fullForm, outline, tell)
  const baseTriangles = trianglesOf(base)
  // Where steps come to an end early, what they left is as light as it gets.
  const stuck = baseTriangles > HEAVY && !base.some(isFoliage)
  const each = triangles > HEAVY ? 4 : 2
  let before: StandIn = baseTriangles < triangles ? await standInOf(glb, base) : { glb, triangles }
  const picture = before.triangles <= HEAVY ? before : await standInOf(glb, base.map((body) => lightened(body, HEAVY / baseTriangles)))
  const forms: StandIn[] = []
  for (const { share, most } of FORMS) {
    const fewest = Math.max(4, Math.min(Math.round(triangles * share), most))
    for (let wanted = stuck ? Infinity : fewest; wanted < before.triangles; wanted *= each) {
      tell()
      const lighter = base.map((body) => lightened(body, wanted / baseTriangles))
      if (trianglesOf(lighter) >= before.triangles) break
      if (keeps(outline, cornersOf(lighter))) {
        before = await standInOf(glb, lighter)
        break
      }
    }
    forms.push(before)
  }
  return { forms, picture: picture.glb }
}

/** A primitive's triangles, and the vertex of the full form that each of its own came from. */
interface Body {
  readonly positions: Float32Array
  readonly indices: Uint32Array
  readonly from: Uint32Array
}

const io = () => new WebIO().registerExtensions(ALL_EXTENSIONS)

function primitivesOf(document: Document): Primitive[] {
  return document.getRoot().listMeshes().flatMap((mesh) => mesh.listPrimitives())
}

async function bodiesOf(glb: Uint8Array<ArrayBuffer>): Promise<Body[]> {
  return primitivesOf(await io().readBinary(glb)).map((primitive) => {
    const positions = Float32Array.from(primitive.getAttribute('POSITION')?.getArray() ?? [])
    const from = Uint32Array.from({ length: positions.length / 3 }, (_, v) => v)
    return { positions, indices: Uint32Array.from(primitive.getIndices()?.getArray() ?? []), from }
  })
}

function trianglesOf(bodies: readonly Body[]): number {
  return bodies.reduce((sum, { indices }) => sum + indices.length / 3, 0)
}

function cornersOf(bodies: readonly Body[]): Float32Array {
  const corners = new Float32Array(9 * trianglesOf(bodies))
  let at = 0
  for (const { positions, indices } of bodies)
    for (const v of indices) {
      corners[at++] = positions[3 * v]
      corners[at++] = positions[3 * v + 1]
      corners[at++] = positions[3 * v + 2]
    }
  return corners
}

/** Makes heavy bodies lighter step by step, as far as their outline lasts; foliage, whose leaves would grow at each step, stays. */
function reduce(bodies: Body[], outline: Outline, tell: () => void): Body[] {
  let best = bodies
  while (trianglesOf(best) > HEAVY && !best.some(isFoliage)) {
    tell()
    const next = best.map((body) => lightened(body, STEP))
    if (trianglesOf(next) > WORTH * trianglesOf(best) || !keeps(outline, cornersOf(next))) return best
    best = next
  }
  return best
}

/** The GLB with lighter bodies in place of its own. */
async function standInOf(glb: Uint8Array<ArrayBuffer>, bodies: readonly Body[]): Promise<StandIn> {
  const document = await io().readBinary(glb)
  primitivesOf(document).forEach((primitive, k) => {
    const { positions, indices, from } = bodies[k]
    const indexAccessor = primitive.getIndices()
    for (const semantic of primitive.listSemantics()) {
      const accessor = primitive.getAttribute(semantic)
      const array = accessor?.getArray()
      if (!accessor || !array) continue
      const width = accessor.getElementSize()
      const packed = new (array.constructor as new (length: number) => typeof array)(width * from.length)
      if (semantic === 'POSITION') packed.set(positions)
      else for (let v = 0; v < from.length; v++) for (let c = 0; c < width; c++) packed[width * v + c] = array[width * from[v] + c]
      primitive.setAttribute(semantic, accessor.clone().setArray(packed))
    }
    if (indexAccessor) primitive.setIndices(indexAccessor.clone().setArray(indices.slice()))
  })
  for (const accessor of document.getRoot().listAccessors())
    if (accessor.listParents().every((parent) => parent.propertyType === 'Root')) accessor.dispose()
  return { glb: (await io().writeBinary(document)) as Uint8Array<ArrayBuffer>, triangles: trianglesOf(bodies) }
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

/** A body of about a share of its triangles. */
function lightened(body: Body, share: number): Body {
  const { indices } = body
  if (indices.length < 3) return body
  const positions = body.positions.slice()
  const aim = Math.max(3, Math.floor((indices.length * share) / 3) * 3)
  let lighter: Uint32Array
  if (isFoliage(body)) {
    // Half of the way by plainer pieces, the rest by fewer.
    const plainer = MeshoptSimplifier.simplify(indices, positions, 3, Math.floor(Math.sqrt(share) * (indices.length / 3)) * 3, PLAIN_ERROR)[0]
    lighter = fewer(piecesOf(plainer, positions), positions, aim)
  } else {
    ;[lighter] = MeshoptSimplifier.simplify(indices, positions, 3, aim, 1)
    if (lighter.length > 1.5 * aim) [lighter] = MeshoptSimplifier.simplifySloppy(indices, positions, 3, null, aim, 1)
  }
  if (lighter.length < 3) lighter = indices.slice(0, 3)
  const [remap, unique] = MeshoptSimplifier.compactMesh(lighter)
  const packed: Body = { positions: new Float32Array(3 * unique), indices: lighter, from: new Uint32Array(unique) }
  for (let v = 0; v < remap.length; v++) {
    if (remap[v] === NOWHERE) continue
    packed.from[remap[v]] = body.from[v]
    for (let c = 0; c < 3; c++) packed.positions[3 * remap[v] + c] = positions[3 * v + c]
  }
  return packed
}

/** What a vertex that no triangle uses is put to. */
const NOWHERE = 0xffffffff

/** Whether a body is made of many separate pieces, as leaves are; told once for each. */
function isFoliage(body: Body): boolean {
  let known = foliage.get(body)
  if (known === undefined) foliage.set(body, (known = piecesOf(body.indices, body.positions).length >= FEWEST_PIECES))
  return known
}

const foliage = new WeakMap<Body, boolean>()

/** From so many separate pieces on, a mesh is foliage: pieces are left out rather than melted together. */
const FEWEST_PIECES = 6
/** How far plainer pieces may leave the true ones, as a share of the mesh's extent. */
const PLAIN_ERROR = 0.02
/** What is left of the pieces grows sideways to cover for the others, up to this factor. */
const WIDEST = 2.4

/** The connected pieces of a mesh, as their triangles; corners at one place are connected. */
function piecesOf(indices: Uint32Array, positions: Float32Array): number[][] {
  const same = MeshoptSimplifier.generatePositionRemap(positions, 3)
  const up = Uint32Array.from({ length: same.length }, (_, v) => v)
  const root = (n: number): number => {
    while (up[n] !== n) n = up[n] = up[up[n]]
    return n
  }
  for (let t = 0; t < indices.length; t += 3) {
    const a = root(same[indices[t]])
    for (let k = 1; k < 3; k++) up[root(same[indices[t + k]])] = a
  }
  const pieces = new Map<number, number[]>()
  for (let t = 0; t < indices.length; t += 3) {
    const at = root(same[indices[t]])
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
