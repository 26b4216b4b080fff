import { drawKeyOf, drawSalt, CHANNEL, draw } from '../../math/random.ts'
import type { MeshShape } from '../../grounds/mesh-shape.ts'
import { writeCross } from '../../grounds/mesh-shape.ts'
import { createSpaceCells, MOST_SLOTS, slotOf } from '../../space/space-cells.ts'
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

/** Running sums of the triangles' areas, in doubles; the last is the whole. */
export function areaSums({ positions: p, indices }: MeshShape): Float64Array {
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
function scatter(shape: MeshShape, sums: Float64Array, salt: number, octave: number, count: number, wanted: NumberSet | null) {
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
const LEVEL_ZERO = 64

/**
 * Random candidates of a density per area of the mesh's own size, in levels as on the plane: each finer level
 * has four times the candidates of the one before and only adds to it, so that a higher density only adds.
 */
export function randomOnSurface(shape: MeshShape, sums: Float64Array, seed: number, density: number): SurfacePlaces {
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

/** Candidates tried by the time that a radius is reached, for each square of it. */
const TRIES = 11
/** From one radius to the next smaller one that is tried; half an octave of area. */
const SHRINK = 0.985
const STEPS = 46

/**
 * Evenly spaced places: nobody nearer to another than `spacing`, straight through space. Within an
 * octave of spacings the same candidates are tried in the same order at the same radii, from the
 * octave's widest down; a spacing stops at the last radius that is no smaller than it, so that a
 * smaller spacing only adds (dart throwing, Cook 1986, with the shrinking radius of McCool & Fiume
 * 1992). The distance kept is the spacing or up to 1.5 % more.
 *
 * A candidate that was refused at some distance from its nearest is looked at again when the radius
 * has come down to that distance, not before: it could not be taken in between. Those nearer than the
 * spacing to one that is taken are struck out at once, and never looked at.
 */
export function evenOnSurface(shape: MeshShape, sums: Float64Array, seed: number, spacing: number): SurfacePlaces {
  const total = sums[sums.length - 1]
  const octave = floorLog2(spacing)
  const widest = 2 * powerOfTwo(octave)
  const first = Math.max(1, Math.min(MOST_CANDIDATES / 4, Math.ceil((TRIES * total) / (widest * widest))))
  const full = 4 * first
  // Only so many of them are tried before the radius is down to the spacing.
  const needed = Math.min(full, Math.ceil(first * (widest / spacing) * (widest / spacing)))
  const numbers = shuffled(needed, full, drawSalt(seed ^ 0x27d4eb2f ^ octave))
  const wanted = numberSet(numbers, full)
  const { places, triangle } = scatter(shape, sums, drawSalt(seed ^ 0x1f83d9ab), octave + LEVEL_ZERO, full, wanted)
  const order = numbers.map((number) => wanted.placeOf(number))
  const cells = createSpaceCells(widest, total / (spacing * spacing))
  const open = createOpenPlaces(places, needed, spacing)
  const kept = new Uint32Array(needed)
  const number = new Uint32Array(needed)
  let count = 0
  // Those put off, by the step that they are due in; numbers of the order, which is the order of trying.
  const due: number[][] = Array.from({ length: STEPS + 1 }, () => [])
  let entered = 0
  for (let step = 0, radius = widest; radius >= spacing && step <= STEPS; step++, radius *= SHRINK) {
    // As the radius falls more and more are tried for the first time.
    const entering = Math.min(needed, Math.floor(first * (widest / radius) * (widest / radius)))
    const again = due[step].sort((p, q) => p - q)
    due[step] = []
    for (let a = 0, k = again.length > 0 ? again[0] : entered; a < again.length || entered < entering; ) {
      if (a < again.length) k = again[a++]
      else k = entered++
      const i = order[k]
      if (open.struck[i]) continue
      const [x, y, z] = [places[3 * i], places[3 * i + 1], places[3 * i + 2]]
      const d = Math.sqrt(cells.nearest(x, y, z, radius, spacing))
      if (d >= radius) {
        cells.add(x, y, z, 0)
        open.strike(x, y, z)
        kept[count] = i
        number[count++] = numbers[k]
      } else if (d >= spacing) {
        let later = step + 1
        for (let r = radius * SHRINK; r > d; r *= SHRINK) later++
        if (later <= STEPS) due[later].push(k)
      }
    }
  }
  const rank = new Float64Array(count)
  const outPlaces = new Float64Array(3 * count)
  const outTriangle = new Uint32Array(count)
  for (let k = 0; k < count; k++) {
    const i = kept[k]
    rank[k] = (k + 0.5) / count
    for (let c = 0; c < 3; c++) outPlaces[3 * k + c] = places[3 * i + c]
    outTriangle[k] = triangle[i]
  }
  return { count, places: outPlaces, triangle: outTriangle, number: number.slice(0, count), level: new Uint8Array(count).fill(octave + LEVEL_ZERO), rank }
}

/** Candidates that could still be taken. */
interface OpenPlaces {
  /** 1 for those that are struck out. */
  readonly struck: Uint8Array
  /** Strikes out all that are nearer to a place than the spacing. */
  strike(x: number, y: number, z: number): void
}

/**
 * Sorts candidates into cubes as wide as the spacing, by a hash: members of slot h are
 * members[start[h]] … members[end[h] − 1]; those struck out leave their slot.
 */
function createOpenPlaces(places: Float64Array, count: number, spacing: number): OpenPlaces {
  const struck = new Uint8Array(count)
  let shift = 22
  for (let slots = 1024; slots < count / 8 && slots < MOST_SLOTS; slots *= 2) shift--
  const start = new Uint32Array((1 << (32 - shift)) + 1)
  const per = 1 / spacing
  const slots = new Uint32Array(count)
  for (let i = 0; i < count; i++) {
    slots[i] = slotOf(Math.floor(places[3 * i] * per), Math.floor(places[3 * i + 1] * per), Math.floor(places[3 * i + 2] * per), shift)
    start[slots[i] + 1]++
  }
  for (let h = 1; h < start.length; h++) start[h] += start[h - 1]
  const end = start.slice()
  const members = new Uint32Array(count)
  for (let i = 0; i < count; i++) members[end[slots[i]]++] = i
  const within = spacing * spacing
  return {
    struck,
    strike(x, y, z) {
      const [a1, b1, c1] = [Math.floor((x + spacing) * per), Math.floor((y + spacing) * per), Math.floor((z + spacing) * per)]
      for (let a = Math.floor((x - spacing) * per); a <= a1; a++)
        for (let b = Math.floor((y - spacing) * per); b <= b1; b++)
          for (let c = Math.floor((z - spacing) * per); c <= c1; c++) {
            const slot = slotOf(a, b, c, shift)
            for (let m = start[slot]; m < end[slot]; ) {
              const i = members[m]
              const dx = places[3 * i] - x
              const dy = places[3 * i + 1] - y
              const dz = places[3 * i + 2] - z
              if (dx * dx + dy * dy + dz * dz < within) {
                struck[i] = 1
                members[m] = members[--end[slot]]
              } else m++
            }
          }
    },
  }
}

/**
 * The first `count` of a shuffle of the numbers 0 … full − 1, without making the rest: a bijection of
 * so many bits (odd multiplications and shifted exclusive ors), walked on where it leads out of range.
 */
function shuffled(count: number, full: number, salt: number): Uint32Array {
  let bits = 2
  while (1 << bits < full) bits++
  const mask = (1 << bits) - 1
  const [low, high] = [bits >> 1, (bits + 1) >> 1]
  const numbers = new Uint32Array(count)
  for (let k = 0; k < count; k++) {
    let x = k
    do {
      x = (x + salt) & mask
      x = Math.imul(x, 0x9e3779b1) & mask
      x ^= x >>> low
      x = Math.imul(x, 0x85ebca6b) & mask
      x ^= x >>> high
      x = Math.imul(x, 0xc2b2ae35) & mask
      x ^= x >>> low
    } while (x >= full)
    numbers[k] = x
  }
  return numbers
}

/** A set of whole numbers below a limit that knows the place of each in their order. */
interface NumberSet {
  readonly size: number
  has(number: number): boolean
  /** How many of the set are below a number. */
  placeOf(number: number): number
}

function numberSet(numbers: Uint32Array, limit: number): NumberSet {
  const words = new Uint32Array((limit >>> 5) + 1)
  for (let k = 0; k < numbers.length; k++) words[numbers[k] >>> 5] |= 1 << (numbers[k] & 31)
  const before = new Uint32Array(words.length)
  for (let w = 1; w < words.length; w++) before[w] = before[w - 1] + bitsIn(words[w - 1])
  return {
    size: numbers.length,
    has: (number) => ((words[number >>> 5] >>> (number & 31)) & 1) === 1,
    placeOf: (number) => before[number >>> 5] + bitsIn(words[number >>> 5] & ((1 << (number & 31)) - 1)),
  }
}

/** How many bits of a word are set (Warren 2013, 5–1). */
function bitsIn(word: number): number {
  let x = word - ((word >>> 1) & 0x55555555)
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333)
  return Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}
