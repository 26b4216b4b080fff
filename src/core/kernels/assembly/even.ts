// Candidates of the even pattern: core/stages/candidates/even-source.ts tells how it lies over the plane.

import { at4, at8, scrambled } from './scalars'

const UNIT: f64 = 1 / 4294967296

/**
 * Writes the candidates of ranks below `limit` in a rectangle, from the buckets b0…b1 along x and c0…c1 along z; returns
 * how many. `turns` holds the symmetry of the pattern: 1 flips x, 2 flips z, 4 swaps them. The tables hold where the
 * points of each bucket begin, their numbers, their places from the corner of a copy and their salted high halves.
 */
export function even(
  x0: f64,
  z0: f64,
  x1: f64,
  z1: f64,
  b0: i32,
  b1: i32,
  c0: i32,
  c1: i32,
  shift: i32,
  turns: i32,
  period: f64,
  shiftX: f64,
  shiftZ: f64,
  slack: f64,
  limit: f64,
  highOfOctave: i32,
  starts: usize,
  points: usize,
  alongX: usize,
  alongZ: usize,
  salted: usize,
  x: usize,
  z: usize,
  rank: usize,
  low: usize,
  high: usize,
  draws: usize,
): i32 {
  const buckets = 1 << shift
  const side = period / <f64>buckets
  const wanted = <i32>Math.ceil(limit)
  let count = 0
  for (let c = c0; c <= c1; c++) {
    const cellZ = c >> shift
    const inZ = c - (cellZ << shift)
    const originZ = (<f64>cellZ + shiftZ) * period
    const lowZ = originZ + <f64>inZ * side
    const fullZ = lowZ > z0 + slack && lowZ + side < z1 - slack
    const v = turns & 2 ? buckets - 1 - inZ : inZ
    for (let b = b0; b <= b1; b++) {
      const cellX = b >> shift
      const inX = b - (cellX << shift)
      const originX = (<f64>cellX + shiftX) * period
      const lowX = originX + <f64>inX * side
      const full = fullZ && lowX > x0 + slack && lowX + side < x1 - slack
      const u = turns & 1 ? buckets - 1 - inX : inX
      const bucket = turns & 4 ? (u << shift) + v : (v << shift) + u
      const address = ((cellX & 0xffff) << 16) | (cellZ & 0xffff)
      const end = load<i32>(at4(starts, bucket + 1))
      for (let k = load<i32>(at4(starts, bucket)); k < end; k++) {
        const point = <i32>load<u16>(points + (<usize>k << 1))
        if (point >= wanted) break
        const px = originX + load<f64>(at8(alongX, k))
        const pz = originZ + load<f64>(at8(alongZ, k))
        if (!full && !(px >= x0 && px < x1 && pz >= z0 && pz < z1)) continue
        const key = scrambled(address ^ load<i32>(at4(salted, k)))
        const own = <f64>point + <f64>(<u32>key) * UNIT
        if (own >= limit) continue
        store<f64>(at8(x, count), px)
        store<f64>(at8(z, count), pz)
        store<f64>(at8(rank, count), own)
        store<i32>(at4(low, count), address)
        store<i32>(at4(high, count), highOfOctave | point)
        store<i32>(at4(draws, count), key)
        count++
      }
    }
  }
  return count
}
