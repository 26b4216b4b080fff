import type { Terrain } from './terrain.ts'

/** Most corners of a base outline. */
export const MAX_BASE_CORNERS = 12

// Corners in grid units (column u, row v) and the gap at each, of the base in hand.
const cornerU = new Float64Array(MAX_BASE_CORNERS)
const cornerV = new Float64Array(MAX_BASE_CORNERS)
// Scratch, so that no double is passed as an argument and boxed: plane a b c, piece ua va ub vb.
const gridPlane = new Float64Array(3)
const piece = new Float64Array(4)

/**
 * How far a flat base must sink, m, so that all of it is at or below a terrain: the exact maximum
 * over the outline's area of (plane − ground), which may be negative when the base hangs clear.
 *
 * In one cell both the plane and the ground are bilinear, and a bilinear function has no maximum
 * inside; along a straight line within a cell it is quadratic. So the maximum lies on the outline
 * (a quadratic per cell crossed) or at a grid node inside it. The outline must be convex and given
 * as x, z of its corners in world plan; the plane is y = plane[0] + plane[1]·x + plane[2]·z, m.
 * Beyond the rim the nearest edge of the terrain stands in.
 */
export function sinkOfBase(
  t: Terrain,
  cornerX: Float64Array,
  cornerZ: Float64Array,
  corners: number,
  plane: Float64Array,
): number {
  const { columns, rows, heights } = t
  const perX = (columns - 1) / t.sizeX
  const perZ = (rows - 1) / t.sizeZ
  const halfX = t.sizeX / 2
  const halfZ = t.sizeZ / 2
  const lastU = columns - 1
  const lastV = rows - 1
  let minU = Infinity
  let maxU = -Infinity
  let minV = Infinity
  let maxV = -Infinity
  for (let k = 0; k < corners; k++) {
    let u = (cornerX[k] + halfX) * perX
    let v = (cornerZ[k] + halfZ) * perZ
    if (u < 0) u = 0
    else if (u > lastU) u = lastU
    if (v < 0) v = 0
    else if (v > lastV) v = lastV
    cornerU[k] = u
    cornerV[k] = v
    if (u < minU) minU = u
    if (u > maxU) maxU = u
    if (v < minV) minV = v
    if (v > maxV) maxV = v
  }
  // The plane in grid units: a + b·u + c·v.
  gridPlane[0] = plane[0] - plane[1] * halfX - plane[2] * halfZ
  gridPlane[1] = plane[1] / perX
  gridPlane[2] = plane[2] / perZ
  const u0 = Math.floor(minU)
  const v0 = Math.floor(minV)
  if (Math.floor(maxU) === u0 && Math.floor(maxV) === v0 && u0 < lastU && v0 < lastV)
    return sinkInCell(heights, v0 * columns + u0, columns, u0, v0, corners)
  return sinkOverCells(t, corners, u0, Math.floor(maxU), v0, Math.floor(maxV))
}

/** All corners lie in the cell whose first sample is `at`. */
function sinkInCell(
  heights: Float32Array,
  at: number,
  columns: number,
  i: number,
  j: number,
  corners: number,
): number {
  const h00 = heights[at]
  const hu = heights[at + 1] - h00
  const hv = heights[at + columns] - h00
  const huv = heights[at + columns + 1] - h00 - hu - hv
  const a = gridPlane[0]
  const b = gridPlane[1]
  const c = gridPlane[2]
  let pu = cornerU[corners - 1] - i
  let pv = cornerV[corners - 1] - j
  let gap = a + b * (pu + i) + c * (pv + j) - (h00 + hu * pu + hv * pv + huv * pu * pv)
  let sink = gap
  for (let k = 0; k < corners; k++) {
    const u = cornerU[k] - i
    const v = cornerV[k] - j
    const next = a + b * (u + i) + c * (v + j) - (h00 + hu * u + hv * v + huv * u * v)
    if (next > sink) sink = next
    const q = -huv * (u - pu) * (v - pv)
    const linear = next - gap - q
    // An inner maximum of gap + linear·s + q·s² in 0 < s < 1.
    if (q < 0 && linear > 0 && linear < -2 * q) {
      const vertex = gap - (linear * linear) / (4 * q)
      if (vertex > sink) sink = vertex
    }
    pu = u
    pv = v
    gap = next
  }
  return sink
}

function sinkOverCells(t: Terrain, corners: number, u0: number, u1: number, v0: number, v1: number): number {
  let sink = -Infinity
  for (let k = 0; k < corners; k++) {
    const n = k + 1 === corners ? 0 : k + 1
    const ua = cornerU[k]
    const va = cornerV[k]
    const du = cornerU[n] - ua
    const dv = cornerV[n] - va
    // Shares of the way at which the edge meets its first grid lines; 1 when it meets none.
    let atU = nextLine(ua, du, 0)
    let atV = nextLine(va, dv, 0)
    let from = 0
    piece[2] = ua
    piece[3] = va
    while (from < 1) {
      const to = atU < atV ? atU : atV
      piece[0] = piece[2]
      piece[1] = piece[3]
      piece[2] = ua + du * to
      piece[3] = va + dv * to
      const gap = gapOfPiece(t)
      if (gap > sink) sink = gap
      if (to === 1) break
      if (atU === to) atU = nextLine(ua, du, to)
      if (atV === to) atV = nextLine(va, dv, to)
      from = to
    }
  }
  if (u1 > u0 && v1 > v0)
    for (let v = v0 + 1; v <= v1; v++)
      for (let u = u0 + 1; u <= u1; u++) {
        const gap = gridPlane[0] + gridPlane[1] * u + gridPlane[2] * v - t.heights[v * t.columns + u]
        if (gap > sink && insideConvex(corners, u, v)) sink = gap
      }
  return sink
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
