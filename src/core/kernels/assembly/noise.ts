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

/**
 * Writes gain · simplex noise of `count` places (x and z as doubles) as single precision. The lattice
 * and the way into its cell are found in doubles, so that far away is as smooth as near.
 */
export function simplex(seed: i32, count: i32, x: usize, z: usize, scale: f64, gain: f32, out: usize): void {
  const per = f64x2.splat(scale)
  const skew = f64x2.splat(SKEW)
  const unskew = f64x2.splat(UNSKEW)
  const salt = i32x4.splat(seed)
  const whole = f32x4.splat(1)
  const one = f32x4.splat(<f32>UNSKEW)
  const two = f32x4.splat(<f32>(2 * UNSKEW - 1))
  const height = f32x4.splat(gain)
  for (let k = 0; k < count; k += 4) {
    const at = <usize>k << 3
    const pxLow = f64x2.mul(v128.load(x + at), per)
    const pzLow = f64x2.mul(v128.load(z + at), per)
    const pxHigh = f64x2.mul(v128.load(x + at, 16), per)
    const pzHigh = f64x2.mul(v128.load(z + at, 16), per)
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
    v128.store(out + (<usize>k << 2), f32x4.mul(sum, height))
  }
}
