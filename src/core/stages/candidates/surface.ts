import { drawKeyOf, drawSalt, CHANNEL, draw } from '../../math/random.ts'
import type { MeshShape } from '../../grounds/mesh-shape.ts'
import { writeCross } from '../../grounds/mesh-shape.ts'
import type { NumberSet } from './number-set.ts'
import { floorLog2, powerOfTwo } from './even-pattern.ts'

/** Places on the triangles of a mesh, in its own frame, as columns. */
export interface SurfacePlaces {
  readonly count: number
  /** x y z, m, of the mesh's own size. */
  readonly places: Float64Array
  readonly triangle: Uint32Array
  /** Candidate numbers and their levels, which ids are made of. */
  readonly number: Uint32Array
  readonly level: Uint8Array
  /** Order of wanting, 0…1: the first of them are the ones that stay when fewer are wanted. */
  readonly rank: Float64Array
}

/** Most candidates on one mesh. */
export const MOST_CANDIDATES = 12_000_000

const known = new WeakMap<MeshShape, Float64Array>()

/** Running sums of the triangles' areas, in doubles, kept by the shape; the last is the whole. */
export function areaSums(shape: MeshShape): Float64Array {
  const sums = known.get(shape) ?? sumAreas(shape)
  known.set(shape, sums)
  return sums
}

function sumAreas({ positions: p, indices }: MeshShape): Float64Array {
  const sums = new Float64Array(indices.length / 3)
  const cross = new Float64Array(3)
  let sum = 0
  for (let t = 0; t < sums.length; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    writeCross(p, a, b, c, cross)
    sum += 0.5 * Math.sqrt(cross[0] * cross[0] + cross[1] * cross[1] + cross[2] * cross[2])
    sums[t] = sum
  }
  return sums
}

/**
 * Places of candidates, one in each of `count` equal shares of the area, so that a patch of surface
 * gets as many as its true area asks for, to within one; of those that `wanted` names, in its order.
 */
export function scatter(shape: MeshShape, sums: Float64Array, salt: number, octave: number, count: number, wanted: NumberSet | null) {
  const { positions: p, indices } = shape
  const size = wanted ? wanted.size : count
  const places = new Float64Array(3 * size)
  const triangle = new Uint32Array(size)
  const total = sums[sums.length - 1]
  let t = 0
  let n = 0
  for (let i = 0; i < count; i++) {
    if (wanted && !wanted.has(i)) continue
    const key = drawKeyOf(salt, i, octave)
    const at = ((i + draw(key, CHANNEL.surface)) / count) * total
    while (t < sums.length - 1 && sums[t] <= at) t++
    // Folding the unit square over its diagonal is uniform on the triangle.
    let u = draw(key, CHANNEL.position)
    let v = draw(key, CHANNEL.positionZ)
    if (u + v > 1) {
      u = 1 - u
      v = 1 - v
    }
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    triangle[n] = t
    for (let k = 0; k < 3; k++) places[3 * n + k] = p[a + k] + u * (p[b + k] - p[a + k]) + v * (p[c + k] - p[a + k])
    n++
  }
  return { places, triangle }
}

/** Levels of candidates are named by their octave and this. */
export const LEVEL_ZERO = 64

/**
 * Random candidates of a density per area of the mesh's own size, in levels as on the plane: each finer level
 * has four times the candidates of the one before and only adds to it, so that a higher density only adds.
 */
export function randomOnSurface(shape: MeshShape, seed: number, density: number): SurfacePlaces {
  const sums = areaSums(shape)
  const total = sums[sums.length - 1]
  const salt = drawSalt(seed ^ 0x6b43a9b5)
  const parts: SurfacePlaces[] = []
  // The coarsest level has one candidate or a few.
  let octave = -floorLog2(Math.max(Math.sqrt(total), 1e-6))
  let from = 0
  let made = 0
  while (from < density && made < MOST_CANDIDATES) {
    const level = octave + LEVEL_ZERO
    const full = Math.min(MOST_CANDIDATES - made, Math.max(1, Math.ceil(total * powerOfTwo(2 * octave))))
    const to = from + full / total
    const all = scatter(shape, sums, salt, level, full, null)
    const number = new Uint32Array(full)
    const rank = new Float64Array(full)
    let n = 0
    for (let i = 0; i < full; i++) {
      // The density from which on it is there.
      const r = from + (to - from) * draw(drawKeyOf(salt, i, level), CHANNEL.rank)
      if (r >= density) continue
      all.places.copyWithin(3 * n, 3 * i, 3 * i + 3)
      all.triangle[n] = all.triangle[i]
      number[n] = i
      rank[n++] = r / density
    }
    parts.push({ count: n, places: all.places, triangle: all.triangle, number, level: new Uint8Array(n).fill(level), rank })
    from = to
    made += full
    octave++
  }
  return joined(parts)
}

function joined(parts: readonly SurfacePlaces[]): SurfacePlaces {
  const count = parts.reduce((sum, part) => sum + part.count, 0)
  const all = { count, places: new Float64Array(3 * count), triangle: new Uint32Array(count), number: new Uint32Array(count), level: new Uint8Array(count), rank: new Float64Array(count) }
  let at = 0
  for (const part of parts) {
    all.places.set(part.places.subarray(0, 3 * part.count), 3 * at)
    for (const column of ['triangle', 'number', 'level', 'rank'] as const) all[column].set(part[column].subarray(0, part.count), at)
    at += part.count
  }
  return all
}
