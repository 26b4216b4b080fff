import { smoothstep } from '../math/portable.ts'
import { scramble } from '../math/random.ts'
import { plainMemory } from './plain-memory.ts'

const f = Math.fround
const SKEW = 0.3660254037844386
const UNSKEW = 0.21132486540518713
const ACROSS = 0x27d4eb2f
const DOWN = 0x165667b1
const ONE = f(UNSKEW)
const TWO = f(2 * UNSKEW - 1)
const ALONG = [127, 117, 90, 49, 0, -49, -90, -117, -127, -117, -90, -49, 0, 49, 90, 117]
const ASIDE = [0, 49, 90, 117, 127, 117, 90, 49, 0, -49, -90, -117, -127, -117, -90, -49]
const BYTE = 16777216

function corner(hash: number, x: number, z: number): number {
  const gx = ALONG[hash & 15] * BYTE
  const gz = ASIDE[hash & 15] * BYTE
  let r = f(f(0.5 - f(x * x)) - f(z * z))
  if (r < 0) r = 0
  r = f(r * r)
  return f(f(r * r) * f(f(gx * x) + f(gz * z)))
}

/** Noise of one place, which is times `scale` already. */
function octave(px: number, pz: number, seed: number, gain: number): number {
  const s = (px + pz) * SKEW
  const i = Math.floor(px + s)
  const j = Math.floor(pz + s)
  const t = (i + j) * UNSKEW
  const x0 = f(px - i + t)
  const z0 = f(pz - j + t)
  const a0 = Math.imul(i, ACROSS)
  const b0 = Math.imul(j, DOWN) ^ seed
  const a1 = (a0 + ACROSS) | 0
  const b1 = Math.imul((j | 0) + 1, DOWN) ^ seed
  const first = x0 >= z0
  const h0 = scramble(a0 ^ b0)
  const h1 = scramble(first ? a1 ^ b0 : a0 ^ b1)
  const h2 = scramble(a1 ^ b1)
  const x1 = f(f(x0 - (first ? 1 : 0)) + ONE)
  const z1 = f(f(z0 - (first ? 0 : 1)) + ONE)
  const sum = f(f(corner(h0, x0, z0) + corner(h1, x1, z1)) + corner(h2, f(x0 + TWO), f(z0 + TWO)))
  return f(sum * gain)
}

const NEXT_SEED = 0x3c6ef372

/** As in assembly/noise.ts. */
export function fractal(seed: number, octaves: number, count: number, x: number, z: number, scale: number, gain: number, out: number): void {
  const { doubles } = plainMemory
  for (let k = 0; k < count; k++) {
    const px = doubles[(x >> 3) + k]
    const pz = doubles[(z >> 3) + k]
    let sum = 0
    let per = scale
    let height = f(gain)
    let salt = seed
    for (let o = 0; o < octaves; o++) {
      sum += octave(px * per, pz * per, salt, height)
      per *= 2
      height *= 0.5
      salt = (salt + NEXT_SEED) | 0
    }
    doubles[(out >> 3) + k] = sum
  }
}

/** As in assembly/noise.ts; no octave is left out, as that changes no weight. */
export function patches(seed: number, octaves: number, count: number, x: number, z: number, scale: number, gain: number, middle: number, per: number, out: number): void {
  fractal(seed, octaves, count, x, z, scale, gain, out)
  const { doubles } = plainMemory
  for (let at = out >> 3; at < (out >> 3) + count; at++) doubles[at] = smoothstep((doubles[at] - middle) * per + 0.5)
}
