import { angleFrom, cosKernel, draw, minus, plus, quarters, reduced, sinKernel, turned } from './lanes'

// Columns of four bytes a row, one after the other; the same list stands in core/kernels/kernels.ts.
const DRAW: usize = 0
const TURN_BY: usize = 1
const LEAN_BY: usize = 2
const HEIGHT: usize = 3
const NORMAL_X: usize = 4
const NORMAL_Y: usize = 5
const NORMAL_Z: usize = 6
const X: usize = 7
const Y: usize = 8
const Z: usize = 9
const W: usize = 10
const SIZE: usize = 11
const SINK: usize = 12
const ROTATION: usize = 13
const AROUND: usize = 17

// What lies around each place, four rows at a time: a register of each of these, bytes.
const OFF_U: usize = 0
const OFF_V: usize = 16
const CENTRE: usize = 32
const EAST: usize = 48
const WEST: usize = 64
const SOUTH: usize = 80
const NORTH: usize = 96
const SOUTH_EAST: usize = 112
const SOUTH_WEST: usize = 128
const NORTH_EAST: usize = 144
const NORTH_WEST: usize = 160
const PER_GROUP: usize = 176

// Channels of core/math/random.ts.
const CHANNEL_TURN: i32 = 5
const CHANNEL_LEAN: i32 = 6
const CHANNEL_TOWARD: i32 = 7

const TAU: f32 = 6.283185307179586
/** Nothing leans farther than 80°; half of it, rad. */
const HALF_MOST_LEAN: f32 = 0.6981317007977318

/**
 * The ground about a node, in one of the four cells around it: with rises r and s from the node to its
 * neighbours along u and v and the twist t by which the far corner departs from their sum, the height is
 * r·|u| + s·|v| + t·fold. Cells are parted from north-east to south-west. Where u and v have one sign the
 * parting lies across from the node, so the fold is max(0, |u| + |v| − 1); else it runs through the node,
 * and the fold is the lesser of |u| and |v|.
 */
@inline
function foldOf(u: v128, v: v128): v128 {
  const zero = f32x4.splat(0)
  const au = f32x4.abs(u)
  const av = f32x4.abs(v)
  const apart = i32x4.lt_s(v128.xor(u, v), zero)
  return v128.bitselect(f32x4.pmin(au, av), f32x4.pmax(zero, f32x4.sub(f32x4.add(au, av), f32x4.splat(1))), apart)
}

/**
 * Writes the normal of the terrain's triangle (as long as makes its y 1) into the columns of normals, from
 * the heights around each place, and the own height into that of heights.
 */
export function land(count: i32, base: usize, stride: usize, perX: f32, perZ: f32): void {
  const zero = f32x4.splat(0)
  const one = f32x4.splat(1)
  const minusPerX = f32x4.splat(-perX)
  const minusPerZ = f32x4.splat(-perZ)
  let around = base + AROUND * stride
  for (let k = 0; k < count; k += 4) {
    const row = base + (<usize>k << 2)
    const u = v128.load(around, OFF_U)
    const v = v128.load(around, OFF_V)
    const inWest = f32x4.lt(u, zero)
    const inNorth = f32x4.lt(v, zero)
    const besideU = v128.bitselect(v128.load(around, WEST), v128.load(around, EAST), inWest)
    const besideV = v128.bitselect(v128.load(around, NORTH), v128.load(around, SOUTH), inNorth)
    const across = v128.bitselect(
      v128.bitselect(v128.load(around, NORTH_WEST), v128.load(around, SOUTH_WEST), inNorth),
      v128.bitselect(v128.load(around, NORTH_EAST), v128.load(around, SOUTH_EAST), inNorth),
      inWest,
    )
    const centre = v128.load(around, CENTRE)
    const riseU = f32x4.sub(besideU, centre)
    const riseV = f32x4.sub(besideV, centre)
    const twist = f32x4.sub(f32x4.sub(f32x4.sub(across, centre), riseU), riseV)
    const alongU = f32x4.abs(u)
    const alongV = f32x4.abs(v)
    // Which of u and v the fold grows with.
    const apart = v128.xor(inWest, inNorth)
    const beyond = f32x4.gt(f32x4.add(alongU, alongV), one)
    const less = f32x4.lt(alongU, alongV)
    const perU = f32x4.add(riseU, v128.and(twist, v128.bitselect(less, beyond, apart)))
    const perV = f32x4.add(riseV, v128.and(twist, v128.bitselect(v128.not(less), beyond, apart)))
    v128.store(row + HEIGHT * stride, f32x4.add(centre, plus(plus(f32x4.mul(riseU, alongU), riseV, alongV), twist, foldOf(u, v))))
    // Towards the west and the north the sides are measured backwards.
    const signU = v128.and(inWest, f32x4.splat(-0.0))
    const signV = v128.and(inNorth, f32x4.splat(-0.0))
    v128.store(row + NORMAL_X * stride, v128.xor(f32x4.mul(perU, minusPerX), signU))
    v128.store(row + NORMAL_Y * stride, f32x4.splat(1))
    v128.store(row + NORMAL_Z * stride, v128.xor(f32x4.mul(perV, minusPerZ), signV))
    around += PER_GROUP
  }
}

/**
 * Writes rotations, as columns and as rows of x y z w: align · lean · turn (Shoemake 1992). Angles are
 * halves, rad: turn about own up, lean towards the wind or, without one, a drawn side, then the
 * great-circle blend from world up to the columns of normals by twice `halfFollow`.
 */
export function rotate(
  count: i32,
  base: usize,
  stride: usize,
  turnLow: f32,
  turnRange: f32,
  leanLow: f32,
  leanRange: f32,
  leans: bool,
  windy: bool,
  windX: f32,
  windZ: f32,
  halfFollow: f32,
): void {
  const zero = f32x4.splat(0)
  for (let k = 0; k < count; k += 4) {
    const row = base + (<usize>k << 2)
    const key = v128.load(row + DRAW * stride)
    const turn = f32x4.add(
      plus(f32x4.splat(turnLow), f32x4.splat(turnRange), draw(key, CHANNEL_TURN)),
      v128.load(row + TURN_BY * stride),
    )
    const turnQuarter = quarters(turn)
    const turnRest = reduced(turn, turnQuarter)
    const turnSin = sinKernel(turnRest)
    const turnCos = cosKernel(turnRest)
    let x = zero
    let y = turned(turnSin, turnCos, turnQuarter)
    let z = zero
    let w = turned(turnSin, turnCos, i32x4.add(turnQuarter, i32x4.splat(1)))
    if (leans) {
      let towardX = f32x4.splat(windX)
      let towardZ = f32x4.splat(windZ)
      if (!windy) {
        const side = f32x4.mul(f32x4.splat(TAU), draw(key, CHANNEL_TOWARD))
        const sideQuarter = quarters(side)
        const sideRest = reduced(side, sideQuarter)
        const sideSin = sinKernel(sideRest)
        const sideCos = cosKernel(sideRest)
        towardX = turned(sideSin, sideCos, sideQuarter)
        towardZ = turned(sideSin, sideCos, i32x4.add(sideQuarter, i32x4.splat(1)))
      }
      let lean = f32x4.add(
        plus(f32x4.splat(leanLow), f32x4.splat(leanRange), draw(key, CHANNEL_LEAN)),
        v128.load(row + LEAN_BY * stride),
      )
      lean = f32x4.pmin(f32x4.pmax(lean, zero), f32x4.splat(HALF_MOST_LEAN))
      const leanSin = sinKernel(lean)
      const leanCos = cosKernel(lean)
      // The axis is up × direction = (dz, 0, −dx).
      const dx = f32x4.mul(towardX, leanSin)
      const dz = f32x4.mul(towardZ, leanSin)
      x = plus(f32x4.mul(dz, w), dx, y)
      z = minus(f32x4.mul(dz, y), dx, w)
      y = f32x4.mul(leanCos, y)
      w = f32x4.mul(leanCos, w)
    }
    if (halfFollow > 0) {
      const nx = v128.load(row + NORMAL_X * stride)
      const ny = v128.load(row + NORMAL_Y * stride)
      const nz = v128.load(row + NORMAL_Z * stride)
      const tilt = f32x4.sqrt(plus(f32x4.mul(nx, nx), nz, nz))
      // Half of an overturned normal's angle comes up to a right angle, beyond what the kernels take.
      const angle = f32x4.mul(f32x4.splat(halfFollow), angleFrom(tilt, ny))
      const quarter = quarters(angle)
      const rest = reduced(angle, quarter)
      const s = sinKernel(rest)
      const c = cosKernel(rest)
      const sine = turned(s, c, quarter)
      const aw = turned(s, c, i32x4.add(quarter, i32x4.splat(1)))
      // Straight up or down there is no nearest way over; any axis will do.
      const upright = f32x4.lt(tilt, f32x4.splat(1e-9))
      const share = v128.andnot(f32x4.div(sine, tilt), upright)
      const ax = v128.bitselect(sine, f32x4.mul(nz, share), upright)
      const az = f32x4.neg(f32x4.mul(nx, share))
      const qx = x
      const qy = y
      const qz = z
      const qw = w
      x = minus(plus(f32x4.mul(aw, qx), ax, qw), az, qy)
      y = minus(plus(f32x4.mul(aw, qy), az, qx), ax, qz)
      z = plus(plus(f32x4.mul(aw, qz), az, qw), ax, qy)
      w = minus(minus(f32x4.mul(aw, qw), ax, qx), az, qz)
    }
    v128.store(row + X * stride, x)
    v128.store(row + Y * stride, y)
    v128.store(row + Z * stride, z)
    v128.store(row + W * stride, w)
    const rotation = base + ROTATION * stride + (<usize>k << 4)
    const xyLow = v128.shuffle<i32>(x, y, 0, 4, 1, 5)
    const xyHigh = v128.shuffle<i32>(x, y, 2, 6, 3, 7)
    const zwLow = v128.shuffle<i32>(z, w, 0, 4, 1, 5)
    const zwHigh = v128.shuffle<i32>(z, w, 2, 6, 3, 7)
    v128.store(rotation, v128.shuffle<i64>(xyLow, zwLow, 0, 2))
    v128.store(rotation, v128.shuffle<i64>(xyLow, zwLow, 1, 3), 16)
    v128.store(rotation, v128.shuffle<i64>(xyHigh, zwHigh, 0, 2), 32)
    v128.store(rotation, v128.shuffle<i64>(xyHigh, zwHigh, 1, 3), 48)
  }
}

// Gaps at the corners of a base, and how far each lies along u and v: at most 12 corners.
const gaps = memory.data(12 * 16, 16)
const alongU = memory.data(12 * 16, 16)
const alongV = memory.data(12 * 16, 16)

/** Plane − ground at a place, from the plane's and the ground's course about the node. */
@inline
function gapAt(
  u: v128,
  v: v128,
  level: v128,
  overU: v128,
  overV: v128,
  bendU: v128,
  bendV: v128,
  southEast: v128,
  southWest: v128,
  northEast: v128,
  northWest: v128,
): v128 {
  const west = i32x4.shr_s(u, 31)
  const north = i32x4.shr_s(v, 31)
  const twist = v128.bitselect(v128.bitselect(northWest, northEast, west), v128.bitselect(southWest, southEast, west), north)
  const flat = minus(plus(level, u, overU), f32x4.abs(u), bendU)
  return minus(minus(plus(flat, v, overV), f32x4.abs(v), bendV), twist, foldOf(u, v))
}

/** Whether the base reaches beyond the two by two cells about the node. */
@inline
function reachesBeyond(ou: v128, ov: v128, ru: v128, rv: v128): v128 {
  const one = f32x4.splat(1)
  return v128.or(f32x4.gt(f32x4.add(f32x4.abs(ou), ru), one), f32x4.gt(f32x4.add(f32x4.abs(ov), rv), one))
}

/**
 * Writes how far the base of each row from `from` to `to` must sink, m; 0 or less where it need not,
 * NaN where a closer look is needed. All have the same base: `corners` pairs of x and z at `outline`.
 *
 * The gap between the base's plane and the ground is linear within each triangle, so along an edge it is
 * greatest at an end or where the edge crosses a line of the grid or a parting: within the two by two cells
 * about the nearest node those are u = 0, v = 0, u + v = 0 and u + v = ±1. Inside of the outline it is greatest
 * at the node, where that lies there.
 */
export function seat(
  from: i32,
  to: i32,
  base: usize,
  stride: usize,
  corners: i32,
  outline: usize,
  reach: f32,
  perX: f32,
  perZ: f32,
): void {
  const zero = f32x4.splat(0)
  const one = f32x4.splat(1)
  const two = f32x4.splat(2)
  const half = f32x4.splat(0.5)
  const unknown = f32x4.splat(NaN)
  const lanes = i32x4(0, 1, 2, 3)
  // The first four may begin with rows of another base, which keep what they have.
  let around = base + AROUND * stride + <usize>(from >> 2) * PER_GROUP
  for (let k = from & ~3; k < to; k += 4) {
    const row = base + (<usize>k << 2)
    const qx = v128.load(row + X * stride)
    const qy = v128.load(row + Y * stride)
    const qz = v128.load(row + Z * stride)
    const qw = v128.load(row + W * stride)
    const size = v128.load(row + SIZE * stride)
    const ou = v128.load(around, OFF_U)
    const ov = v128.load(around, OFF_V)
    // Own up, and the plan parts of own x and own z in grid units.
    const ux = f32x4.mul(two, minus(f32x4.mul(qx, qy), qw, qz))
    const uy = minus(one, two, plus(f32x4.mul(qx, qx), qz, qz))
    const uz = f32x4.mul(two, plus(f32x4.mul(qy, qz), qw, qx))
    const fx = f32x4.mul(size, f32x4.splat(perX))
    const fz = f32x4.mul(size, f32x4.splat(perZ))
    const xx = f32x4.mul(fx, minus(one, two, plus(f32x4.mul(qy, qy), qz, qz)))
    const xz = f32x4.mul(fz, f32x4.mul(two, minus(f32x4.mul(qx, qz), qw, qy)))
    const zx = f32x4.mul(fx, f32x4.mul(two, plus(f32x4.mul(qx, qz), qw, qy)))
    const zz = f32x4.mul(fz, minus(one, two, plus(f32x4.mul(qx, qx), qy, qy)))
    // The base's plane: rise along u and v.
    const inverse = f32x4.div(f32x4.splat(-1), uy)
    const b = f32x4.mul(f32x4.mul(ux, inverse), f32x4.splat(1 / perX))
    const c = f32x4.mul(f32x4.mul(uz, inverse), f32x4.splat(1 / perZ))
    const ru = f32x4.mul(f32x4.splat(reach), fx)
    const rv = f32x4.mul(f32x4.splat(reach), fz)
    const centre = v128.load(around, CENTRE)
    const east = f32x4.sub(v128.load(around, EAST), centre)
    const west = f32x4.sub(v128.load(around, WEST), centre)
    const south = f32x4.sub(v128.load(around, SOUTH), centre)
    const north = f32x4.sub(v128.load(around, NORTH), centre)
    const southEast = f32x4.sub(f32x4.sub(f32x4.sub(v128.load(around, SOUTH_EAST), centre), south), east)
    const southWest = f32x4.sub(f32x4.sub(f32x4.sub(v128.load(around, SOUTH_WEST), centre), south), west)
    const northEast = f32x4.sub(f32x4.sub(f32x4.sub(v128.load(around, NORTH_EAST), centre), north), east)
    const northWest = f32x4.sub(f32x4.sub(f32x4.sub(v128.load(around, NORTH_WEST), centre), north), west)
    // Sums and differences across the node make the rises of the four cells one formula of u, v, |u| and |v|.
    const bendU = f32x4.mul(half, f32x4.add(east, west))
    const bendV = f32x4.mul(half, f32x4.add(south, north))
    const level = minus(minus(f32x4.sub(v128.load(row + HEIGHT * stride), centre), b, ou), c, ov)
    const overU = minus(b, half, f32x4.sub(east, west))
    const overV = minus(c, half, f32x4.sub(south, north))
    const across = f32x4.add(ou, ov)
    const side = v128.or(one, v128.and(across, f32x4.splat(-0.0)))
    let sink = f32x4.splat(-1e30)
    for (let n = 0; n < corners; n++) {
      const bx = v128.load32_splat(outline + (<usize>n << 3))
      const bz = v128.load32_splat(outline + (<usize>n << 3), 4)
      const du = plus(plus(ou, xx, bx), zx, bz)
      const dv = plus(plus(ov, xz, bx), zz, bz)
      const gap = gapAt(du, dv, level, overU, overV, bendU, bendV, southEast, southWest, northEast, northWest)
      sink = f32x4.pmax(sink, gap)
      const kept = <usize>n << 4
      v128.store(gaps + kept, gap)
      v128.store(alongU + kept, du)
      v128.store(alongV + kept, dv)
    }
    // Whether the node is to the one side of all edges, or to the other.
    let left = f32x4.eq(zero, zero)
    let right = left
    let last = <usize>(corners - 1) << 4
    for (let n = 0; n < corners; n++) {
      const here = <usize>n << 4
      const before = v128.load(gaps + last)
      const u0 = v128.load(alongU + last)
      const v0 = v128.load(alongV + last)
      const u1 = v128.load(alongU + here)
      const v1 = v128.load(alongV + here)
      const du = f32x4.sub(u1, u0)
      const dv = f32x4.sub(v1, v0)
      const turn = minus(f32x4.mul(u0, v1), u1, v0)
      left = v128.and(left, f32x4.ge(turn, zero))
      right = v128.and(right, f32x4.le(turn, zero))
      const crossesU = f32x4.lt(f32x4.mul(u0, u1), zero)
      const crossesV = f32x4.lt(f32x4.mul(v0, v1), zero)
      // Shares of the way at which it crosses; where it does not, the gap at its begin stands in.
      if (v128.any_true(v128.or(crossesU, crossesV))) {
        const vThere = minus(v0, f32x4.div(u0, du), dv)
        const uThere = minus(u0, f32x4.div(v0, dv), du)
        const gapU = minus(plus(level, vThere, overV), f32x4.abs(vThere), bendV)
        const gapV = minus(plus(level, uThere, overU), f32x4.abs(uThere), bendU)
        sink = f32x4.pmax(sink, f32x4.pmax(v128.bitselect(gapU, before, crossesU), v128.bitselect(gapV, before, crossesV)))
      }
      const p0 = f32x4.add(u0, v0)
      const p1 = f32x4.add(u1, v1)
      const span = f32x4.sub(p1, p0)
      const q0 = f32x4.sub(p0, side)
      const q1 = f32x4.sub(p1, side)
      const crossesP = f32x4.lt(f32x4.mul(p0, p1), zero)
      const crossesQ = f32x4.lt(f32x4.mul(q0, q1), zero)
      if (v128.any_true(v128.or(crossesP, crossesQ))) {
        const shareP = f32x4.div(p0, span)
        const shareQ = f32x4.div(q0, span)
        const gapP = gapAt(minus(u0, shareP, du), minus(v0, shareP, dv), level, overU, overV, bendU, bendV, southEast, southWest, northEast, northWest)
        const gapQ = gapAt(minus(u0, shareQ, du), minus(v0, shareQ, dv), level, overU, overV, bendU, bendV, southEast, southWest, northEast, northWest)
        sink = f32x4.pmax(sink, f32x4.pmax(v128.bitselect(gapP, before, crossesP), v128.bitselect(gapQ, before, crossesQ)))
      }
      // The parting on the other side of the node, which only wide bases reach.
      const far0 = f32x4.add(p0, side)
      const crossesFar = f32x4.lt(f32x4.mul(far0, f32x4.add(p1, side)), zero)
      if (v128.any_true(crossesFar)) {
        const share = f32x4.div(far0, span)
        const gap = gapAt(minus(u0, share, du), minus(v0, share, dv), level, overU, overV, bendU, bendV, southEast, southWest, northEast, northWest)
        sink = f32x4.pmax(sink, v128.bitselect(gap, before, crossesFar))
      }
      last = here
    }
    sink = f32x4.pmax(sink, v128.bitselect(level, sink, v128.or(left, right)))
    const look = reachesBeyond(ou, ov, ru, rv)
    const stands = f32x4.ge(uy, f32x4.splat(1e-3))
    const own = i32x4.ge_s(i32x4.add(lanes, i32x4.splat(k)), i32x4.splat(from))
    const before = v128.load(row + SINK * stride)
    v128.store(row + SINK * stride, v128.bitselect(v128.and(v128.bitselect(unknown, sink, look), stands), before, own))
    around += PER_GROUP
  }
}
