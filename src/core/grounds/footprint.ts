import type { Sites } from '../columns.ts'
import type { StanceStage } from '../kernels/kernels.ts'
import { aroundAt, runSeat } from '../kernels/kernels.ts'
import type { Terrain } from './terrain.ts'

/** Most corners of a base outline. */
export const MOST_BASE_CORNERS = 12

/** A convex base outline at size 1: x z pairs about the own origin, m. */
export interface Base {
  readonly corners: number
  readonly outline: Float64Array
  /** Distance of the farthest corner from the origin, m. */
  readonly reach: number
}

/** Wraps an outline. Throws RangeError when it has more corners than can be. */
export function createBase(outline: readonly number[]): Base {
  const corners = outline.length >> 1
  if (corners > MOST_BASE_CORNERS) throw new RangeError(`createBase: ${corners} corners, at most ${MOST_BASE_CORNERS}`)
  let reach = 0
  for (let k = 0; k < corners; k++) reach = Math.max(reach, Math.sqrt(outline[2 * k] ** 2 + outline[2 * k + 1] ** 2))
  return { corners, outline: Float64Array.from(outline), reach }
}

// Scratch of the base in hand, so that no double is passed as an argument and boxed.
// Corners in grid units.
const cornerU = new Float64Array(MOST_BASE_CORNERS)
const cornerV = new Float64Array(MOST_BASE_CORNERS)
/** Plane in grid units a b c; piece of an edge ua va ub vb. */
const gridPlane = new Float64Array(3)
const piece = new Float64Array(4)

/** Lays out where sites lie from the nearest inner node of a terrain, and the heights around that, for the kernels. */
export function gatherHeights(t: Terrain, { x, z }: Sites, order: Uint32Array, stage: StanceStage): void {
  const { perX, perZ, columns, heights } = t
  const { around } = stage
  const halfX = 0.5 * t.sizeX
  const halfZ = 0.5 * t.sizeZ
  // The node keeps a cell on each side, save on ground of a single one.
  const lastI = Math.max(1, columns - 2)
  const lastJ = Math.max(1, t.rows - 2)
  const right = columns > 2 ? 1 : 0
  const down = t.rows > 2 ? columns : 0
  for (let k = 0; k < order.length; k++) {
    const row = order[k]
    const u = (x[row] + halfX) * perX
    const v = (z[row] + halfZ) * perZ
    let i = (u + 0.5) | 0
    let j = (v + 0.5) | 0
    if (i < 1) i = 1
    else if (i > lastI) i = lastI
    if (j < 1) j = 1
    else if (j > lastJ) j = lastJ
    const at = j * columns + i
    const to = aroundAt(k)
    around[to] = u - i
    around[to + 4] = v - j
    around[to + 8] = heights[at]
    around[to + 12] = heights[at + right]
    around[to + 16] = heights[at - 1]
    around[to + 20] = heights[at + down]
    around[to + 24] = heights[at - columns]
    around[to + 28] = heights[at + down + right]
    around[to + 32] = heights[at + down - 1]
    around[to + 36] = heights[at - columns + right]
    around[to + 40] = heights[at - columns - 1]
  }
}

/**
 * Writes to the stage how far each instance must sink, m, until no part of its base is above the
 * ground: the least that does it, 0 or less where the base hangs clear. `order` lists the sites, those
 * of one base together; `pick` is which of the bases a site has. The stage holds their sizes in plan,
 * their rotations and the heights around them.
 *
 * Within one triangle of the ground both it and the base's plane are linear. So the greatest gap between
 * them lies at a corner of the base, where its outline crosses an edge of a triangle, or at a node of the
 * grid inside it. The kernel settles all but bases that reach beyond two by two cells.
 */
export function sinkBases(
  t: Terrain,
  sites: Sites,
  order: Uint32Array,
  pick: Uint16Array,
  bases: readonly Base[],
  stage: StanceStage,
): void {
  const { sink } = stage
  for (let from = 0; from < order.length; ) {
    const kind = pick[order[from]]
    let to = bases.length > 1 ? from + 1 : order.length
    while (to < order.length && pick[order[to]] === kind) to++
    const base = bases[kind]
    if (base.corners < 3) sink.fill(0, from, to)
    else {
      runSeat(stage, from, to, base, t.perX, t.perZ)
      for (let k = from; k < to; k++) if (sink[k] !== sink[k]) sink[k] = sinkOfOne(t, base, sites, order[k], stage, k)
    }
    from = to
  }
}

/** How far the base of one instance must sink, m, wherever it lies. */
function sinkOfOne(t: Terrain, { corners, outline }: Base, { x, z }: Sites, row: number, { rotation, size, height }: StanceStage, k: number): number {
  const qx = rotation[4 * k]
  const qy = rotation[4 * k + 1]
  const qz = rotation[4 * k + 2]
  const qw = rotation[4 * k + 3]
  const uy = 1 - 2 * (qx * qx + qz * qz)
  const fx = size[k] * t.perX
  const fz = size[k] * t.perZ
  const xx = fx * (1 - 2 * (qy * qy + qz * qz))
  const xz = fz * 2 * (qx * qz - qw * qy)
  const zx = fx * 2 * (qx * qz + qw * qy)
  const zz = fz * (1 - 2 * (qx * qx + qy * qy))
  const u = (x[row] + 0.5 * t.sizeX) * t.perX
  const v = (z[row] + 0.5 * t.sizeZ) * t.perZ
  const b = (-2 * (qx * qy - qw * qz) * t.stepX) / uy
  const c = (-2 * (qy * qz + qw * qx) * t.stepZ) / uy
  gridPlane[0] = height[k] - b * u - c * v
  gridPlane[1] = b
  gridPlane[2] = c
  for (let n = 0; n < corners; n++) {
    cornerU[n] = u + xx * outline[2 * n] + zx * outline[2 * n + 1]
    cornerV[n] = v + xz * outline[2 * n] + zz * outline[2 * n + 1]
  }
  return sinkOverCells(t, corners)
}

/**
 * How far a flat base must sink, m, so that all of it is at or below a terrain: the exact maximum
 * over the outline's area of (plane − ground), which may be negative when the base hangs clear. The
 * outline must be convex and given as x, z of its corners in world plan; the plane is
 * y = plane[0] + plane[1]·x + plane[2]·z, m. Beyond the rim the nearest edge of the terrain stands in.
 */
export function sinkOfBase(
  t: Terrain,
  x: Float64Array,
  z: Float64Array,
  corners: number,
  plane: Float64Array,
): number {
  const halfX = 0.5 * t.sizeX
  const halfZ = 0.5 * t.sizeZ
  gridPlane[0] = plane[0] - plane[1] * halfX - plane[2] * halfZ
  gridPlane[1] = plane[1] * t.stepX
  gridPlane[2] = plane[2] * t.stepZ
  for (let k = 0; k < corners; k++) {
    cornerU[k] = (x[k] + halfX) * t.perX
    cornerV[k] = (z[k] + halfZ) * t.perZ
  }
  return sinkOverCells(t, corners)
}

/** Over any number of cells, corners beyond the rim moved onto it. */
function sinkOverCells(t: Terrain, corners: number): number {
  const lastU = t.columns - 1
  const lastV = t.rows - 1
  let minU = lastU
  let maxU = 0
  let minV = lastV
  let maxV = 0
  for (let k = 0; k < corners; k++) {
    const u = Math.max(0, Math.min(lastU, cornerU[k]))
    const v = Math.max(0, Math.min(lastV, cornerV[k]))
    cornerU[k] = u
    cornerV[k] = v
    minU = Math.min(minU, u)
    maxU = Math.max(maxU, u)
    minV = Math.min(minV, v)
    maxV = Math.max(maxV, v)
  }
  let sink = -Infinity
  for (let k = 0; k < corners; k++) {
    const n = k + 1 === corners ? 0 : k + 1
    piece[0] = cornerU[k]
    piece[1] = cornerV[k]
    piece[2] = cornerU[n]
    piece[3] = cornerV[n]
    sink = Math.max(sink, mostOnEdge(t))
  }
  for (let j = Math.ceil(minV); j <= maxV; j++)
    for (let i = Math.ceil(minU); i <= maxU; i++) {
      const gap = gridPlane[0] + gridPlane[1] * i + gridPlane[2] * j - t.heights[j * t.columns + i]
      if (gap > sink && insideConvex(corners, i, j)) sink = gap
    }
  return sink
}

/** Greatest gap along the straight edge in `piece`: at its ends, or where it crosses an edge of a triangle. */
function mostOnEdge(t: Terrain): number {
  const ua = piece[0]
  const va = piece[1]
  const du = piece[2] - ua
  const dv = piece[3] - va
  // Shares of the way at which the edge meets its next lines of the grid and its next parting; 1 when it meets none.
  let atU = nextLine(ua, du, 0)
  let atV = nextLine(va, dv, 0)
  let atP = nextLine(ua + va, du + dv, 0)
  let sink = gapAt(t, ua, va)
  for (;;) {
    const to = Math.min(atU, atV, atP)
    const gap = gapAt(t, ua + du * to, va + dv * to)
    if (gap > sink) sink = gap
    if (to === 1) return sink
    if (atU === to) atU = nextLine(ua, du, to)
    if (atV === to) atV = nextLine(va, dv, to)
    if (atP === to) atP = nextLine(ua + va, du + dv, to)
  }
}

/** The next share of the way from a over d, after `from`, at which a whole number is met; at most 1. */
function nextLine(a: number, d: number, from: number): number {
  const at = a + d * from
  const line = d > 0 ? Math.floor(at + 1e-9) + 1 : Math.ceil(at - 1e-9) - 1
  if (d > 0 ? line >= a + d : line <= a + d) return 1
  return (line - a) / d
}

/** Plane − ground at a place in grid units. */
function gapAt(t: Terrain, u: number, v: number): number {
  const { columns, heights } = t
  let i = Math.floor(u)
  let j = Math.floor(v)
  if (i > columns - 2) i = columns - 2
  if (j > t.rows - 2) j = t.rows - 2
  const fu = u - i
  const fv = v - j
  const at = j * columns + i
  const h10 = heights[at + 1]
  const h01 = heights[at + columns]
  const ground =
    fu + fv <= 1
      ? heights[at] * (1 - fu - fv) + h10 * fu + h01 * fv
      : heights[at + columns + 1] * (fu + fv - 1) + h01 * (1 - fu) + h10 * (1 - fv)
  return gridPlane[0] + gridPlane[1] * u + gridPlane[2] * v - ground
}

function insideConvex(corners: number, u: number, v: number): boolean {
  let sign = 0
  for (let k = 0; k < corners; k++) {
    const n = k + 1 === corners ? 0 : k + 1
    const cross =
      (cornerU[n] - cornerU[k]) * (v - cornerV[k]) - (cornerV[n] - cornerV[k]) * (u - cornerU[k])
    if (cross === 0) continue
    const side = cross > 0 ? 1 : -1
    if (sign === 0) sign = side
    else if (side !== sign) return false
  }
  return true
}
