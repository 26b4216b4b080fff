import { scramble } from '../math/random.ts'
import type { Kernels } from './kernel-set.ts'
import { plainMemory } from './plain-memory.ts'
import { fractal, patches } from './plain-noise.ts'

/**
 * The kernels without WebAssembly, for browsers that have none or forbid it: one row at a time, slower, and the
 * same bits, as every operation is rounded to single precision where the kernels' registers hold that. They follow
 * `assembly/` line by line; `plain.test.ts` compares them. What each does is told there.
 */

const f = Math.fround

// Where each column and each number around a place lies, as in assembly/stance.ts.
const DRAW = 0
const TURN_BY = 1
const LEAN_BY = 2
const HEIGHT = 3
const NORMAL_X = 4
const NORMAL_Y = 5
const NORMAL_Z = 6
const X = 7
const SIZE = 11
const SINK = 12
const ROTATION = 13
const AROUND = 17
const PER_GROUP = 44

const CHANNEL_TURN = 5
const CHANNEL_LEAN = 6
const CHANNEL_TOWARD = 7

/** The kernels in plain JavaScript. */
export function plainKernels(): Kernels {
  return { memory: plainMemory, free: { value: 0 }, loops: null, fractal, patches, land, rotate, seat }
}

/** Whether a number has the sign of negative ones, as −0 has. */
function signed(value: number): boolean {
  return value < 0 || Object.is(value, -0)
}

function foldOf(u: number, v: number): number {
  const au = Math.abs(u)
  const av = Math.abs(v)
  if (signed(u) !== signed(v)) return av < au ? av : au
  const beyond = f(f(au + av) - 1)
  return beyond > 0 ? beyond : 0
}

/** Where the first number around a row stands. */
function aroundOf(base: number, stride: number, k: number): number {
  return ((base + AROUND * stride) >> 2) + (k >> 2) * PER_GROUP + (k & 3)
}

function land(count: number, base: number, stride: number, perX: number, perZ: number): void {
  const { floats } = plainMemory
  const minusPerX = -f(perX)
  const minusPerZ = -f(perZ)
  for (let k = 0; k < count; k++) {
    const row = (base >> 2) + k
    const column = stride >> 2
    const at = aroundOf(base, stride, k)
    const u = floats[at]
    const v = floats[at + 4]
    const inWest = u < 0
    const inNorth = v < 0
    const besideU = floats[at + (inWest ? 16 : 12)]
    const besideV = floats[at + (inNorth ? 24 : 20)]
    const across = floats[at + (inWest ? (inNorth ? 40 : 32) : inNorth ? 36 : 28)]
    const centre = floats[at + 8]
    const riseU = f(besideU - centre)
    const riseV = f(besideV - centre)
    const twist = f(f(f(across - centre) - riseU) - riseV)
    const alongU = Math.abs(u)
    const alongV = Math.abs(v)
    const apart = inWest !== inNorth
    const beyond = f(alongU + alongV) > 1
    const less = alongU < alongV
    const perU = f(riseU + ((apart ? less : beyond) ? twist : 0))
    const perV = f(riseV + ((apart ? !less : beyond) ? twist : 0))
    floats[row + HEIGHT * column] = f(centre + f(f(f(riseU * alongU) + f(riseV * alongV)) + f(twist * foldOf(u, v))))
    const nx = f(perU * minusPerX)
    const nz = f(perV * minusPerZ)
    floats[row + NORMAL_X * column] = inWest ? -nx : nx
    floats[row + NORMAL_Y * column] = 1
    floats[row + NORMAL_Z * column] = inNorth ? -nz : nz
  }
}

function draw(key: number, channel: number): number {
  return (scramble((key + Math.imul(channel, 0x9e3779b9)) | 0) >>> 8) * f(5.9604644775390625e-8)
}

const SIN = [8.3321608736e-3, -1.9515295891e-4, -1.6666654611e-1].map(f)
const COS = [-1.388731625493765e-3, 2.443315711809948e-5, 4.166664568298827e-2].map(f)

function sinKernel(x: number): number {
  const z = f(x * x)
  let p = f(SIN[0] + f(z * SIN[1]))
  p = f(SIN[2] + f(z * p))
  return f(x + f(f(x * z) * p))
}

function cosKernel(x: number): number {
  const z = f(x * x)
  let p = f(COS[0] + f(z * COS[1]))
  p = f(COS[2] + f(z * p))
  return f(f(1 - f(z * 0.5)) + f(f(z * z) * p))
}

const ROUND = 12582912
const PER_QUARTER = f(0.63661977236)
const QUARTER = [1.5703125, 4.837512969970703125e-4, 7.54978995489188216e-8].map(f)
const bits = new Int32Array(1)
const asFloat = new Float32Array(bits.buffer)

/** The multiple of a quarter turn that is nearest to an angle, as the low bits of a whole number; its rest goes to {@link rest}. */
function quartersOf(angle: number): number {
  asFloat[0] = f(f(angle * PER_QUARTER) + ROUND)
  const n = f(asFloat[0] - ROUND)
  rest = f(angle - f(n * QUARTER[0]))
  rest = f(rest - f(n * QUARTER[1]))
  rest = f(rest - f(n * QUARTER[2]))
  return bits[0]
}

let rest = 0

function turned(sine: number, cosine: number, quarter: number): number {
  const value = quarter & 1 ? cosine : sine
  return quarter & 2 ? -value : value
}

const ATAN = [-1.38776856032e-1, 8.05374449538e-2, 1.99777106478e-1, -3.33329491539e-1].map(f)
const EIGHTH = f(0.4142135623730950488)
const QUARTER_PI = f(0.78539816339744830962)
const HALF_PI = f(1.5707963267948966192)
const PI = f(3.14159265358979323846)

function angleFrom(away: number, along: number): number {
  const flat = Math.abs(along)
  const low = flat < away ? flat : away
  const high = Math.max(away, flat, f(1e-30))
  const steep = low > f(high * EIGHTH)
  const x = f((steep ? f(low - high) : low) / (steep ? f(low + high) : high))
  const z = f(x * x)
  let p = f(ATAN[0] + f(z * ATAN[1]))
  p = f(ATAN[2] + f(z * p))
  p = f(ATAN[3] + f(z * p))
  let a = f(x + f(f(x * z) * p))
  a = f(a + (steep ? QUARTER_PI : 0))
  if (away > flat) a = f(HALF_PI - a)
  return along < 0 ? f(PI - a) : a
}

const TAU = f(6.283185307179586)
const HALF_MOST_LEAN = f(0.6981317007977318)
const UPRIGHT = f(1e-9)

// The rotation in hand.
let qx = 0
let qy = 0
let qz = 0
let qw = 1

function rotate(
  count: number,
  base: number,
  stride: number,
  turnLow: number,
  turnRange: number,
  leanLow: number,
  leanRange: number,
  leans: number,
  windy: number,
  windX: number,
  windZ: number,
  halfFollow: number,
): void {
  const { floats, whole } = plainMemory
  const column = stride >> 2
  for (let k = 0; k < count; k++) {
    const row = (base >> 2) + k
    const key = whole[row + DRAW * column]
    const quarter = quartersOf(f(f(f(turnLow) + f(f(turnRange) * draw(key, CHANNEL_TURN))) + floats[row + TURN_BY * column]))
    const [sine, cosine] = [sinKernel(rest), cosKernel(rest)]
    qx = 0
    qy = turned(sine, cosine, quarter)
    qz = 0
    qw = turned(sine, cosine, quarter + 1)
    if (leans) leanBy(key, f(f(f(leanLow) + f(f(leanRange) * draw(key, CHANNEL_LEAN))) + floats[row + LEAN_BY * column]), windy !== 0, f(windX), f(windZ))
    if (f(halfFollow) > 0) follow(f(halfFollow), floats[row + NORMAL_X * column], floats[row + NORMAL_Y * column], floats[row + NORMAL_Z * column])
    for (const [c, value] of [qx, qy, qz, qw].entries()) {
      floats[row + (X + c) * column] = value
      floats[(base >> 2) + ROTATION * column + 4 * k + c] = value
    }
  }
}

function leanBy(key: number, by: number, windy: boolean, windX: number, windZ: number): void {
  let towardX = windX
  let towardZ = windZ
  if (!windy) {
    const quarter = quartersOf(f(TAU * draw(key, CHANNEL_TOWARD)))
    const [sine, cosine] = [sinKernel(rest), cosKernel(rest)]
    towardX = turned(sine, cosine, quarter)
    towardZ = turned(sine, cosine, quarter + 1)
  }
  let lean = by < 0 ? 0 : by
  if (HALF_MOST_LEAN < lean) lean = HALF_MOST_LEAN
  const leanSin = sinKernel(lean)
  const leanCos = cosKernel(lean)
  const dx = f(towardX * leanSin)
  const dz = f(towardZ * leanSin)
  qx = f(f(dz * qw) + f(dx * qy))
  qz = f(f(dz * qy) - f(dx * qw))
  qy = f(leanCos * qy)
  qw = f(leanCos * qw)
}

function follow(halfFollow: number, nx: number, ny: number, nz: number): void {
  const tilt = f(Math.sqrt(f(f(nx * nx) + f(nz * nz))))
  const quarter = quartersOf(f(halfFollow * angleFrom(tilt, ny)))
  const [s, c] = [sinKernel(rest), cosKernel(rest)]
  const sine = turned(s, c, quarter)
  const aw = turned(s, c, quarter + 1)
  const upright = tilt < UPRIGHT
  const share = upright ? 0 : f(sine / tilt)
  const ax = upright ? sine : f(nz * share)
  const az = -f(nx * share)
  const [x, y, z, w] = [qx, qy, qz, qw]
  qx = f(f(f(aw * x) + f(ax * w)) - f(az * y))
  qy = f(f(f(aw * y) + f(az * x)) - f(ax * z))
  qz = f(f(f(aw * z) + f(az * w)) + f(ax * y))
  qw = f(f(f(aw * w) - f(ax * x)) - f(az * z))
}

// The course of the plane and of the ground about the node of the base in hand.
const course = { level: 0, overU: 0, overV: 0, bendU: 0, bendV: 0, southEast: 0, southWest: 0, northEast: 0, northWest: 0 }

function gapAt(u: number, v: number): number {
  const { level, overU, overV, bendU, bendV, southEast, southWest, northEast, northWest } = course
  const twist = signed(v) ? (signed(u) ? northWest : northEast) : signed(u) ? southWest : southEast
  const flat = f(f(level + f(u * overU)) - f(Math.abs(u) * bendU))
  return f(f(f(flat + f(v * overV)) - f(Math.abs(v) * bendV)) - f(twist * foldOf(u, v)))
}

const MOST_CORNERS = 12
const alongU = new Float32Array(MOST_CORNERS)
const alongV = new Float32Array(MOST_CORNERS)
const STEEPEST = f(1e-3)

function seat(from: number, to: number, base: number, stride: number, corners: number, outline: number, reach: number, perX: number, perZ: number): void {
  const { floats } = plainMemory
  const column = stride >> 2
  const [across, deep] = [f(perX), f(perZ)]
  for (let k = from; k < to; k++) {
    const row = (base >> 2) + k
    const [x, y, z, w] = [0, 1, 2, 3].map((c) => floats[row + (X + c) * column])
    const size = floats[row + SIZE * column]
    const at = aroundOf(base, stride, k)
    const ou = floats[at]
    const ov = floats[at + 4]
    const ux = f(2 * f(f(x * y) - f(w * z)))
    const uy = f(1 - f(2 * f(f(x * x) + f(z * z))))
    const uz = f(2 * f(f(y * z) + f(w * x)))
    const fx = f(size * across)
    const fz = f(size * deep)
    const xx = f(fx * f(1 - f(2 * f(f(y * y) + f(z * z)))))
    const xz = f(fz * f(2 * f(f(x * z) - f(w * y))))
    const zx = f(fx * f(2 * f(f(x * z) + f(w * y))))
    const zz = f(fz * f(1 - f(2 * f(f(x * x) + f(y * y)))))
    const inverse = f(-1 / uy)
    const b = f(f(ux * inverse) * f(1 / across))
    const c = f(f(uz * inverse) * f(1 / deep))
    layCourse(at, floats[row + HEIGHT * column], b, c)
    for (let n = 0; n < corners; n++) {
      const bx = floats[(outline >> 2) + 2 * n]
      const bz = floats[(outline >> 2) + 2 * n + 1]
      alongU[n] = f(f(ou + f(xx * bx)) + f(zx * bz))
      alongV[n] = f(f(ov + f(xz * bx)) + f(zz * bz))
    }
    const sink = mostOverOutline(corners, signed(f(ou + ov)) ? -1 : 1)
    const beyond = f(Math.abs(ou) + f(f(reach) * fx)) > 1 || f(Math.abs(ov) + f(f(reach) * fz)) > 1
    floats[row + SINK * column] = uy >= STEEPEST ? (beyond ? NaN : sink) : 0
  }
}

function layCourse(at: number, height: number, b: number, c: number): void {
  const { floats } = plainMemory
  const centre = floats[at + 8]
  const east = f(floats[at + 12] - centre)
  const west = f(floats[at + 16] - centre)
  const south = f(floats[at + 20] - centre)
  const north = f(floats[at + 24] - centre)
  course.southEast = f(f(f(floats[at + 28] - centre) - south) - east)
  course.southWest = f(f(f(floats[at + 32] - centre) - south) - west)
  course.northEast = f(f(f(floats[at + 36] - centre) - north) - east)
  course.northWest = f(f(f(floats[at + 40] - centre) - north) - west)
  course.bendU = f(0.5 * f(east + west))
  course.bendV = f(0.5 * f(south + north))
  course.level = f(f(f(height - centre) - f(b * floats[at])) - f(c * floats[at + 4]))
  course.overU = f(b - f(0.5 * f(east - west)))
  course.overV = f(c - f(0.5 * f(south - north)))
}

/** The greatest gap over the outline in {@link alongU} and {@link alongV}; `side` of the node that the base is on. */
function mostOverOutline(corners: number, side: number): number {
  const { level, overU, overV, bendU, bendV } = course
  let sink = f(-1e30)
  const take = (gap: number) => {
    if (sink < gap) sink = gap
  }
  for (let n = 0; n < corners; n++) take(gapAt(alongU[n], alongV[n]))
  let left = true
  let right = true
  for (let n = 0, last = corners - 1; n < corners; last = n++) {
    const [u0, v0, u1, v1] = [alongU[last], alongV[last], alongU[n], alongV[n]]
    const du = f(u1 - u0)
    const dv = f(v1 - v0)
    const turn = f(f(u0 * v1) - f(u1 * v0))
    left &&= turn >= 0
    right &&= turn <= 0
    if (f(u0 * u1) < 0) {
      const v = f(v0 - f(f(u0 / du) * dv))
      take(f(f(level + f(v * overV)) - f(Math.abs(v) * bendV)))
    }
    if (f(v0 * v1) < 0) {
      const u = f(u0 - f(f(v0 / dv) * du))
      take(f(f(level + f(u * overU)) - f(Math.abs(u) * bendU)))
    }
    const p0 = f(u0 + v0)
    const p1 = f(u1 + v1)
    const span = f(p1 - p0)
    // The partings through the node and on both sides of it.
    for (const shift of [0, -side, side]) {
      const [from, to] = [f(p0 + shift), f(p1 + shift)]
      if (!(f(from * to) < 0)) continue
      const share = f(from / span)
      take(gapAt(f(u0 - f(share * du)), f(v0 - f(share * dv))))
    }
  }
  if (left || right) take(level)
  return sink
}
