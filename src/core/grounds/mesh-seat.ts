import type { Base } from './footprint.ts'
import type { Footing } from './ground.ts'
import type { Solid } from './solid.ts'
import { toOwn } from './solid.ts'

/** More triangles under one base are not listed: rays through the tree are quicker there. */
const MOST_LISTED = 512
const listed = new Uint32Array(MOST_LISTED)

/**
 * Seats bases on a mesh: each instance sinks along its own up until no corner of its base floats,
 * by the least that does it. A corner that finds no surface within the reach of the base, as beyond
 * an edge, is left hanging. Corners alone count: what bulges between them is not looked for.
 */
export function seatOnSolid(solid: Solid): Footing['settle'] {
  return (rows, seat, size, pick, bases, { position, rotation }) => {
    for (let k = 0; k < rows.length; k++) {
      const row = rows[k]
      const at = seat[row]
      const base = bases[pick[row]]
      writeAxes(rotation, 4 * at)
      standing[0] = position[3 * at]
      standing[1] = position[3 * at + 1]
      standing[2] = position[3 * at + 2]
      const sink = sinkOf(solid, base, size[row])
      for (let c = 0; c < 3; c++) position[3 * at + c] = standing[c] - axes[3 + c] * sink
    }
  }
}

// The instance in hand: where it stands, its own x, up and z in the world, and in the mesh's own frame.
const standing = new Float64Array(3)
const axes = new Float64Array(9)
const own = new Float64Array(3)
const turned = new Float64Array(9)
const from = new Float64Array(3)
const to = new Float64Array(3)

/** Writes the axes of a rotation, x y z w at an offset. */
function writeAxes(rotation: Float32Array, at: number): void {
  const x = rotation[at]
  const y = rotation[at + 1]
  const z = rotation[at + 2]
  const w = rotation[at + 3]
  axes[0] = 1 - 2 * (y * y + z * z)
  axes[1] = 2 * (x * y + w * z)
  axes[2] = 2 * (x * z - w * y)
  axes[3] = 2 * (x * y - w * z)
  axes[4] = 1 - 2 * (x * x + z * z)
  axes[5] = 2 * (y * z + w * x)
  axes[6] = 2 * (x * z + w * y)
  axes[7] = 2 * (y * z - w * x)
  axes[8] = 1 - 2 * (x * x + y * y)
}

/** How far the instance in hand has to sink, m. */
function sinkOf(solid: Solid, { corners, outline, reach }: Base, size: number): number {
  if (!(reach * size > 0)) return 0
  const high = reach * size
  toOwn(solid, standing[0], standing[1], standing[2], own)
  // What a corner can meet lies within its reach to the side, and as far up and down.
  const within = (Math.SQRT2 * high * (1 + 1e-6)) / solid.placed.size
  const near = solid.tree().around(own[0], own[1], own[2], within, listed)
  const count = near < 0 ? near : layTriangles(solid, near, within, high)
  let sink = 0
  for (let n = 0; n < corners; n++) {
    const x = outline[2 * n] * size
    const z = outline[2 * n + 1] * size
    const gap = count >= 0 ? -highestAt(x, z, high, count) : gapByRay(solid, x, z, high)
    if (gap > sink && gap <= high) sink = gap
  }
  return sink
}

/** Corners of triangles from where the instance stands, along its own x, up and z, m. */
const laid = new Float64Array(9 * MOST_LISTED + 9)

/** Lays out the first `near` of the list, as far as they come within `within` in the mesh's own frame and reach into what is `high` to all sides; returns how many. */
function layTriangles({ shape: { positions, indices }, matrix }: Solid, near: number, within: number, high: number): number {
  // From the mesh's own frame to the instance's.
  for (let a = 0; a < 3; a++)
    for (let c = 0; c < 3; c++) turned[3 * a + c] = axes[3 * a] * matrix[c] + axes[3 * a + 1] * matrix[3 + c] + axes[3 * a + 2] * matrix[6 + c]
  let to = 0
  for (let t = 0; t < near; t++) {
    const a = 3 * indices[3 * listed[t]]
    const b = 3 * indices[3 * listed[t] + 1]
    const c = 3 * indices[3 * listed[t] + 2]
    // Most of a leaf of the tree lies beside the ball, which is told before anything is turned.
    if (!(comesWithin(positions, a, b, c, 0, within) && comesWithin(positions, a, b, c, 1, within) && comesWithin(positions, a, b, c, 2, within))) continue
    layCorner(positions, a, to)
    layCorner(positions, b, to + 3)
    layCorner(positions, c, to + 6)
    if (reaches(to, high) && reaches(to + 1, high) && reaches(to + 2, high)) to += 9
  }
  return to / 9
}

/** Whether a triangle comes as near to where the instance stands as `within`, along one axis of the mesh's own frame. */
function comesWithin(positions: Float32Array, a: number, b: number, c: number, axis: number, within: number): boolean {
  const low = own[axis] - within
  const high = own[axis] + within
  const pa = positions[a + axis]
  const pb = positions[b + axis]
  const pc = positions[c + axis]
  return !(pa > high && pb > high && pc > high) && !(pa < low && pb < low && pc < low)
}

function layCorner(positions: Float32Array, v: number, to: number): void {
  const x = positions[v] - own[0]
  const y = positions[v + 1] - own[1]
  const z = positions[v + 2] - own[2]
  laid[to] = turned[0] * x + turned[1] * y + turned[2] * z
  laid[to + 1] = turned[3] * x + turned[4] * y + turned[5] * z
  laid[to + 2] = turned[6] * x + turned[7] * y + turned[8] * z
}

/** Whether a laid triangle reaches to between −`high` and `high` along one axis. */
function reaches(at: number, high: number): boolean {
  const a = laid[at]
  const b = laid[at + 3]
  const c = laid[at + 6]
  return !(a > high && b > high && c > high) && !(a < -high && b < -high && c < -high)
}

/** Height of the highest listed surface within `high` above or below a place beside the instance, m; −∞ where there is none. */
function highestAt(x: number, z: number, high: number, count: number): number {
  let highest = -Infinity
  for (let t = 0; t < 9 * count; t += 9) {
    const ax = laid[t] - x
    const az = laid[t + 2] - z
    const bx = laid[t + 3] - x
    const bz = laid[t + 5] - z
    const cx = laid[t + 6] - x
    const cz = laid[t + 8] - z
    // A place on an edge is on both sides of it: twice the areas over the edges, seen from the place.
    const overA = bx * cz - bz * cx
    const overB = cx * az - cz * ax
    const overC = ax * bz - az * bx
    if ((overA < 0 || overB < 0 || overC < 0) && (overA > 0 || overB > 0 || overC > 0)) continue
    const all = overA + overB + overC
    if (all === 0) continue
    const y = (overA * laid[t + 1] + overB * laid[t + 4] + overC * laid[t + 7]) / all
    if (y > highest && y <= high) highest = y
  }
  return highest
}

/** How far below the instance the surface lies beside it, by a ray from above, m. */
function gapByRay(solid: Solid, x: number, z: number, high: number): number {
  const [px, py, pz] = [0, 1, 2].map((c) => standing[c] + axes[c] * x + axes[6 + c] * z)
  const [ux, uy, uz] = axes.subarray(3, 6)
  toOwn(solid, px + ux * high, py + uy * high, pz + uz * high, from)
  toOwn(solid, px - ux * high, py - uy * high, pz - uz * high, to)
  const length = Math.sqrt((to[0] - from[0]) ** 2 + (to[1] - from[1]) ** 2 + (to[2] - from[2]) ** 2)
  if (!(length > 0)) return 0
  const away = solid.tree().first(from[0], from[1], from[2], (to[0] - from[0]) / length, (to[1] - from[1]) / length, (to[2] - from[2]) / length)
  return (away / length) * 2 * high - high
}
