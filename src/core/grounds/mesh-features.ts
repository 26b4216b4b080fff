import type { Vector } from '../hand/frames.ts'
import type { EdgeTable } from './mesh-edges.ts'
import { eachOwn, edgesOf, rootOf } from './mesh-edges.ts'
import type { MeshShape } from './mesh-shape.ts'
import { writeCross } from './mesh-shape.ts'

/** A corner, the middle of an edge or the centre of a face of a mesh, in its own frame. */
export interface MeshFeature {
  readonly kind: FeatureKind
  readonly place: Vector
  /** Unit normal: of a face its own, of edges and corners the mean of the faces that meet there, each counted once. */
  readonly normal: Vector
  /** Unit direction: of an edge along it, of a face along its longest edge, of a corner along the longest edge that ends there. */
  readonly direction: Vector
}

export type FeatureKind = 'corner' | 'edge' | 'face'

/** Features of one kind as columns x y z, as of {@link MeshFeature}. */
export interface FeatureColumns {
  readonly count: number
  readonly place: Float64Array
  readonly normal: Float64Array
  readonly direction: Float64Array
}

/** Features of a mesh by their kinds, each found when it is asked for first. */
export interface MeshFeatures {
  of(kind: FeatureKind): FeatureColumns
}

/** Neighbours whose normals differ by less are one face: 1 − cos of some 0.08°. */
const COPLANAR = 1e-6
/** How far from straight on two pieces of an edge may go to be one: 1 − cos. */
const STRAIGHT = 1e-6

const known = new WeakMap<MeshShape, MeshFeatures>()

/**
 * The features of a mesh: triangles in one plane that join are one face, pieces that go on straight between the same
 * faces one edge; corners are where such edges end. A million triangles take about a second: `progress` hears of it.
 */
export function featureColumns(shape: MeshShape, progress: (share: number) => void = () => undefined): MeshFeatures {
  const found = known.get(shape) ?? findFeatures(shape, progress)
  known.set(shape, found)
  return found
}

/** All features of a mesh one by one: what things can be set to. */
export function featuresOf(shape: MeshShape): readonly MeshFeature[] {
  const features = featureColumns(shape)
  return (['face', 'edge', 'corner'] as const).flatMap((kind) => {
    const { count, place, normal, direction } = features.of(kind)
    const at = (column: Float64Array, k: number): Vector => [column[3 * k], column[3 * k + 1], column[3 * k + 2]]
    return Array.from({ length: count }, (_, k) => ({ kind, place: at(place, k), normal: at(normal, k), direction: at(direction, k) }))
  })
}

/** Shares of the work that are done after its steps, as measured. */
const STEPS = { measured: 0.08, edges: 0.5, faces: 0.6, straights: 0.85 }

function findFeatures(shape: MeshShape, progress: (share: number) => void): MeshFeatures {
  progress(0)
  const triangles = measure(shape)
  progress(STEPS.measured)
  const table = edgesOf(shape)
  progress(STEPS.edges)
  const faces = joinCoplanar(triangles, table)
  progress(STEPS.faces)
  const straights = joinStraight(shape, table, faces)
  progress(STEPS.straights)
  const ways: Readonly<Record<FeatureKind, () => FeatureColumns>> = { face: () => facesOf(shape, triangles, faces, straights), edge: () => straightsOf(shape, faces, straights), corner: () => cornersOf(shape, faces, straights) }
  const made: Partial<Record<FeatureKind, FeatureColumns>> = {}
  return { of: (kind) => (made[kind] ??= ways[kind]()) }
}

/** Unit normals and areas of the triangles. */
interface Triangles {
  readonly normals: Float64Array
  readonly areas: Float64Array
}

function measure({ positions, indices }: MeshShape): Triangles {
  const normals = new Float64Array(indices.length)
  const areas = new Float64Array(indices.length / 3)
  const cross = new Float64Array(3)
  for (let t = 0; t < areas.length; t++) {
    writeCross(positions, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2], cross)
    const length = Math.sqrt(cross[0] * cross[0] + cross[1] * cross[1] + cross[2] * cross[2])
    for (let c = 0; c < 3; c++) normals[3 * t + c] = cross[c] / length
    areas[t] = length / 2
  }
  return { normals, areas }
}

/** Faces of triangles: which one each triangle belongs to, in the order of their first triangles, and their unit normals. */
interface Faces {
  readonly count: number
  readonly of: Uint32Array
  readonly normals: Float64Array
}

function joinCoplanar({ normals, areas }: Triangles, { count: edges, first, second, more }: EdgeTable): Faces {
  const parent = eachOwn(areas.length)
  const join = (t: number, other: number) => {
    const dot = normals[3 * t] * normals[3 * other] + normals[3 * t + 1] * normals[3 * other + 1] + normals[3 * t + 2] * normals[3 * other + 2]
    if (dot > 1 - COPLANAR) parent[rootOf(parent, t)] = rootOf(parent, other)
  }
  for (let e = 0; e < edges; e++) {
    if (second[e] < 0) continue
    join(second[e], first[e])
    for (const t of more.get(e) ?? []) join(t, first[e])
  }
  const of = new Uint32Array(areas.length)
  const numbers = new Int32Array(areas.length).fill(-1)
  let count = 0
  for (let t = 0; t < of.length; t++) {
    const root = rootOf(parent, t)
    if (numbers[root] < 0) numbers[root] = count++
    of[t] = numbers[root]
  }
  const sums = new Float64Array(3 * count)
  for (let t = 0; t < of.length; t++) for (let c = 0; c < 3; c++) sums[3 * of[t] + c] += normals[3 * t + c] * areas[t]
  for (let f = 0; f < count; f++) setUnit(sums, f, sums[3 * f], sums[3 * f + 1], sums[3 * f + 2])
  return { count, of, normals: sums }
}

/** Straight edges between faces, or at the rim of one: their ends, lengths, and the faces beside them, `sides` from `from[k]` to `from[k + 1]`. */
interface Straights {
  readonly count: number
  readonly a: Uint32Array
  readonly b: Uint32Array
  readonly long: Float64Array
  readonly sides: Uint32Array
  readonly from: Uint32Array
}

/** The pieces of edges at which faces meet or end, with the faces beside each. */
function piecesOf({ count, first, second, more }: EdgeTable, { of }: Faces): { readonly pieces: Uint32Array; readonly sides: Uint32Array; readonly from: Uint32Array } {
  const pieces: number[] = []
  const sides: number[] = []
  const from: number[] = [0]
  for (let e = 0; e < count; e++) {
    const one = of[first[e]]
    if (second[e] < 0) sides.push(one)
    else {
      const extra = more.get(e)
      const other = of[second[e]]
      // Within a face, and on both sides of it.
      if (other === one && !extra) continue
      if (!extra) sides.push(Math.min(one, other), Math.max(one, other))
      else {
        const all = [...new Set([one, other, ...extra.map((t) => of[t])])].sort((x, y) => x - y)
        if (all.length === 1) continue
        sides.push(...all)
      }
    }
    pieces.push(e)
    from.push(sides.length)
  }
  return { pieces: Uint32Array.from(pieces), sides: Uint32Array.from(sides), from: Uint32Array.from(from) }
}

function joinStraight({ positions }: MeshShape, table: EdgeTable, faces: Faces): Straights {
  const { pieces, sides, from } = piecesOf(table, faces)
  const count = pieces.length
  const at = piecesAt(table, pieces, positions.length / 3)
  const parent = eachOwn(count)
  const alike = (k: number, other: number) => {
    if (from[k + 1] - from[k] !== from[other + 1] - from[other]) return false
    for (let s = 0; s < from[k + 1] - from[k]; s++) if (sides[from[k] + s] !== sides[from[other] + s]) return false
    return true
  }
  /** Ends of pieces at which another one goes on. */
  const goesOn = new Uint8Array(2 * count)
  for (let v = 0; v < at.start.length - 1; v++)
    for (let i = at.start[v]; i < at.start[v + 1]; i++) {
      const k = at.list[i]
      let [next, many] = [-1, 0]
      for (let j = at.start[v]; j < at.start[v + 1]; j++) if (at.list[j] !== k && alike(k, at.list[j])) [next, many] = [at.list[j], many + 1]
      if (many !== 1 || !straightOn(positions, table, pieces, k, next, v)) continue
      goesOn[2 * k + (table.a[pieces[k]] === v ? 0 : 1)] = 1
      parent[rootOf(parent, k)] = rootOf(parent, next)
    }
  return gatherStraights(positions, { table, pieces, sides, from, parent, goesOn })
}

/** Whether one piece goes on straight as another at a corner that both end at. */
function straightOn(positions: ArrayLike<number>, { a, b }: EdgeTable, pieces: Uint32Array, k: number, next: number, v: number): boolean {
  const other = (piece: number) => (a[pieces[piece]] === v ? b[pieces[piece]] : a[pieces[piece]])
  const [from, to] = [3 * other(k), 3 * other(next)]
  let [dot, u, w] = [0, 0, 0]
  for (let c = 0; c < 3; c++) {
    const [x, y] = [positions[3 * v + c] - positions[from + c], positions[to + c] - positions[3 * v + c]]
    dot += x * y
    u += x * x
    w += y * y
  }
  return dot > (1 - STRAIGHT) * Math.sqrt(u * w)
}

interface Chains {
  readonly table: EdgeTable
  readonly pieces: Uint32Array
  readonly sides: Uint32Array
  readonly from: Uint32Array
  readonly parent: Int32Array
  readonly goesOn: Uint8Array
}

function gatherStraights(positions: ArrayLike<number>, { table, pieces, sides, from, parent, goesOn }: Chains): Straights {
  const most = pieces.length
  const numbers = new Int32Array(most).fill(-1)
  const ends = new Int32Array(2 * most).fill(-1)
  const own = new Uint32Array(sides.length)
  const starts = new Uint32Array(most + 1)
  let count = 0
  for (let k = 0; k < most; k++) {
    const root = rootOf(parent, k)
    if (numbers[root] < 0) {
      numbers[root] = count++
      own.set(sides.subarray(from[k], from[k + 1]), starts[count - 1])
      starts[count] = starts[count - 1] + from[k + 1] - from[k]
    }
    const to = 2 * numbers[root]
    if (goesOn[2 * k] === 0) ends[to + (ends[to] < 0 ? 0 : 1)] = table.a[pieces[k]]
    if (goesOn[2 * k + 1] === 0) ends[to + (ends[to] < 0 ? 0 : 1)] = table.b[pieces[k]]
  }
  const a = new Uint32Array(count)
  const b = new Uint32Array(count)
  const long = new Float64Array(count)
  for (let k = 0; k < count; k++) {
    a[k] = ends[2 * k]
    b[k] = ends[2 * k + 1]
    const [from3, to3] = [3 * a[k], 3 * b[k]]
    const [x, y, z] = [positions[to3] - positions[from3], positions[to3 + 1] - positions[from3 + 1], positions[to3 + 2] - positions[from3 + 2]]
    long[k] = Math.sqrt(x * x + y * y + z * z)
  }
  return { count, a, b, long, sides: own, from: starts }
}

/** Which pieces end at each corner: `list` from `start[v]` to `start[v + 1]`. */
function piecesAt({ a, b }: EdgeTable, pieces: Uint32Array, corners: number): { readonly start: Uint32Array; readonly list: Uint32Array } {
  return listsOf(corners, pieces.length, (k) => a[pieces[k]], (k) => b[pieces[k]])
}

function listsOf(lists: number, count: number, one: (k: number) => number, other: (k: number) => number): { readonly start: Uint32Array; readonly list: Uint32Array } {
  const start = new Uint32Array(lists + 1)
  for (let k = 0; k < count; k++) {
    start[one(k) + 1]++
    start[other(k) + 1]++
  }
  for (let v = 0; v < lists; v++) start[v + 1] += start[v]
  const next = start.slice()
  const list = new Uint32Array(2 * count)
  for (let k = 0; k < count; k++) {
    list[next[one(k)]++] = k
    list[next[other(k)]++] = k
  }
  return { start, list }
}

/** One edge is longer than another, more than rounding. */
const LONGER = 1 + 1e-9

function facesOf({ positions, indices }: MeshShape, { areas }: Triangles, { count, of, normals }: Faces, { count: edges, a, b, long, sides, from }: Straights): FeatureColumns {
  const place = new Float64Array(3 * count)
  const whole = new Float64Array(count)
  for (let t = 0; t < areas.length; t++) {
    const f = of[t]
    whole[f] += areas[t]
    for (let c = 0; c < 3; c++) place[3 * f + c] += (areas[t] * (positions[3 * indices[3 * t] + c] + positions[3 * indices[3 * t + 1] + c] + positions[3 * indices[3 * t + 2] + c])) / 3
  }
  for (let f = 0; f < count; f++) for (let c = 0; c < 3; c++) place[3 * f + c] /= whole[f]
  const longest = new Int32Array(count).fill(-1)
  for (let k = 0; k < edges; k++)
    for (let s = from[k]; s < from[k + 1]; s++) if (longest[sides[s]] < 0 || long[k] > long[longest[sides[s]]] * LONGER) longest[sides[s]] = k
  const direction = new Float64Array(3 * count)
  for (let f = 0; f < count; f++) {
    const k = longest[f]
    if (k >= 0) setWay(direction, f, positions, a[k], b[k])
    else setAcross(direction, f, normals)
  }
  return { count, place, normal: normals, direction }
}

function straightsOf({ positions }: MeshShape, { normals }: Faces, { count, a, b, sides, from }: Straights): FeatureColumns {
  const columns = columnsOf(count)
  for (let k = 0; k < count; k++) {
    for (let c = 0; c < 3; c++) columns.place[3 * k + c] = (positions[3 * a[k] + c] + positions[3 * b[k] + c]) / 2
    setMean(columns.normal, k, normals, sides, from[k], from[k + 1])
    setWay(columns.direction, k, positions, a[k], b[k])
  }
  return columns
}

function cornersOf({ positions }: MeshShape, { normals }: Faces, { count: edges, a, b, long, sides, from }: Straights): FeatureColumns {
  const at = listsOf(positions.length / 3, edges, (k) => a[k], (k) => b[k])
  const corners: number[] = []
  for (let v = 0; v < at.start.length - 1; v++) if (at.start[v + 1] > at.start[v]) corners.push(v)
  const columns = columnsOf(corners.length)
  corners.forEach((v, k) => {
    let longest = at.list[at.start[v]]
    const around = new Set<number>()
    for (let i = at.start[v]; i < at.start[v + 1]; i++) {
      const edge = at.list[i]
      if (long[edge] > long[longest]) longest = edge
      for (let s = from[edge]; s < from[edge + 1]; s++) around.add(sides[s])
    }
    for (let c = 0; c < 3; c++) columns.place[3 * k + c] = positions[3 * v + c]
    const faces = Uint32Array.from(around)
    setMean(columns.normal, k, normals, faces, 0, faces.length)
    setWay(columns.direction, k, positions, v, a[longest] === v ? b[longest] : a[longest])
  })
  return columns
}

function columnsOf(count: number): FeatureColumns {
  return { count, place: new Float64Array(3 * count), normal: new Float64Array(3 * count), direction: new Float64Array(3 * count) }
}

/** Of length 1; up where there is no direction. */
function setUnit(out: Float64Array, k: number, x: number, y: number, z: number): void {
  const length = Math.sqrt(x * x + y * y + z * z)
  const none = !(length > 1e-12)
  out[3 * k] = none ? 0 : x / length
  out[3 * k + 1] = none ? 1 : y / length
  out[3 * k + 2] = none ? 0 : z / length
}

function setWay(out: Float64Array, k: number, positions: ArrayLike<number>, a: number, b: number): void {
  setUnit(out, k, positions[3 * b] - positions[3 * a], positions[3 * b + 1] - positions[3 * a + 1], positions[3 * b + 2] - positions[3 * a + 2])
}

/** The mean of the normals of some faces. */
function setMean(out: Float64Array, k: number, normals: Float64Array, faces: Uint32Array, start: number, end: number): void {
  let [x, y, z] = [0, 0, 0]
  for (let s = start; s < end; s++) {
    x += normals[3 * faces[s]]
    y += normals[3 * faces[s] + 1]
    z += normals[3 * faces[s] + 2]
  }
  setUnit(out, k, x, y, z)
}

/** Any direction across a normal. */
function setAcross(out: Float64Array, k: number, normals: Float64Array): void {
  const [x, y, z] = [normals[3 * k], normals[3 * k + 1], normals[3 * k + 2]]
  if (Math.abs(y) < 0.9) setUnit(out, k, -z, 0, x)
  else setUnit(out, k, 0, z, -y)
}
