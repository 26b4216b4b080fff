import type { Place, Sight } from './ground.ts'
import type { PlacedMesh } from '../meadow.ts'
import { cos, DEGREE, sin } from '../math/portable.ts'
import type { MeshShape } from './mesh-shape.ts'
import { writeCross } from './mesh-shape.ts'

/** Questions to the triangles of a mesh in its own frame, through a bounding volume hierarchy. */
export interface MeshTree {
  /** Distance to the surface, m; infinite when it is beyond `limit`. */
  distance(x: number, y: number, z: number, limit: number): number
  /** Whether a place is inside: rays in most of three directions leave through the surface an odd number of times. */
  inside(x: number, y: number, z: number): boolean
  /** Distance along a ray of unit direction to the first hit; infinite when there is none. Either side counts. */
  first(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number): number
  /** Writes all hits along a ray, nearest first, into the hit list; returns how many. */
  hits(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number): number
  /** Distances and triangles of the last {@link hits}. */
  readonly hitDistance: Float64Array
  readonly hitTriangle: Uint32Array
  /** Writes the triangles near a ball into the list, as many as it holds: all that meet it are among them. Returns how many; −1 when there are more. */
  around(x: number, y: number, z: number, radius: number, list: Uint32Array): number
}

/** A mesh where it stands: its triangles with the way between its own frame and the world. */
export interface Solid {
  readonly placed: PlacedMesh
  readonly shape: MeshShape
  /** Turn and size, row by row: world = matrix · own + position. */
  readonly matrix: Float64Array
  /** Own frame's bounding box, x0 y0 z0 x1 y1 z1, m. */
  readonly box: Float64Array
  /** The world's bounding box around it. */
  readonly bounds: Float64Array
  /** The tree over its triangles, built on first use. */
  tree(): MeshTree
}

/** Rotation about X, then Y, then Z of the world, row by row. */
export function turnMatrix([x, y, z]: readonly number[]): Float64Array {
  const [sx, cx, sy, cy, sz, cz] = [sin(x * DEGREE), cos(x * DEGREE), sin(y * DEGREE), cos(y * DEGREE), sin(z * DEGREE), cos(z * DEGREE)]
  return Float64Array.of(
    cz * cy, cz * sy * sx - sz * cx, cz * sy * cx + sz * sx,
    sz * cy, sz * sy * sx + cz * cx, sz * sy * cx - cz * sx,
    -sy, cy * sx, cy * cx,
  )
}

/** Puts a shape where it is placed; `treeOf` builds its tree when it is asked for (`mesh-tree.ts`), so that pages that only know of meshes need not load that. */
export function createSolid(placed: PlacedMesh, shape: MeshShape, treeOf: (shape: MeshShape) => MeshTree): Solid {
  const matrix = turnMatrix(placed.turn).map((value) => value * placed.size)
  const box = boxOf(shape)
  const bounds = Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity)
  const own = [0, 0, 0]
  for (let corner = 0; corner < 8; corner++) {
    for (let c = 0; c < 3; c++) own[c] = box[c + (((corner >> c) & 1) === 1 ? 3 : 0)]
    for (let r = 0; r < 3; r++) {
      const value = matrix[3 * r] * own[0] + matrix[3 * r + 1] * own[1] + matrix[3 * r + 2] * own[2] + placed.position[r]
      bounds[r] = Math.min(bounds[r], value)
      bounds[r + 3] = Math.max(bounds[r + 3], value)
    }
  }
  return { placed, shape, matrix, box, bounds, tree: () => treeOf(shape) }
}

/** Bounding box x0 y0 z0 x1 y1 z1 of a shape. */
export function boxOf({ positions }: MeshShape): Float64Array {
  const box = Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity)
  for (let i = 0; i < positions.length; i += 3)
    for (let c = 0; c < 3; c++) {
      if (positions[i + c] < box[c]) box[c] = positions[i + c]
      if (positions[i + c] > box[c + 3]) box[c + 3] = positions[i + c]
    }
  return box
}

/** Writes a world place in the solid's own frame into `out`. */
export function toOwn({ matrix, placed }: Solid, x: number, y: number, z: number, out: Float64Array): void {
  // The inverse of turn · size is its transpose over size².
  const per = 1 / (placed.size * placed.size)
  const dx = x - placed.position[0]
  const dy = y - placed.position[1]
  const dz = z - placed.position[2]
  out[0] = (matrix[0] * dx + matrix[3] * dy + matrix[6] * dz) * per
  out[1] = (matrix[1] * dx + matrix[4] * dy + matrix[7] * dz) * per
  out[2] = (matrix[2] * dx + matrix[5] * dy + matrix[8] * dz) * per
}

/** Writes a place of the solid's own frame in the world into `out`. */
export function toWorld({ matrix, placed }: Solid, x: number, y: number, z: number, out: Float64Array): void {
  out[0] = matrix[0] * x + matrix[1] * y + matrix[2] * z + placed.position[0]
  out[1] = matrix[3] * x + matrix[4] * y + matrix[5] * z + placed.position[1]
  out[2] = matrix[6] * x + matrix[7] * y + matrix[8] * z + placed.position[2]
}

/** Where a line of sight first meets a mesh, and how far away; null where it does not. */
export function firstHit(solid: Solid, { origin: [x, y, z], direction: [dx, dy, dz], reach }: Sight): { readonly away: number; readonly place: Place & { readonly normal: readonly [number, number, number] } } | null {
  const from = new Float64Array(3)
  const ahead = new Float64Array(3)
  toOwn(solid, x, y, z, from)
  toOwn(solid, x + dx, y + dy, z + dz, ahead)
  const own = ahead.map((value, c) => value - from[c])
  const length = Math.sqrt(own[0] * own[0] + own[1] * own[1] + own[2] * own[2])
  const tree = solid.tree()
  if (tree.hits(from[0], from[1], from[2], own[0] / length, own[1] / length, own[2] / length) === 0) return null
  const away = tree.hitDistance[0] / length
  if (away >= reach) return null
  const normal = new Float64Array(3)
  faceNormal(solid, tree.hitTriangle[0], normal)
  return { away, place: { x: x + dx * away, y: y + dy * away, z: z + dz * away, normal: [normal[0], normal[1], normal[2]] } }
}

/** Writes the world's unit normal of a triangle. */
export function faceNormal({ shape: { positions, indices }, matrix }: Solid, triangle: number, normal: Float64Array): void {
  writeCross(positions, 3 * indices[3 * triangle], 3 * indices[3 * triangle + 1], 3 * indices[3 * triangle + 2], cross)
  const [x, y, z] = cross
  for (let r = 0; r < 3; r++) normal[r] = matrix[3 * r] * x + matrix[3 * r + 1] * y + matrix[3 * r + 2] * z
  const length = Math.sqrt(normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2]) || 1
  for (let r = 0; r < 3; r++) normal[r] /= length
}

const cross = new Float64Array(3)
