import { atan2, cos, sin } from '../math/portable.ts'
import { lastAtMost } from '../math/search.ts'
import type { Vector } from '../math/vector.ts'
import { cross, dot, minus, times } from '../math/vector.ts'
import { valuesOf } from '../long-list.ts'
import type { Outline } from '../meadow.ts'
import type { HeightAt } from '../grounds/terrain.ts'
import { flattenAt } from './curve.ts'
import { isClosed, pointsOf } from './outline.ts'

/** Lines that leave the ground: each point so high over it, straight or curved through space in between. */

/** Whether any point of an outline lies off the ground. */
export function leavesGround({ above }: Pick<Outline, 'above'>): boolean {
  return above?.some((line) => valuesOf(line).some((value) => value !== 0)) ?? false
}

/** The polylines that an outline stands for, x y z x y z …, m: its points as high over the ground as they lie, what is between them straight or curved from one to the next, whatever the ground does. */
export function linesInSpace(outline: Outline, heightAt: HeightAt): number[][] {
  const closed = isClosed(outline)
  return pointsOf(outline).flatMap((points, l) => {
    const above = outline.above?.[l] ? valuesOf(outline.above[l]) : []
    const n = points.length / 2
    const heights = Array.from({ length: n }, (_, i) => heightAt(points[2 * i], points[2 * i + 1]) + (above[i] ?? 0))
    const { line, at } = flattenAt(points, closed, outline.smooth)
    if (line.length < (closed ? 6 : 2)) return []
    const heightOf = outline.smooth && n > 2 ? curved(heights, closed) : straight(heights)
    return [at.flatMap((u, k) => [line[2 * k], heightOf(u), line[2 * k + 1]])]
  })
}

function straight(heights: readonly number[]): (u: number) => number {
  return (u) => {
    const i = Math.floor(u)
    return heights[i] + (u - i) * (heights[(i + 1) % heights.length] - heights[i])
  }
}

/** Heights on a cubic through all of them (Catmull and Rom 1974). */
function curved(heights: readonly number[], closed: boolean): (u: number) => number {
  const n = heights.length
  const at = (i: number) => (closed ? heights[((i % n) + n) % n] : heights[Math.max(0, Math.min(n - 1, i))])
  return (u) => {
    const i = Math.floor(u)
    const t = u - i
    const [p, q] = [at(i), at(i + 1)]
    const [a, b] = [0.5 * (q - at(i - 1)), 0.5 * (at(i + 2) - p)]
    return p + t * (a + t * (3 * (q - p) - 2 * a - b + t * (2 * (p - q) + a + b)))
  }
}

/** A place on a line through space, the way that it goes there and what is up on it, both of length 1. */
export interface InSpace {
  readonly place: Vector
  readonly way: Vector
  readonly up: Vector
}

/** A line through space by the length that is gone along it, m. */
export interface AlongSpace {
  readonly length: number
  /** Before its beginning and beyond its end at those ends. */
  at(metres: number): InSpace
}

/**
 * A polyline x y z x y z …, m, by the length gone along it. What is up on it turns no more about its way than it must:
 * frames by double reflection (Wang, Jüttler, Zheng and Liu 2008) from as upright as can be at its beginning. Of a closed line
 * what is left of a turn after a whole round is shared out along it. The way of one that stands for a curve changes from
 * corner to corner; that of a straight one is its pieces' own.
 */
export function alongSpace(line: readonly number[], closed: boolean, smooth: boolean): AlongSpace {
  const corners = closed && line.length > 6 ? [...line, line[0], line[1], line[2]] : line
  const n = corners.length / 3
  const place = (i: number): Vector => [corners[3 * i], corners[3 * i + 1], corners[3 * i + 2]]
  const gone = new Float64Array(Math.max(n, 1))
  for (let i = 1; i < n; i++) gone[i] = gone[i - 1] + long(minus(place(i), place(i - 1)))
  const ways = waysAt(corners, n, closed)
  const ups = upsAlong(place, ways, gone, closed)
  return {
    length: gone[n - 1] ?? 0,
    at(metres) {
      const s = Math.max(0, Math.min(gone[n - 1] ?? 0, metres))
      const low = lastAtMost(gone, s, Math.max(0, n - 2))
      const next = Math.min(n - 1, low + 1)
      const step = gone[next] - gone[low]
      const t = step > 0 ? (s - gone[low]) / step : 0
      const way = unit(smooth ? mixed(ways[low], ways[next], t) : minus(place(next), place(low))) ?? ways[low]
      const up = mixed(ups[low], ups[next], t)
      return { place: mixed(place(low), place(next), t), way, up: unit(minus(up, times(way, dot(up, way)))) ?? ups[low] }
    },
  }
}

/** The way at each corner: half-way between those of the pieces that meet there. */
function waysAt(corners: readonly number[], n: number, closed: boolean): Vector[] {
  const piece = (i: number): Vector | null => {
    const k = closed ? (i + n - 1) % Math.max(1, n - 1) : i
    return k >= 0 && k + 1 < n ? unit([corners[3 * k + 3] - corners[3 * k], corners[3 * k + 4] - corners[3 * k + 1], corners[3 * k + 5] - corners[3 * k + 2]]) : null
  }
  return Array.from({ length: Math.max(1, n) }, (_, i) => {
    const [a, b] = [piece(i - 1), piece(i)]
    return (a && b && unit(mixed(a, b, 0.5))) ?? b ?? a ?? [1, 0, 0]
  })
}

function upsAlong(place: (i: number) => Vector, ways: readonly Vector[], gone: Float64Array, closed: boolean): Vector[] {
  const ups: Vector[] = [uprightOn(ways[0])]
  for (let i = 1; i < ways.length; i++) {
    const before = ups[i - 1]
    const step = minus(place(i), place(i - 1))
    const c = dot(step, step)
    if (!(c > 0)) {
      ups.push(before)
      continue
    }
    // Reflected in the plane half-way to the next place, then in the one that sets the way right.
    const up = minus(before, times(step, (2 * dot(step, before)) / c))
    const way = minus(ways[i - 1], times(step, (2 * dot(step, ways[i - 1])) / c))
    const off = minus(ways[i], way)
    const d = dot(off, off)
    ups.push(d > 0 ? minus(up, times(off, (2 * dot(off, up)) / d)) : up)
  }
  const last = ups.length - 1
  if (!closed || last < 1 || !(gone[last] > 0)) return ups
  const left = angleAbout(ways[0], ups[last], ups[0])
  return ups.map((up, i) => turnedAbout(up, ways[i], left * (gone[i] / gone[last])))
}

/** What is as upright as can be square to a way; to the north of one that goes straight up or down. */
function uprightOn(way: Vector): Vector {
  return unit(minus([0, 1, 0], times(way, way[1]))) ?? [0, 0, -1]
}

/** Radians from one direction to another about an axis that both are square to. */
function angleAbout(axis: Vector, from: Vector, to: Vector): number {
  return atan2(dot(cross(from, to), axis), dot(from, to))
}

function turnedAbout(of: Vector, axis: Vector, radians: number): Vector {
  const [c, s] = [cos(radians), sin(radians)]
  const side = cross(axis, of)
  return [c * of[0] + s * side[0], c * of[1] + s * side[1], c * of[2] + s * side[2]]
}

const mixed = (a: Vector, b: Vector, t: number): Vector => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])]
const long = (a: Vector) => Math.sqrt(dot(a, a))
function unit(a: Vector): Vector | null {
  const length = long(a)
  return length > 1e-12 ? times(a, 1 / length) : null
}
