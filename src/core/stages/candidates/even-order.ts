import type { MeshShape } from '../../grounds/mesh-shape.ts'
import { drawSalt } from '../../math/random.ts'
import { createSpaceCells, MOST_SLOTS, slotOf } from '../../space/space-cells.ts'
import { floorLog2, powerOfTwo } from './even-pattern.ts'
import { numberSet, shuffled } from './number-set.ts'
import type { SurfacePlaces } from './surface.ts'
import { areaSums, LEVEL_ZERO, MOST_CANDIDATES, scatter } from './surface.ts'

/*
 * Evenly spaced places over a surface, in the order in which they are taken: within an octave of spacings the
 * same candidates are tried in the same order at the same radii, from the octave's widest down, so that what
 * a spacing takes is the beginning of what any smaller one takes (dart throwing, Cook 1986, with the shrinking
 * radius of McCool & Fiume 1992). The order is made once and kept; a spacing reads its beginning off it.
 */

/** Candidates tried by the time that a radius is reached, for each square of it. */
const TRIES = 11
/** From one radius to the next smaller one that is tried; half an octave of area. */
const SHRINK = 0.985
/** Radii of the steps of an octave, as shares of its widest: the last one above a half, and no smaller. */
const RADII = radii()
/** Orders are made as far as they are asked for at first, and then to the end of every so many steps: a spacing dragged within them makes nothing. */
const STRIDE = 11

function radii(): number[] {
  const all: number[] = []
  for (let radius = 1; radius >= 0.5; radius *= SHRINK) all.push(radius)
  return all
}

/** The order of an octave, as far as it is made. */
interface EvenOrder {
  /** The last step that is made. */
  readonly last: number
  /** How many are taken by the end of each step. */
  readonly until: readonly number[]
  readonly places: Float64Array
  readonly triangle: Uint32Array
  readonly number: Uint32Array
}

/** Most places in the orders kept of one shape; 32 bytes each. */
const MOST_KEPT = 1_500_000
const kept = new WeakMap<MeshShape, Map<string, EvenOrder>>()

/**
 * Evenly spaced places all over a shape: nobody nearer to another than `spacing` (of the mesh's own size, m),
 * straight through space. A spacing stops at the last radius that is no smaller than it.
 */
export function evenOnSurface(shape: MeshShape, seed: number, spacing: number): SurfacePlaces {
  const octave = floorLog2(spacing)
  const widest = 2 * powerOfTwo(octave)
  let step = 0
  while (step + 1 < RADII.length && widest * RADII[step + 1] >= spacing) step++
  const { until, places, triangle, number } = orderOf(shape, seed, octave, step)
  const count = until[step]
  const rank = new Float64Array(count)
  for (let k = 0; k < count; k++) rank[k] = (k + 0.5) / count
  return { count, places: places.subarray(0, 3 * count), triangle: triangle.subarray(0, count), number: number.subarray(0, count), level: new Uint8Array(count).fill(octave + LEVEL_ZERO), rank }
}

/** The order of a throw and an octave over a shape, made as far as a step at least; those asked for last are kept. */
function orderOf(shape: MeshShape, seed: number, octave: number, step: number): EvenOrder {
  const own = kept.get(shape) ?? new Map<string, EvenOrder>()
  kept.set(shape, own)
  const name = `${seed} ${octave}`
  const found = own.get(name)
  const order = found && found.last >= step ? found : makeOrder(shape, seed, octave, found ? Math.min(RADII.length - 1, STRIDE * Math.ceil(step / STRIDE)) : step)
  own.delete(name)
  own.set(name, order)
  let all = 0
  for (const { number } of own.values()) all += number.length
  for (const [oldest, { number }] of own) {
    if (all <= MOST_KEPT) break
    own.delete(oldest)
    all -= number.length
  }
  return order
}

/** Takes the places of an octave down to the radius of a step; those nearer than that to one that is taken are struck out at once, and never looked at. */
function makeOrder(shape: MeshShape, seed: number, octave: number, last: number): EvenOrder {
  const sums = areaSums(shape)
  const total = sums[sums.length - 1]
  const widest = 2 * powerOfTwo(octave)
  const spacing = widest * RADII[last]
  const first = Math.max(1, Math.min(MOST_CANDIDATES / 4, Math.ceil((TRIES * total) / (widest * widest))))
  const full = 4 * first
  /** How many are tried by the time that a radius is reached. */
  const triedAt = (radius: number) => first * (widest / radius) * (widest / radius)
  const needed = Math.min(full, Math.ceil(triedAt(spacing)))
  const numbers = shuffled(needed, full, drawSalt(seed ^ 0x27d4eb2f ^ octave))
  const wanted = numberSet(numbers, full)
  const { places, triangle } = scatter(shape, sums, drawSalt(seed ^ 0x1f83d9ab), octave + LEVEL_ZERO, full, wanted)
  const placeOf = numbers.map((number) => wanted.placeOf(number))
  const cells = createSpaceCells(widest, total / (spacing * spacing))
  const open = createOpenPlaces(places, needed, spacing)
  const taken = new Uint32Array(needed)
  const until: number[] = []
  let count = 0
  // Those put off, by the step that they are due in; numbers of the shuffle, which is the order of trying.
  const due: number[][] = RADII.map(() => [])
  let entered = 0
  for (let step = 0; step <= last; step++) {
    const radius = widest * RADII[step]
    // As the radius falls more and more are tried for the first time.
    const entering = Math.min(needed, Math.floor(triedAt(radius)))
    const again = due[step].sort((p, q) => p - q)
    due[step] = []
    for (let a = 0, k = 0; a < again.length || entered < entering; ) {
      if (a < again.length) k = again[a++]
      else k = entered++
      const i = placeOf[k]
      if (open.struck[i]) continue
      const [x, y, z] = [places[3 * i], places[3 * i + 1], places[3 * i + 2]]
      const d = Math.sqrt(cells.nearest(x, y, z, radius, spacing))
      if (d >= radius) {
        cells.add(x, y, z, 0)
        open.strike(x, y, z)
        taken[count++] = k
      } else if (d >= spacing) {
        let later = step + 1
        while (later <= last && widest * RADII[later] > d) later++
        if (later <= last) due[later].push(k)
      }
    }
    until.push(count)
  }
  const order = { last, until, places: new Float64Array(3 * count), triangle: new Uint32Array(count), number: new Uint32Array(count) }
  for (let n = 0; n < count; n++) {
    const i = placeOf[taken[n]]
    for (let c = 0; c < 3; c++) order.places[3 * n + c] = places[3 * i + c]
    order.triangle[n] = triangle[i]
    order.number[n] = numbers[taken[n]]
  }
  return order
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
