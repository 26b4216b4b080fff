import { distinctWords } from '../identity.ts'
import { cos, DEGREE, sin } from '../math/portable.ts'
import type { Outline } from '../meadow.ts'
import { boxOf } from '../outlines/measure.ts'
import { indexOf, polylines } from '../outlines/outline.ts'
import type { Frames } from './frames.ts'
import { framesOf, MOST_MEMBERS, setInRun, setPlace, setTurn } from './frames.ts'
import type { Trail } from './trail.ts'
import { facingOf } from './trail.ts'

/** Rows that fill patches. */
export interface Bed {
  /** Metres from one to the next in a row, and from one row to the next. */
  readonly every: number
  readonly rowsApart: number
  /** By which share of the way to the next each second row is moved on, 0…1. */
  readonly staggered: number
  /** The compass direction that rows run to, degrees. */
  readonly runs: number
  /** Nearer to the rim than this nothing stands, m. */
  readonly inset: number
  /** Which way the front of its members looks. */
  readonly facing: Trail['facing']
  /** How high members stand by themselves: as the highest of the ground along the rim, its mean, or the lowest. */
  readonly level: 'high' | 'mean' | 'low'
}

/** Rows and places in them have numbers of so many bits, about 0. */
const HALF = 1 << 15

/** How many places of rows the box of a patch holds: none of the patch's has more members. */
export function mostInBeds(outlines: readonly Outline[], { every, rowsApart }: Pick<Bed, 'every' | 'rowsApart'>): number {
  return patchesOf(outlines).reduce((sum, { lines }) => {
    const [x0, z0, x1, z1] = boxOf(lines.flat())
    return sum + ((x1 - x0) / every + 1) * ((z1 - z0) / rowsApart + 1)
  }, 0)
}

function patchesOf(outlines: readonly Outline[]): { readonly outline: Outline; readonly lines: number[][] }[] {
  return outlines.flatMap((outline) => {
    const lines = outline.kind === 'patch' ? polylines(outline) : []
    return lines.length > 0 ? [{ outline, lines }] : []
  })
}

/**
 * Members of rows that fill patches, by the even–odd rule: holes stay free. The first row runs through the first
 * point of its patch and has a member there, so that rows move along with it, and what stands keeps its number where
 * the rim is changed elsewhere. `heightAt` tells the height of the ground. Throws RangeError where they are too many.
 */
export function framesOfBed(outlines: readonly Outline[], bed: Bed, heightAt: (x: number, z: number) => number): Frames {
  const patches = patchesOf(outlines)
  const highs = distinctWords(patches.map(({ outline }) => outline.id))
  const found = patches.map(({ outline, lines }) => membersOf(outline, lines, bed))
  const count = found.reduce((sum, { numbers }) => sum + numbers.length / 2, 0)
  if (count > MOST_MEMBERS) throw new RangeError(`framesOfBed: ${count} members, at most ${MOST_MEMBERS}`)
  const frames = framesOf(count)
  const turn = facingOf(bed.facing, sin(bed.runs * DEGREE), -cos(bed.runs * DEGREE))
  let k = 0
  for (const [patch, { numbers, places }] of found.entries()) {
    const level = levelOf(patches[patch].lines, bed.level, heightAt)
    for (let m = 0; m < numbers.length / 2; ) {
      // All of one row.
      const row = numbers[2 * m + 1]
      let end = m
      while (end < numbers.length / 2 && numbers[2 * end + 1] === row) end++
      for (let n = m; n < end; n++, k++) {
        setPlace(frames, k, places[2 * n], level, places[2 * n + 1])
        setTurn(frames, k, turn)
        setInRun(frames, k, n - m, end - m, end - m > 1 ? (n - m) / (end - m - 1) : 0)
        frames.low[k] = ((row + HALF) << 16) | (numbers[2 * n] + HALF)
        frames.high[k] = highs[patch]
      }
      m = end
    }
  }
  return frames
}

/** The height at which members stand by themselves, m. */
function levelOf(lines: readonly (readonly number[])[], level: Bed['level'], heightAt: (x: number, z: number) => number): number {
  let [low, high, sum, count] = [Infinity, -Infinity, 0, 0]
  for (const line of lines)
    for (let i = 0; i < line.length; i += 2) {
      const y = heightAt(line[i], line[i + 1])
      low = Math.min(low, y)
      high = Math.max(high, y)
      sum += y
      count++
    }
  return { high, low, mean: sum / count }[level]
}

/** Places of one patch, row by row: numbers (along, row) and places (x, z). */
function membersOf(outline: Outline, lines: readonly (readonly number[])[], { every, rowsApart, staggered, runs, inset }: Bed): { readonly numbers: readonly number[]; readonly places: readonly number[] } {
  const [[x0, z0]] = lines
  // The way that rows run, and the one that they follow each other, to its right.
  const [ax, az] = [sin(runs * DEGREE), -cos(runs * DEGREE)]
  const [bx, bz] = [-az, ax]
  const [from, to] = spanOf(lines, x0, z0, bx, bz)
  const [least, most] = spanOf(lines, x0, z0, ax, az)
  const index = indexOf(outline)
  const numbers: number[] = []
  const places: number[] = []
  for (let row = bounded(Math.ceil(from / rowsApart)); row <= bounded(Math.floor(to / rowsApart)); row++) {
    const shift = row % 2 === 0 ? 0 : staggered
    const first = bounded(Math.ceil(least / every - shift))
    const many = bounded(Math.floor(most / every - shift)) - first + 1
    if (many <= 0) continue
    const along = (i: number) => (first + i + shift) * every
    const x = Float64Array.from({ length: many }, (_, i) => x0 + along(i) * ax + row * rowsApart * bx)
    const z = Float64Array.from({ length: many }, (_, i) => z0 + along(i) * az + row * rowsApart * bz)
    const away = new Float64Array(many)
    index.distances(x, z, many, true, Infinity, away)
    // What stands on the rim itself is within, as far as numbers can tell.
    for (let i = 0; i < many; i++)
      if (away[i] <= ON_RIM - inset) {
        numbers.push(first + i, row)
        places.push(x[i], z[i])
      }
  }
  return { numbers, places }
}

/** A place this near to the rim is on it, m. */
const ON_RIM = 1e-6

/** A number that fits its bits. */
function bounded(value: number): number {
  return Math.max(-HALF, Math.min(HALF - 1, value))
}

/** How far lines reach along a direction, from a place, m. */
function spanOf(lines: readonly (readonly number[])[], x0: number, z0: number, dx: number, dz: number): [number, number] {
  let [low, high] = [Infinity, -Infinity]
  for (const line of lines)
    for (let i = 0; i < line.length; i += 2) {
      const at = (line[i] - x0) * dx + (line[i + 1] - z0) * dz
      low = Math.min(low, at)
      high = Math.max(high, at)
    }
  // A hair more, as sums round.
  return [low - ON_RIM, high + ON_RIM]
}
