/**
 * What the kernels share: four numbers of single precision, or four whole ones, in a register. The
 * lesser and greater of two are taken by pmin and pmax, as nothing compared is NaN: one instruction.
 */

/** The hash of core/math/random.ts (C. Wellons, 2018, lowbias32), four at once. */
@inline
export function scramble(value: v128): v128 {
  let h = v128.xor(value, i32x4.shr_u(value, 16))
  h = i32x4.mul(h, i32x4.splat(0x7feb352d))
  h = v128.xor(h, i32x4.shr_u(h, 15))
  h = i32x4.mul(h, i32x4.splat(<i32>0x846ca68b))
  return v128.xor(h, i32x4.shr_u(h, 16))
}

/** The upper 24 bits of the draws of a channel for four keys, uniform in [0, 1). */
@inline
export function draw(key: v128, channel: i32): v128 {
  const h = scramble(i32x4.add(key, i32x4.splat(channel * <i32>0x9e3779b9)))
  return f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(h, 8)), f32x4.splat(5.9604644775390625e-8))
}

/** a + b·c. */
@inline
export function plus(a: v128, b: v128, c: v128): v128 {
  return f32x4.add(a, f32x4.mul(b, c))
}

/** a − b·c. */
@inline
export function minus(a: v128, b: v128, c: v128): v128 {
  return f32x4.sub(a, f32x4.mul(b, c))
}

/** Sine of x in ±π/4, within 1e-7 (S. Moshier, Cephes 2.2, 1992: sinf). */
@inline
export function sinKernel(x: v128): v128 {
  const z = f32x4.mul(x, x)
  let p = plus(f32x4.splat(8.3321608736e-3), z, f32x4.splat(-1.9515295891e-4))
  p = plus(f32x4.splat(-1.6666654611e-1), z, p)
  return plus(x, f32x4.mul(x, z), p)
}

/** Cosine of x in ±π/4, within 1e-7 (the same, cosf). */
@inline
export function cosKernel(x: v128): v128 {
  const z = f32x4.mul(x, x)
  let p = plus(f32x4.splat(-1.388731625493765e-3), z, f32x4.splat(2.443315711809948e-5))
  p = plus(f32x4.splat(4.166664568298827e-2), z, p)
  return plus(minus(f32x4.splat(1), z, f32x4.splat(0.5)), f32x4.mul(z, z), p)
}

/** Added to a number far below it, leaves the nearest whole one in the low bits. */
const ROUND: f32 = 12582912

/** The multiple of π/2 that is nearest to an angle, as the low bits of a number. */
@inline
export function quarters(angle: v128): v128 {
  return f32x4.add(f32x4.mul(angle, f32x4.splat(0.63661977236)), f32x4.splat(ROUND))
}

/** An angle less its {@link quarters}; three parts of π/2 keep the bits of angles up to some hundreds. */
@inline
export function reduced(angle: v128, quarter: v128): v128 {
  const n = f32x4.sub(quarter, f32x4.splat(ROUND))
  let r = minus(angle, n, f32x4.splat(1.5703125))
  r = minus(r, n, f32x4.splat(4.837512969970703125e-4))
  return minus(r, n, f32x4.splat(7.54978995489188216e-8))
}

/** The sine of `quarter` quarters more than an angle whose sine and cosine are given. */
@inline
export function turned(sine: v128, cosine: v128, quarter: v128): v128 {
  const odd = i32x4.ne(v128.and(quarter, i32x4.splat(1)), i32x4.splat(0))
  const sign = i32x4.shl(v128.and(quarter, i32x4.splat(2)), 30)
  return v128.xor(v128.bitselect(cosine, sine, odd), sign)
}

/** Angle of a vector from the axis that `along` measures, 0…π; `away` is not below 0. Within 2e-7 (Cephes, atanf). */
@inline
export function angleFrom(away: v128, along: v128): v128 {
  const flat = f32x4.abs(along)
  const low = f32x4.pmin(away, flat)
  const high = f32x4.pmax(f32x4.pmax(away, flat), f32x4.splat(1e-30))
  // Above tan π/8 the angle is π/4 + that of (low − high) / (low + high).
  const steep = f32x4.gt(low, f32x4.mul(high, f32x4.splat(0.4142135623730950488)))
  const x = f32x4.div(v128.bitselect(f32x4.sub(low, high), low, steep), v128.bitselect(f32x4.add(low, high), high, steep))
  const z = f32x4.mul(x, x)
  let p = plus(f32x4.splat(-1.38776856032e-1), z, f32x4.splat(8.05374449538e-2))
  p = plus(f32x4.splat(1.99777106478e-1), z, p)
  p = plus(f32x4.splat(-3.33329491539e-1), z, p)
  let a = plus(x, f32x4.mul(x, z), p)
  a = f32x4.add(a, v128.and(steep, f32x4.splat(0.78539816339744830962)))
  a = v128.bitselect(f32x4.sub(f32x4.splat(1.5707963267948966192), a), a, f32x4.gt(away, flat))
  return v128.bitselect(f32x4.sub(f32x4.splat(3.14159265358979323846), a), a, f32x4.lt(along, f32x4.splat(0)))
}
