import { nearbyOrder } from '../space/nearby-order.ts'
import type { Base } from './footprint.ts'
import { MOST_BASE_CORNERS } from './footprint.ts'
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
    const places = new Float64Array(3 * rows.length)
    for (let k = 0; k < rows.length; k++) for (let c = 0; c < 3; c++) places[3 * k + c] = position[3 * seat[rows[k]] + c]
    for (const k of nearbyOrder(rows.length, places)) {
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
  for (let n = 0; n < corners; n++) {
    cornerX[n] = outline[2 * n] * size
    cornerZ[n] = outline[2 * n + 1] * size
  }
  if (near >= 0) highestUnder(solid, corners, near, within, high)
  let sink = 0
  for (let n = 0; n < corners; n++) {
    const gap = near >= 0 ? -highest[n] : gapByRay(solid, cornerX[n], cornerZ[n], high)
    if (gap > sink && gap <= high) sink = gap
  }
  return sink
}

/** Corners of the base in hand along the instance's own x and z, and the highest surface found at each, m. */
const cornerX = new Float64Array(MOST_BASE_CORNERS)
const cornerZ = new Float64Array(MOST_BASE_CORNERS)
const highest = new Float64Array(MOST_BASE_CORNERS)

/**
 * Finds the highest surface within `high` above or below the instance at each corner of its base, −∞ where there is
 * none, among the first `near` triangles of the list; those that matter come within `within` in the mesh's own frame.
 */
function highestUnder({ shape: { positions, indices }, matrix }: Solid, corners: number, near: number, within: number, high: number): void {
  highest.fill(-Infinity, 0, corners)
  // From the mesh's own frame to the instance's.
  for (let a = 0; a < 3; a++)
    for (let c = 0; c < 3; c++) turned[3 * a + c] = axes[3 * a] * matrix[c] + axes[3 * a + 1] * matrix[3 + c] + axes[3 * a + 2] * matrix[6 + c]
  // In variables, as every look into a column is checked.
  const ox = own[0]
  const oy = own[1]
  const oz = own[2]
  const xx = turned[0]
  const xy = turned[1]
  const xz = turned[2]
  const yx = turned[3]
  const yy = turned[4]
  const yz = turned[5]
  const zx = turned[6]
  const zy = turned[7]
  const zz = turned[8]
  for (let t = 0; t < near; t++) {
    const of = 3 * listed[t]
    const a = 3 * indices[of]
    const b = 3 * indices[of + 1]
    const c = 3 * indices[of + 2]
    // Most of a leaf of the tree lies beside the ball, which is told before anything is turned.
    const ax = positions[a] - ox
    const bx = positions[b] - ox
    const cx = positions[c] - ox
    if ((ax > within && bx > within && cx > within) || (ax < -within && bx < -within && cx < -within)) continue
    const ay = positions[a + 1] - oy
    const by = positions[b + 1] - oy
    const cy = positions[c + 1] - oy
    if ((ay > within && by > within && cy > within) || (ay < -within && by < -within && cy < -within)) continue
    const az = positions[a + 2] - oz
    const bz = positions[b + 2] - oz
    const cz = positions[c + 2] - oz
    if ((az > within && bz > within && cz > within) || (az < -within && bz < -within && cz < -within)) continue
    // The triangle from where the instance stands, along its own x, up and z, m.
    raiseCorners(
      corners,
      high,
      xx * ax + xy * ay + xz * az,
      yx * ax + yy * ay + yz * az,
      zx * ax + zy * ay + zz * az,
      xx * bx + xy * by + xz * bz,
      yx * bx + yy * by + yz * bz,
      zx * bx + zy * by + zz * bz,
      xx * cx + xy * cy + xz * cz,
      yx * cx + yy * cy + yz * cz,
      zx * cx + zy * cy + zz * cz,
    )
  }
}

/** Takes a triangle P Q R for the surface at those corners of the base over which it is the highest so far. */
function raiseCorners(
  corners: number,
  high: number,
  px: number,
  py: number,
  pz: number,
  qx: number,
  qy: number,
  qz: number,
  rx: number,
  ry: number,
  rz: number,
): void {
  // Most lie beside the base, or above or below all that matters.
  const x0 = Math.min(px, qx, rx)
  if (x0 > high) return
  const x1 = Math.max(px, qx, rx)
  if (x1 < -high) return
  const z0 = Math.min(pz, qz, rz)
  if (z0 > high) return
  const z1 = Math.max(pz, qz, rz)
  if (z1 < -high || Math.min(py, qy, ry) > high || Math.max(py, qy, ry) < -high) return
  for (let n = 0; n < corners; n++) {
    const x = cornerX[n]
    const z = cornerZ[n]
    if (x < x0 || x > x1 || z < z0 || z > z1) continue
    // A place on an edge is on both sides of it: twice the areas over the edges, seen from the place.
    const overP = (qx - x) * (rz - z) - (qz - z) * (rx - x)
    const overQ = (rx - x) * (pz - z) - (rz - z) * (px - x)
    const overR = (px - x) * (qz - z) - (pz - z) * (qx - x)
    if ((overP < 0 || overQ < 0 || overR < 0) && (overP > 0 || overQ > 0 || overR > 0)) continue
    const all = overP + overQ + overR
    if (all === 0) continue
    const y = (overP * py + overQ * qy + overR * ry) / all
    if (y > highest[n] && y <= high) highest[n] = y
  }
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
