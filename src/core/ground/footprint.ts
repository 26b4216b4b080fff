import type { Block } from '../columns.ts'
import { higher, risen } from '../math/portable.ts'
import type { Terrain } from './terrain.ts'

/** Most corners of a base outline. */
const MAX_BASE_CORNERS = 12

/** A convex base outline at size 1: x z pairs about the own origin, m. */
export interface Base {
  readonly corners: number
  readonly outline: Float64Array
  /** Distance of the farthest corner from the origin, m. */
  readonly reach: number
  /** Length of the longest edge, m. */
  readonly longest: number
}

/** Wraps an outline. Throws RangeError when it has more corners than can be. */
export function createBase(outline: readonly number[]): Base {
  const corners = outline.length >> 1
  if (corners > MAX_BASE_CORNERS) throw new RangeError(`createBase: ${corners} corners, at most ${MAX_BASE_CORNERS}`)
  let reach = 0
  let longest = 0
  for (let k = 0; k < corners; k++) {
    const n = k + 1 === corners ? 0 : k + 1
    reach = Math.max(reach, Math.sqrt(outline[2 * k] ** 2 + outline[2 * k + 1] ** 2))
    longest = Math.max(longest, Math.sqrt((outline[2 * n] - outline[2 * k]) ** 2 + (outline[2 * n + 1] - outline[2 * k + 1]) ** 2))
  }
  return { corners, outline: Float64Array.from(outline), reach, longest }
}

// Scratch of the base in hand, so that no double is passed as an argument and boxed.
// Corners in grid units, with the gap at each.
const cornerU = new Float64Array(MAX_BASE_CORNERS)
const cornerV = new Float64Array(MAX_BASE_CORNERS)
const cornerGap = new Float64Array(MAX_BASE_CORNERS)
/** Plane in grid units a b c; piece of an edge ua va ub vb. */
const gridPlane = new Float64Array(3)
const piece = new Float64Array(4)
/** Growth of the gap's slope along an edge: at the node's lines along u and v, and by the twist. */
const growth = new Float64Array(3)

/**
 * Lowers each instance of a block until no part of its base is above the ground: each by the least
 * that does it. Instances whose base hangs clear stay where they are. `rows` lists the sites, `seat`
 * the block's row of a site, `size` its factor, `pick` which of the bases it has.
 *
 * In one cell of the grid both the base's plane and the ground are bilinear, and a bilinear function
 * has no maximum inside; along a straight line within a cell it is quadratic. So the greatest gap
 * between them lies on the outline (a quadratic per cell crossed) or at a grid node inside it. Most
 * edges need no look: where the gap differs more between the two ends than the ground can bend in
 * between, the maximum of the edge is its higher end.
 *
 * A base that lies within two by two cells needs no search for cells: the ground about their common
 * node (i, j) is h + s·|u − i| + s'·|v − j| + t·|u − i|·|v − j| with slopes and twist of each quadrant.
 */
export function seatBases(
  t: Terrain,
  rows: Uint32Array,
  seat: Uint32Array,
  size: Float64Array,
  pick: Uint16Array,
  bases: readonly Base[],
  { position, rotation }: Block,
): void {
  const { perX, perZ, stepX, stepZ, columns, heights } = t
  const lastI = columns - 1
  const lastJ = t.rows - 1
  const halfX = 0.5 * t.sizeX
  const halfZ = 0.5 * t.sizeZ
  // What a loop reads often is local: engines look a module's constants up at every use.
  const LOW = -9999999.5
  const HIGH = 9999999.5
  const gaps = cornerGap
  for (let k = 0; k < rows.length; k++) {
    const row = rows[k]
    const to = seat[row]
    const { corners, outline, reach, longest } = bases[pick[row]]
    if (corners < 3) continue
    const qx = rotation[4 * to]
    const qy = rotation[4 * to + 1]
    const qz = rotation[4 * to + 2]
    const qw = rotation[4 * to + 3]
    // Own up (ux, uy, uz), and the plan parts of own x and own z in grid units.
    const ux = 2 * (qx * qy - qw * qz)
    const uy = 1 - 2 * (qx * qx + qz * qz)
    const uz = 2 * (qy * qz + qw * qx)
    if (uy < 1e-3) continue
    const f = size[row]
    const fx = f * perX
    const fz = f * perZ
    const xx = fx * (1 - 2 * (qy * qy + qz * qz))
    const xz = fz * 2 * (qx * qz - qw * qy)
    const zx = fx * 2 * (qx * qz + qw * qy)
    const zz = fz * (1 - 2 * (qx * qx + qy * qy))
    const u = (position[3 * to] + halfX) * perX
    const v = (position[3 * to + 2] + halfZ) * perZ
    const y = position[3 * to + 1]
    const inverse = -1 / uy
    const b = ux * inverse * stepX
    const c = uz * inverse * stepZ
    const ru = reach * fx
    const rv = reach * fz
    // The node nearest to the place: all four cells around it are in reach of the base.
    const i = (u + 0.5) | 0
    const j = (v + 0.5) | 0
    if (
      i < 1 || j < 1 || i >= lastI || j >= lastJ ||
      u - ru < i - 1 || u + ru > i + 1 || v - rv < j - 1 || v + rv > j + 1
    ) {
      gridPlane[0] = y - b * u - c * v
      gridPlane[1] = b
      gridPlane[2] = c
      for (let n = 0; n < corners; n++) {
        cornerU[n] = u + xx * outline[2 * n] + zx * outline[2 * n + 1]
        cornerV[n] = v + xz * outline[2 * n] + zz * outline[2 * n + 1]
      }
      const sink = sinkOverCells(t, corners)
      if (sink > 0) position[3 * to + 1] = y - sink
      continue
    }
    const at = j * columns + i
    const h = heights[at]
    const east = heights[at + 1] - h
    const west = heights[at - 1] - h
    const south = heights[at + columns] - h
    const north = heights[at - columns] - h
    const southEast = heights[at + columns + 1] - h - south - east
    const southWest = heights[at + columns - 1] - h - south - west
    const northEast = heights[at - columns + 1] - h - north - east
    const northWest = heights[at - columns - 1] - h - north - west
    // Sums and differences across the node: with them the four quadrants are one formula of du, dv,
    // |du| and |dv|, without a branch to guess.
    const easts = 0.25 * (southEast + northEast)
    const wests = 0.25 * (southWest + northWest)
    const eastTurn = 0.25 * (southEast - northEast)
    const westTurn = 0.25 * (southWest - northWest)
    const bendU = 0.5 * (east + west)
    const bendV = 0.5 * (south + north)
    const twistUV = easts + wests
    const twistU = easts - wests
    const twistV = eastTurn + westTurn
    const twist = eastTurn - westTurn
    const ou = u - i
    const ov = v - j
    const level = y - b * ou - c * ov - h
    const overU = b - 0.5 * (east - west)
    const overV = c - 0.5 * (south - north)
    let sink = LOW
    let least = HIGH
    let last = HIGH
    for (let n = 0; n < corners; n++) {
      const bx = outline[2 * n]
      const bz = outline[2 * n + 1]
      const du = ou + xx * bx + zx * bz
      const dv = ov + xz * bx + zz * bz
      const au = Math.abs(du)
      const av = Math.abs(dv)
      const gap =
        level + du * (overU - twistU * av - twist * dv) - au * (bendU + twistUV * av + twistV * dv) + dv * overV - av * bendV
      gaps[n] = gap
      sink = higher(sink, gap)
      least = -higher(-least, -Math.abs(gap - last))
      last = gap
    }
    least = -higher(-least, -Math.abs(gaps[0] - last))
    // How much the slope along u and v grows at most where it crosses the node's lines, and the
    // greatest twist. On a way from 0 to 1 the gap stays under its chord plus the growth of slope · s·(1 − s).
    const kinkU = risen(2 * (bendU + risen(twistUV + Math.abs(twistV))))
    const kinkV = risen(2 * (bendV + risen(twistUV + Math.abs(twistU))))
    const mostTwist = 4 * higher(Math.abs(easts) + Math.abs(eastTurn), Math.abs(wests) + Math.abs(westTurn))
    const longU = longest * fx
    const longV = longest * fz
    const inReach = level > sink && Math.abs(ou) < ru && Math.abs(ov) < rv
    if (inReach || least < kinkU * longU + kinkV * longV + mostTwist * longU * longV) {
      for (let n = 0; n < corners; n++) {
        cornerU[n] = u + xx * outline[2 * n] + zx * outline[2 * n + 1]
        cornerV[n] = v + xz * outline[2 * n] + zz * outline[2 * n + 1]
      }
      gridPlane[0] = y - b * u - c * v
      gridPlane[1] = b
      gridPlane[2] = c
      growth[0] = kinkU
      growth[1] = kinkV
      growth[2] = mostTwist
      const most = mostOnEdges(t, corners, sink)
      if (most > sink) sink = most
      if (inReach && level > sink && insideConvex(corners, i, j)) sink = level
    }
    if (sink > 0) position[3 * to + 1] = y - sink
  }
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

/** The greatest gap on those edges where the gap may rise above both ends and above `sink`; −Infinity when there is none. */
function mostOnEdges(t: Terrain, corners: number, sink: number): number {
  let highest = -Infinity
  let before = corners - 1
  for (let n = 0; n < corners; n++) {
    const du = Math.abs(cornerU[n] - cornerU[before])
    const dv = Math.abs(cornerV[n] - cornerV[before])
    const grown = growth[0] * du + growth[1] * dv + growth[2] * du * dv
    const [a, b] = [cornerGap[n], cornerGap[before]]
    if (Math.abs(a - b) < grown && Math.max(a, b) + 0.25 * grown > sink) {
      piece[0] = cornerU[before]
      piece[1] = cornerV[before]
      piece[2] = cornerU[n]
      piece[3] = cornerV[n]
      highest = Math.max(highest, mostOnEdge(t))
    }
    before = n
  }
  return highest
}

/** The general case: any number of cells, corners beyond the rim moved onto it. */
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

/** Greatest gap along the straight edge in `piece`, cell by cell. */
function mostOnEdge(t: Terrain): number {
  const ua = piece[0]
  const va = piece[1]
  const du = piece[2] - ua
  const dv = piece[3] - va
  let sink = -Infinity
  // Shares of the way at which the edge meets its first grid lines; 1 when it meets none.
  let atU = nextLine(ua, du, 0)
  let atV = nextLine(va, dv, 0)
  piece[2] = ua
  piece[3] = va
  for (;;) {
    const to = atU < atV ? atU : atV
    piece[0] = piece[2]
    piece[1] = piece[3]
    piece[2] = ua + du * to
    piece[3] = va + dv * to
    const gap = gapOfPiece(t)
    if (gap > sink) sink = gap
    if (to === 1) return sink
    if (atU === to) atU = nextLine(ua, du, to)
    if (atV === to) atV = nextLine(va, dv, to)
  }
}

/** The next share of the way from a over d, after `from`, at which a whole number is met; at most 1. */
function nextLine(a: number, d: number, from: number): number {
  const at = a + d * from
  const line = d > 0 ? Math.floor(at + 1e-9) + 1 : Math.ceil(at - 1e-9) - 1
  if (d > 0 ? line >= a + d : line <= a + d) return 1
  return (line - a) / d
}

/**
 * Greatest plane − ground along the straight `piece` within one cell: with q = −d·Δu·Δv the gap is
 * g0 + (g1 − g0 − q)·s + q·s², which has an inner maximum only if q is negative.
 */
function gapOfPiece(t: Terrain): number {
  const ua = piece[0]
  const va = piece[1]
  const ub = piece[2]
  const vb = piece[3]
  // The middle tells the cell even when an end lies on a grid line.
  let i = Math.floor(0.5 * (ua + ub))
  let j = Math.floor(0.5 * (va + vb))
  if (i > t.columns - 2) i = t.columns - 2
  if (j > t.rows - 2) j = t.rows - 2
  const at = j * t.columns + i
  const h00 = t.heights[at]
  const hu = t.heights[at + 1] - h00
  const hv = t.heights[at + t.columns] - h00
  const huv = t.heights[at + t.columns + 1] - h00 - hu - hv
  const a = gridPlane[0]
  const b = gridPlane[1]
  const c = gridPlane[2]
  const g0 = a + b * ua + c * va - (h00 + hu * (ua - i) + hv * (va - j) + huv * (ua - i) * (va - j))
  const g1 = a + b * ub + c * vb - (h00 + hu * (ub - i) + hv * (vb - j) + huv * (ub - i) * (vb - j))
  const q = -huv * (ub - ua) * (vb - va)
  const linear = g1 - g0 - q
  if (q < 0 && linear > 0 && linear < -2 * q) return g0 - (linear * linear) / (4 * q)
  return g0 > g1 ? g0 : g1
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
