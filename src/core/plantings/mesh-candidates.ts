import { drawKeyOf, drawSalt, CHANNEL, draw } from '../math/random.ts'
import type { MeshShape } from '../ground/mesh-shape.ts'
import { floorLog2, powerOfTwo } from './even-pattern.ts'

/** Places on the triangles of a mesh, in its own frame, as columns. */
export interface SurfacePlaces {
  readonly count: number
  /** x y z, m, of the mesh's own size. */
  readonly places: Float64Array
  readonly triangle: Uint32Array
  /** Candidate numbers, which ids are made of. */
  readonly number: Uint32Array
  /** Order of wanting, 0…1: the first of them are the ones that stay when fewer are wanted. */
  readonly rank: Float64Array
}

/** Most candidates on one mesh. */
export const MOST_CANDIDATES = 12_000_000

/** Running sums of the triangles' areas, in doubles; the last is the whole. */
export function areaSums({ positions: p, indices }: MeshShape): Float64Array {
  const sums = new Float64Array(indices.length / 3)
  let sum = 0
  for (let t = 0; t < sums.length; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const ux = p[b] - p[a]
    const uy = p[b + 1] - p[a + 1]
    const uz = p[b + 2] - p[a + 2]
    const vx = p[c] - p[a]
    const vy = p[c + 1] - p[a + 1]
    const vz = p[c + 2] - p[a + 2]
    const x = uy * vz - uz * vy
    const y = uz * vx - ux * vz
    const z = ux * vy - uy * vx
    sum += 0.5 * Math.sqrt(x * x + y * y + z * z)
    sums[t] = sum
  }
  return sums
}

/**
 * `count` candidates, one in each of so many equal shares of the area, so that a patch of surface
 * gets as many as its true area asks for, to within one.
 */
function scatter(shape: MeshShape, sums: Float64Array, salt: number, octave: number, count: number) {
  const { positions: p, indices } = shape
  const places = new Float64Array(3 * count)
  const triangle = new Uint32Array(count)
  const total = sums[sums.length - 1]
  let t = 0
  for (let i = 0; i < count; i++) {
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
    triangle[i] = t
    for (let k = 0; k < 3; k++) places[3 * i + k] = p[a + k] + u * (p[b + k] - p[a + k]) + v * (p[c + k] - p[a + k])
  }
  return { places, triangle }
}

/** Number of random candidates per area of the mesh's own size; ids come from a power-of-two density. */
export function randomOnSurface(shape: MeshShape, sums: Float64Array, seed: number, density: number): SurfacePlaces {
  const total = sums[sums.length - 1]
  // An octave of densities shares its candidates; within it ranks decide.
  const octave = floorLog2(density) + 1
  const full = Math.min(MOST_CANDIDATES, Math.ceil(total * powerOfTwo(octave)))
  const wanted = (density * total) / full
  const salt = drawSalt(seed ^ 0x6b43a9b5)
  const all = scatter(shape, sums, salt, octave + 64, full)
  const number = new Uint32Array(full)
  const rank = new Float64Array(full)
  let n = 0
  for (let i = 0; i < full; i++) {
    const r = draw(drawKeyOf(salt, i, octave + 64), CHANNEL.rank)
    if (r >= wanted) continue
    all.places.copyWithin(3 * n, 3 * i, 3 * i + 3)
    all.triangle[n] = all.triangle[i]
    number[n] = i
    rank[n++] = r / wanted
  }
  return { count: n, places: all.places, triangle: all.triangle, number, rank }
}

/** Candidates for each place that an even filling of the octave's finest spacing has. */
const TRIES = 7
/** From one spacing to the next smaller that is tried within an octave. */
const SHRINK = 0.94

/**
 * Evenly spaced places: nobody nearer to another than `spacing`, straight through space. Within an
 * octave of spacings the same candidates are tried in the same order, first at its widest spacing and
 * then at ever smaller ones, so that a smaller spacing only adds (dart throwing, Cook 1986, with the
 * shrinking radius of McCool & Fiume 1992).
 */
export function evenOnSurface(shape: MeshShape, sums: Float64Array, seed: number, spacing: number): SurfacePlaces {
  const total = sums[sums.length - 1]
  const octave = floorLog2(spacing)
  const finest = powerOfTwo(octave)
  const full = Math.min(MOST_CANDIDATES, Math.ceil((TRIES * 0.7 * total) / (finest * finest)))
  const { places, triangle } = scatter(shape, sums, drawSalt(seed ^ 0x1f83d9ab), octave + 64, full)
  const salt = drawSalt(seed ^ 0x27d4eb2f)
  const order = byDraw(full, salt, octave + 64)
  const cells = createSpaceCells(places, spacing)
  const kept = new Uint32Array(full)
  let count = 0
  let waiting = order
  for (let radius = 2 * finest; ; radius = Math.max(spacing, radius * SHRINK)) {
    let left = 0
    for (let k = 0; k < waiting.length; k++) {
      const i = waiting[k]
      const d = cells.nearest(i, radius)
      if (d < radius * radius) {
        // What is nearer than the smallest spacing of all never gets in.
        if (d >= spacing * spacing) waiting[left++] = i
      } else {
        cells.add(i)
        kept[count++] = i
      }
    }
    if (radius <= spacing) break
    waiting = waiting.subarray(0, left)
  }
  const number = kept.slice(0, count)
  const rank = new Float64Array(count)
  const outPlaces = new Float64Array(3 * count)
  const outTriangle = new Uint32Array(count)
  for (let k = 0; k < count; k++) {
    const i = number[k]
    rank[k] = (k + 0.5) / count
    outPlaces.set(places.subarray(3 * i, 3 * i + 3), 3 * k)
    outTriangle[k] = triangle[i]
  }
  return { count, places: outPlaces, triangle: outTriangle, number, rank }
}

/** Numbers 0 … count − 1 in the order of their draws: two counting passes over 16 bits each. */
function byDraw(count: number, salt: number, octave: number): Uint32Array {
  let numbers = Uint32Array.from({ length: count }, (_, i) => i)
  const draws = new Uint32Array(count)
  for (let i = 0; i < count; i++) draws[i] = drawKeyOf(salt, i, octave)
  for (const shift of [0, 16]) {
    const starts = new Uint32Array(65537)
    for (let k = 0; k < count; k++) starts[((draws[k] >>> shift) & 0xffff) + 1]++
    for (let b = 0; b < 65536; b++) starts[b + 1] += starts[b]
    const next = new Uint32Array(count)
    for (let k = 0; k < count; k++) {
      const i = numbers[k]
      next[starts[(draws[i] >>> shift) & 0xffff]++] = i
    }
    numbers = next
  }
  return numbers
}

/** Places entered into cubes of a hashed grid, asked for the nearest. */
export interface SpaceCells {
  add(i: number): void
  /** Squared distance from place i to the nearest one entered, as far as it is below radius². */
  nearest(i: number, radius: number): number
  /** Whether a ball of radii[i] around place i meets one around a place entered; `most` is the largest radius. */
  meets(i: number, radii: ArrayLike<number>, most: number): boolean
}

const MOST_SLOTS = 1 << 22

/** Cells of a side near `side` over places x y z …; radii up to twice the side are answered quickly. */
export function createSpaceCells(places: Float64Array, side: number): SpaceCells {
  const count = places.length / 3
  let slots = 1024
  while (slots < count && slots < MOST_SLOTS) slots *= 2
  const mask = slots - 1
  // Chains through the places of a slot; −1 ends them.
  const first = new Int32Array(slots).fill(-1)
  const next = new Int32Array(count)
  const per = 1 / side
  const slotOf = (i: number, j: number, k: number) => (Math.imul(i, 0x9e3779b1) ^ Math.imul(j, 0x85ebca77) ^ Math.imul(k, 0xc2b2ae3d)) & mask
  return {
    add(i) {
      const slot = slotOf(Math.floor(places[3 * i] * per), Math.floor(places[3 * i + 1] * per), Math.floor(places[3 * i + 2] * per))
      next[i] = first[slot]
      first[slot] = i
    },
    nearest(i, radius) {
      let best = radius * radius
      let found = Infinity
      visit(i, radius, (_n, d) => {
        if (d >= best) return false
        best = found = d
        return false
      })
      return found
    },
    meets: (i, radii, most) => visit(i, radii[i] + most, (n, d) => d < (radii[i] + radii[n]) * (radii[i] + radii[n])),
  }

  /** Goes over the places entered in cubes within reach of place i, until told to stop. */
  function visit(i: number, reach: number, stop: (n: number, squared: number) => boolean): boolean {
    const x = places[3 * i]
    const y = places[3 * i + 1]
    const z = places[3 * i + 2]
    const i1 = Math.floor((x + reach) * per)
    const j1 = Math.floor((y + reach) * per)
    const k1 = Math.floor((z + reach) * per)
    for (let a = Math.floor((x - reach) * per); a <= i1; a++)
      for (let b = Math.floor((y - reach) * per); b <= j1; b++)
        for (let c = Math.floor((z - reach) * per); c <= k1; c++)
          for (let n = first[slotOf(a, b, c)]; n >= 0; n = next[n]) {
            const dx = places[3 * n] - x
            const dy = places[3 * n + 1] - y
            const dz = places[3 * n + 2] - z
            if (stop(n, dx * dx + dy * dy + dz * dz)) return true
          }
    return false
  }
}
