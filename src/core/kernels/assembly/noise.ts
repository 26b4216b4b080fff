import { scramble } from './lanes'

const SKEW: f64 = 0.3660254037844386
const UNSKEW: f64 = 0.21132486540518713
const ACROSS: i32 = 0x27d4eb2f
const DOWN: i32 = 0x165667b1

/** The two low lanes of each half, one after the other. */
@inline
function joined(low: v128, high: v128): v128 {
  return v128.shuffle<i32>(low, high, 0, 1, 4, 5)
}

/** Four whole doubles below 2³¹ as whole numbers: added to this one, they stand in its low bits. */
@inline
function wholes(low: v128, high: v128): v128 {
  const shift = f64x2.splat(6755399441055744)
  return v128.shuffle<i32>(f64x2.add(low, shift), f64x2.add(high, shift), 0, 2, 4, 6)
}

/** A corner's share: (½ − x² − z²)⁴ · gradient · (x, z), the gradient times 127 · 2²⁴. */
@inline
function corner(hash: v128, x: v128, z: v128): v128 {
  // Sixteen unit directions, 22.5° apart, to a 127th. Looked up by the highest byte of each lane; the others look up nothing.
  const along = i8x16(127, 117, 90, 49, 0, -49, -90, -117, -127, -117, -90, -49, 0, 49, 90, 117)
  const aside = i8x16(0, 49, 90, 117, 127, 117, 90, 49, 0, -49, -90, -117, -127, -117, -90, -49)
  const which = v128.or(v128.and(i32x4.shl(hash, 24), i32x4.splat(0x0f000000)), i32x4.splat(0x00ffffff))
  const gx = f32x4.convert_i32x4_s(i8x16.swizzle(along, which))
  const gz = f32x4.convert_i32x4_s(i8x16.swizzle(aside, which))
  let r = f32x4.sub(f32x4.sub(f32x4.splat(0.5), f32x4.mul(x, x)), f32x4.mul(z, z))
  r = f32x4.pmax(r, f32x4.splat(0))
  r = f32x4.mul(r, r)
  return f32x4.mul(f32x4.mul(r, r), f32x4.add(f32x4.mul(gx, x), f32x4.mul(gz, z)))
}

/** Gain · simplex noise of four places, two and two as doubles. */
@inline
function octave(xLow: v128, xHigh: v128, zLow: v128, zHigh: v128, scale: f64, seed: i32, gain: f32): v128 {
  const per = f64x2.splat(scale)
  const skew = f64x2.splat(SKEW)
  const unskew = f64x2.splat(UNSKEW)
  const salt = i32x4.splat(seed)
  const whole = f32x4.splat(1)
  const one = f32x4.splat(<f32>UNSKEW)
  const two = f32x4.splat(<f32>(2 * UNSKEW - 1))
  const pxLow = f64x2.mul(xLow, per)
  const pzLow = f64x2.mul(zLow, per)
  const pxHigh = f64x2.mul(xHigh, per)
  const pzHigh = f64x2.mul(zHigh, per)
  const sLow = f64x2.mul(f64x2.add(pxLow, pzLow), skew)
  const sHigh = f64x2.mul(f64x2.add(pxHigh, pzHigh), skew)
  const iLow = f64x2.floor(f64x2.add(pxLow, sLow))
  const jLow = f64x2.floor(f64x2.add(pzLow, sLow))
  const iHigh = f64x2.floor(f64x2.add(pxHigh, sHigh))
  const jHigh = f64x2.floor(f64x2.add(pzHigh, sHigh))
  const tLow = f64x2.mul(f64x2.add(iLow, jLow), unskew)
  const tHigh = f64x2.mul(f64x2.add(iHigh, jHigh), unskew)
  const x0 = joined(
    f32x4.demote_f64x2_zero(f64x2.add(f64x2.sub(pxLow, iLow), tLow)),
    f32x4.demote_f64x2_zero(f64x2.add(f64x2.sub(pxHigh, iHigh), tHigh)),
  )
  const z0 = joined(
    f32x4.demote_f64x2_zero(f64x2.add(f64x2.sub(pzLow, jLow), tLow)),
    f32x4.demote_f64x2_zero(f64x2.add(f64x2.sub(pzHigh, jHigh), tHigh)),
  )
  const i = wholes(iLow, iHigh)
  const j = wholes(jLow, jHigh)
  const a0 = i32x4.mul(i, i32x4.splat(ACROSS))
  const b0 = v128.xor(i32x4.mul(j, i32x4.splat(DOWN)), salt)
  const a1 = i32x4.add(a0, i32x4.splat(ACROSS))
  const b1 = v128.xor(i32x4.mul(i32x4.add(j, i32x4.splat(1)), i32x4.splat(DOWN)), salt)
  // The middle corner is the one along x where x0 ≥ z0, else the one along z.
  const first = f32x4.ge(x0, z0)
  const h0 = scramble(v128.xor(a0, b0))
  const h1 = scramble(v128.xor(v128.bitselect(a1, a0, first), v128.bitselect(b0, b1, first)))
  const h2 = scramble(v128.xor(a1, b1))
  const x1 = f32x4.add(f32x4.sub(x0, v128.and(first, whole)), one)
  const z1 = f32x4.add(f32x4.sub(z0, v128.andnot(whole, first)), one)
  const sum = f32x4.add(
    f32x4.add(corner(h0, x0, z0), corner(h1, x1, z1)),
    corner(h2, f32x4.add(x0, two), f32x4.add(z0, two)),
  )
  return f32x4.mul(sum, f32x4.splat(gain))
}

/** From one octave's seed to the next one's. */
const NEXT_SEED: i32 = 0x3c6ef372

/**
 * Writes the sum of `octaves` octaves of simplex noise at `count` places, all in doubles; each octave is worked out
 * in single precision, with a seed of its own, twice the frequency and half the gain of the one before. The lattice
 * and the way into its cell are found in doubles, so that far away is as smooth as near.
 */
export function fractal(seed: i32, octaves: i32, count: i32, x: usize, z: usize, scale: f64, gain: f32, out: usize): void {
  for (let k = 0; k < count; k += 4) {
    const at = <usize>k << 3
    const xLow = v128.load(x + at)
    const xHigh = v128.load(x + at, 16)
    const zLow = v128.load(z + at)
    const zHigh = v128.load(z + at, 16)
    let low = f64x2.splat(0)
    let high = low
    let per = scale
    let height = gain
    let salt = seed
    for (let o = 0; o < octaves; o++) {
      const value = octave(xLow, xHigh, zLow, zHigh, per, salt, height)
      low = f64x2.add(low, f64x2.promote_low_f32x4(value))
      high = f64x2.add(high, f64x2.promote_low_f32x4(v128.shuffle<i32>(value, value, 2, 3, 2, 3)))
      per *= 2
      height *= 0.5
      salt += NEXT_SEED
    }
    v128.store(out + at, low)
    v128.store(out + at, high, 16)
  }
}

/** 3t² − 2t³ of two numbers clamped into 0…1. */
@inline
function smooth(t: v128): v128 {
  const s = f64x2.pmin(f64x2.pmax(t, f64x2.splat(0)), f64x2.splat(1))
  return f64x2.mul(f64x2.mul(s, s), f64x2.sub(f64x2.splat(3), f64x2.mul(f64x2.splat(2), s)))
}

/**
 * Writes how much patches weigh: the sum of octaves as by {@link fractal}, of height 1, turned into 0 below a ramp, 1
 * above it and 3t² − 2t³ on it, where t is (sum − middle) · per + ½. Octaves that can no longer bring any of four
 * neighbours onto the ramp are left out: none leaves ±its height.
 */
export function patches(seed: i32, octaves: i32, count: i32, x: usize, z: usize, scale: f64, gain: f32, middle: f64, per: f64, out: usize): void {
  const half = f64x2.splat(0.5)
  const apart = f64x2.splat(middle)
  const steep = f64x2.splat(per)
  let last: f64 = 1
  for (let o = 1; o < octaves; o++) last *= 0.5
  for (let k = 0; k < count; k += 4) {
    const at = <usize>k << 3
    const xLow = v128.load(x + at)
    const xHigh = v128.load(x + at, 16)
    const zLow = v128.load(z + at)
    const zHigh = v128.load(z + at, 16)
    let low = f64x2.splat(0)
    let high = low
    let by = scale
    let height = gain
    let salt = seed
    let rest: f64 = 1
    for (let o = 0; o < octaves; o++) {
      const value = octave(xLow, xHigh, zLow, zHigh, by, salt, height)
      low = f64x2.add(low, f64x2.promote_low_f32x4(value))
      high = f64x2.add(high, f64x2.promote_low_f32x4(v128.shuffle<i32>(value, value, 2, 3, 2, 3)))
      // The octaves to come add no more than rest − last.
      const reach = f64x2.splat((rest - last) * per + 0.5 + 1e-9)
      const awayLow = f64x2.abs(f64x2.mul(f64x2.sub(low, apart), steep))
      const awayHigh = f64x2.abs(f64x2.mul(f64x2.sub(high, apart), steep))
      if (i64x2.all_true(v128.and(f64x2.gt(awayLow, reach), f64x2.gt(awayHigh, reach)))) break
      rest *= 0.5
      by *= 2
      height *= 0.5
      salt += NEXT_SEED
    }
    v128.store(out + at, smooth(f64x2.add(f64x2.mul(f64x2.sub(low, apart), steep), half)))
    v128.store(out + at, smooth(f64x2.add(f64x2.mul(f64x2.sub(high, apart), steep), half)), 16)
  }
}
