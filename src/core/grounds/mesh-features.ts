import type { Vector } from '../hand/frames.ts'
import type { MeshShape } from './mesh-shape.ts'
import { writeCross } from './mesh-shape.ts'

/** A corner, the middle of an edge or the centre of a face of a mesh, in its own frame. */
export interface MeshFeature {
  readonly kind: 'corner' | 'edge' | 'face'
  readonly place: Vector
  /** Unit normal: of a face its own, of edges and corners the mean of the faces that meet there, each counted once. */
  readonly normal: Vector
  /** Unit direction: of an edge along it, of a face along its longest edge, of a corner along the longest edge that ends there. */
  readonly direction: Vector
}

/** Neighbours whose normals differ by less are one face: 1 − cos of some 0.08°. */
const COPLANAR = 1e-6

const known = new WeakMap<MeshShape, readonly MeshFeature[]>()

/** What things can be set to on a mesh: triangles in one plane that join are one face, pieces of one straight edge one edge. */
export function featuresOf(shape: MeshShape): readonly MeshFeature[] {
  const found = known.get(shape) ?? findFeatures(shape)
  known.set(shape, found)
  return found
}

function findFeatures(shape: MeshShape): MeshFeature[] {
  const mesh = measure(shape)
  const faces = joinCoplanar(mesh)
  const edges = edgesOf(mesh, faces.of)
  return [...facesOf(mesh, faces, edges), ...edges.map((edge) => edgeFeature(mesh, faces, edge)), ...cornersOf(mesh, faces, edges)]
}

/** A mesh with the unit normal and the area of each of its triangles. */
interface Measured {
  readonly places: ArrayLike<number>
  readonly triangles: Uint32Array
  readonly normals: Float64Array
  readonly areas: Float64Array
}

function measure({ positions, indices }: MeshShape): Measured {
  const normals = new Float64Array(indices.length)
  const areas = new Float64Array(indices.length / 3)
  const cross = new Float64Array(3)
  for (let t = 0; t < areas.length; t++) {
    writeCross(positions, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2], cross)
    const length = Math.sqrt(cross[0] * cross[0] + cross[1] * cross[1] + cross[2] * cross[2])
    for (let c = 0; c < 3; c++) normals[3 * t + c] = cross[c] / length
    areas[t] = length / 2
  }
  return { places: positions, triangles: indices, normals, areas }
}

/** Faces of triangles: which one each belongs to, and their normals. */
interface Faces {
  readonly of: Uint32Array
  readonly normals: ReadonlyMap<number, Vector>
}

/** Calls for each edge of the triangles with both ends, the lower first, and the triangle. */
function eachEdge({ triangles }: Measured, tell: (key: number, triangle: number) => void): void {
  for (let t = 0; t < triangles.length / 3; t++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [triangles[3 * t + k], triangles[3 * t + ((k + 1) % 3)]]
      tell(Math.min(a, b) * WIDE + Math.max(a, b), t)
    }
}

/** More corners than this has no mesh. */
const WIDE = 67_108_864

function joinCoplanar(mesh: Measured): Faces {
  const { normals, areas } = mesh
  const of = Uint32Array.from(areas, (_, t) => t)
  const root = (t: number): number => {
    let now = t
    while (of[now] !== now) now = of[now] = of[of[now]]
    return now
  }
  const first = new Map<number, number>()
  eachEdge(mesh, (key, t) => {
    const other = first.get(key)
    if (other === undefined) {
      first.set(key, t)
      return
    }
    const dot = normals[3 * t] * normals[3 * other] + normals[3 * t + 1] * normals[3 * other + 1] + normals[3 * t + 2] * normals[3 * other + 2]
    if (dot > 1 - COPLANAR) of[root(t)] = root(other)
  })
  for (let t = 0; t < of.length; t++) of[t] = root(t)
  const sums = new Map<number, [number, number, number]>()
  for (let t = 0; t < of.length; t++) {
    const sum = sums.get(of[t]) ?? [0, 0, 0]
    for (let c = 0; c < 3; c++) sum[c] += normals[3 * t + c] * areas[t]
    sums.set(of[t], sum)
  }
  return { of, normals: new Map([...sums].map(([face, sum]) => [face, unit(sum)])) }
}

/** A straight edge between two faces, or at the rim of one. */
interface Edge {
  readonly a: number
  readonly b: number
  readonly sides: readonly number[]
  readonly long: number
}

/** Edges at which faces meet or end; pieces that go on straight between the same faces are one. */
function edgesOf(mesh: Measured, of: Uint32Array): Edge[] {
  const sides = new Map<number, number[]>()
  eachEdge(mesh, (key, t) => {
    const own = sides.get(key)
    if (own) own.push(of[t])
    else sides.set(key, [of[t]])
  })
  /** Pieces by the faces they lie between, and by their ends. */
  const pieces = new Map<string, { readonly sides: readonly number[]; readonly ends: Map<number, number[]> }>()
  for (const [key, faces] of sides) {
    const own = [...new Set(faces)].sort((x, y) => x - y)
    // Within a face, and on both sides of it.
    if (own.length === 1 && faces.length > 1) continue
    const name = own.join()
    const group = pieces.get(name) ?? { sides: own, ends: new Map<number, number[]>() }
    pieces.set(name, group)
    const [a, b] = [Math.floor(key / WIDE), key % WIDE]
    for (const [end, other] of [[a, b], [b, a]]) {
      const list = group.ends.get(end)
      if (list) list.push(other)
      else group.ends.set(end, [other])
    }
  }
  return [...pieces.values()].flatMap((group) => straightened(mesh, group))
}

/** How far from straight on two pieces may go to be one: 1 − cos. */
const STRAIGHT = 1e-6

function straightened({ places }: Measured, { sides, ends }: { readonly sides: readonly number[]; readonly ends: ReadonlyMap<number, readonly number[]> }): Edge[] {
  const goesOn = (from: number, at: number): number | null => {
    const others = ends.get(at) ?? []
    if (others.length !== 2) return null
    const next = others[0] === from ? others[1] : others[0]
    const [u, v] = [unit(way(places, from, at)), unit(way(places, at, next))]
    return u[0] * v[0] + u[1] * v[1] + u[2] * v[2] > 1 - STRAIGHT ? next : null
  }
  const seen = new Set<number>()
  const found: Edge[] = []
  for (const [start, others] of ends)
    for (const second of others) {
      const key = Math.min(start, second) * WIDE + Math.max(start, second)
      if (seen.has(key) || goesOn(second, start) !== null) continue
      let [before, at] = [start, second]
      for (;;) {
        seen.add(Math.min(before, at) * WIDE + Math.max(before, at))
        const next = goesOn(before, at)
        if (next === null) break
        ;[before, at] = [at, next]
      }
      const [x, y, z] = way(places, start, at)
      found.push({ a: start, b: at, sides, long: Math.sqrt(x * x + y * y + z * z) })
    }
  return found
}

function facesOf({ places, triangles, areas }: Measured, { of, normals }: Faces, edges: readonly Edge[]): MeshFeature[] {
  const sums = new Map<number, { area: number; place: [number, number, number] }>()
  for (let t = 0; t < areas.length; t++) {
    const sum = sums.get(of[t]) ?? { area: 0, place: [0, 0, 0] }
    sums.set(of[t], sum)
    sum.area += areas[t]
    for (let c = 0; c < 3; c++) sum.place[c] += (areas[t] * (places[3 * triangles[3 * t] + c] + places[3 * triangles[3 * t + 1] + c] + places[3 * triangles[3 * t + 2] + c])) / 3
  }
  const longest = new Map<number, Edge>()
  for (const edge of edges) for (const side of edge.sides) if (edge.long > (longest.get(side)?.long ?? 0) * (1 + 1e-9)) longest.set(side, edge)
  return [...sums].map(([face, { area, place }]): MeshFeature => {
    const normal = normals.get(face) as Vector
    const edge = longest.get(face)
    return { kind: 'face', place: [place[0] / area, place[1] / area, place[2] / area], normal, direction: edge ? unit(way(places, edge.a, edge.b)) : across(normal) }
  })
}

function edgeFeature({ places }: Measured, { normals }: Faces, { a, b, sides }: Edge): MeshFeature {
  return {
    kind: 'edge',
    place: [0, 1, 2].map((c) => (places[3 * a + c] + places[3 * b + c]) / 2) as unknown as Vector,
    normal: meanOf(sides.map((side) => normals.get(side) as Vector)),
    direction: unit(way(places, a, b)),
  }
}

function cornersOf({ places }: Measured, { normals }: Faces, edges: readonly Edge[]): MeshFeature[] {
  const at = new Map<number, Edge[]>()
  for (const edge of edges)
    for (const end of [edge.a, edge.b]) {
      const list = at.get(end)
      if (list) list.push(edge)
      else at.set(end, [edge])
    }
  return [...at].map(([corner, own]): MeshFeature => {
    const sides = [...new Set(own.flatMap((edge) => edge.sides))].map((side) => normals.get(side) as Vector)
    const longest = own.reduce((most, edge) => (edge.long > most.long ? edge : most))
    return {
      kind: 'corner',
      place: [places[3 * corner], places[3 * corner + 1], places[3 * corner + 2]],
      normal: meanOf(sides),
      direction: unit(way(places, corner, longest.a === corner ? longest.b : longest.a)),
    }
  })
}

function way(places: ArrayLike<number>, a: number, b: number): [number, number, number] {
  return [places[3 * b] - places[3 * a], places[3 * b + 1] - places[3 * a + 1], places[3 * b + 2] - places[3 * a + 2]]
}

/** Of length 1; up where there is no direction. */
function unit([x, y, z]: Vector): Vector {
  const length = Math.sqrt(x * x + y * y + z * z)
  return length > 1e-12 ? [x / length, y / length, z / length] : [0, 1, 0]
}

function meanOf(normals: readonly Vector[]): Vector {
  return unit(normals.reduce<Vector>((sum, normal) => [sum[0] + normal[0], sum[1] + normal[1], sum[2] + normal[2]], [0, 0, 0]))
}

/** Any direction across a normal. */
function across([x, y, z]: Vector): Vector {
  return Math.abs(y) < 0.9 ? unit([-z, 0, x]) : unit([0, z, -y])
}
