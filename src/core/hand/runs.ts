import type { SpacedRun } from '../meadow.ts'
import type { AlongLine, OnLine } from '../outlines/along.ts'
import { atan2, cos, sin } from '../math/portable.ts'
import type { Vector } from './frames.ts'

/** What of a run says where its members stand. */
export type RunShape = Pick<SpacedRun, 'kind' | 'from' | 'to' | 'spacing' | 'arc'>

/** A place of a run in the frame of its ground; a height of null leaves each member its own. */
export type RunPlace = readonly [x: number, y: number | null, z: number]

/**
 * Where so many members of a run stand, evenly: along a line and a path every so many metres from its beginning, round
 * a ring over its arc, with both ends taken where it is open and none doubled where it closes. `path` is the line of a
 * run along one; nothing comes of a run whose path is gone. Places beyond the end of an open path lie at its end.
 */
export function placesOfRun(run: RunShape, count: number, path: AlongLine | null): RunPlace[] {
  const ways: Readonly<Record<RunShape['kind'], () => RunPlace[]>> = {
    line: () => alongLine(run, count),
    ring: () => roundRing(run, count),
    path: () => (path ? alongPath(run, count, path) : []),
  }
  return ways[run.kind]()
}

function alongLine({ from, to, spacing }: RunShape, count: number): RunPlace[] {
  const way = [0, 1, 2].map((c) => to[c] - from[c])
  const long = Math.sqrt(way[0] * way[0] + way[1] * way[1] + way[2] * way[2])
  const [x, y, z] = long > 0 ? way.map((one) => one / long) : [1, 0, 0]
  return Array.from({ length: count }, (_, k) => [from[0] + x * spacing * k, y === 0 ? null : from[1] + y * spacing * k, from[2] + z * spacing * k])
}

const FULL = 360

function roundRing({ from, to, arc }: RunShape, count: number): RunPlace[] {
  const [x, z] = [to[0] - from[0], to[2] - from[2]]
  const steps = Math.abs(arc) >= FULL ? count : Math.max(1, count - 1)
  const whole = Math.max(-FULL, Math.min(FULL, arc))
  return Array.from({ length: count }, (_, k) => {
    const turn = (whole * k * Math.PI) / (180 * steps)
    const [c, s] = [cos(turn), sin(turn)]
    return [from[0] + c * x - s * z, null, from[2] + s * x + c * z]
  })
}

function alongPath({ spacing }: RunShape, count: number, path: AlongLine): RunPlace[] {
  const on: OnLine = { x: 0, z: 0, wayX: 0, wayZ: 0 }
  return Array.from({ length: count }, (_, k) => {
    path.at(spacing * k, on)
    return [on.x, null, on.z]
  })
}

/** The radius of a ring, m of its ground's frame. */
export function radiusOf({ from, to }: Pick<RunShape, 'from' | 'to'>): number {
  const [x, z] = [to[0] - from[0], to[2] - from[2]]
  return Math.sqrt(x * x + z * z)
}

/** A ring with another radius, begun in the same direction. */
export function withRadius({ from, to }: Pick<RunShape, 'from' | 'to'>, radius: number): [number, number, number] {
  const now = radiusOf({ from, to })
  const [x, z] = now > 0 ? [(to[0] - from[0]) / now, (to[2] - from[2]) / now] : [0, -1]
  return [from[0] + x * radius, to[1], from[2] + z * radius]
}

/** How places are to be put in order. */
export interface Ordering {
  readonly order: readonly number[]
  readonly shape: RunShape
}

/**
 * The order that places already have along the straight line that fits them best in plan (of their principal
 * direction), and that line: it begins and ends at the first and last of them, so that those stay where they are.
 */
export function lineThrough(places: readonly Vector[]): Ordering {
  const middle = middleOf(places)
  let [xx, xz, zz] = [0, 0, 0]
  for (const [x, , z] of places) {
    xx += (x - middle[0]) ** 2
    xz += (x - middle[0]) * (z - middle[2])
    zz += (z - middle[2]) ** 2
  }
  const turn = 0.5 * atan2(2 * xz, xx - zz)
  const order = inOrder(places, ([x, , z]) => x * cos(turn) + z * sin(turn))
  const [first, last] = [places[order[0]], places[order[order.length - 1]]]
  const to: [number, number, number] = [last[0], first[1], last[2]]
  const long = radiusOf({ from: [...first], to })
  return { order, shape: { kind: 'line', from: [...first], to, spacing: long > 0 ? long / Math.max(1, places.length - 1) : 1, arc: FULL } }
}

/** The order of places along a direction, and a line in that direction from the first of them. */
export function lineAlong(places: readonly Vector[], way: Vector): Ordering {
  const order = inOrder(places, (place) => way.reduce((sum, one, c) => sum + one * place[c], 0))
  const [first, last] = [places[order[0]], places[order[order.length - 1]]]
  const long = way.reduce((sum, one, c) => sum + one * (last[c] - first[c]), 0)
  return { order, shape: { kind: 'line', from: [...first], to: [first[0] + way[0], first[1] + way[1], first[2] + way[2]], spacing: long > 0 ? long / Math.max(1, places.length - 1) : 1, arc: FULL } }
}

/** The order of places round their middle, and a full ring about it of their mean distance, begun towards the first. */
export function ringThrough(places: readonly Vector[]): Ordering {
  const middle = middleOf(places)
  const radius = places.reduce((sum, [x, , z]) => sum + Math.sqrt((x - middle[0]) ** 2 + (z - middle[2]) ** 2), 0) / places.length
  const order = inOrder(places, ([x, , z]) => atan2(z - middle[2], x - middle[0]))
  const from: [number, number, number] = [middle[0], middle[1], middle[2]]
  return { order, shape: { kind: 'ring', from, to: withRadius({ from, to: [...places[order[0]]] }, Math.max(radius, 1e-3)), spacing: 1, arc: FULL } }
}

/** Places on a path that are tried to find the nearest one. */
const TRIED = 2000

/** The order of places along a path, spread over all of it. */
export function pathThrough(places: readonly Vector[], path: AlongLine, closed: boolean): Ordering {
  const on: OnLine = { x: 0, z: 0, wayX: 0, wayZ: 0 }
  const tried = Array.from({ length: TRIED + 1 }, (_, k) => {
    path.at((path.length * k) / TRIED, on)
    return [on.x, on.z] as const
  })
  const nearest = ([x, , z]: Vector) => tried.reduce((best, [px, pz], k) => ((px - x) ** 2 + (pz - z) ** 2 < (tried[best][0] - x) ** 2 + (tried[best][1] - z) ** 2 ? k : best), 0)
  const order = inOrder(places, nearest)
  const pieces = closed ? places.length : places.length - 1
  return { order, shape: { kind: 'path', from: [0, 0, 0], to: [1, 0, 0], spacing: path.length > 0 ? path.length / Math.max(1, pieces) : 1, arc: FULL } }
}

function middleOf(places: readonly Vector[]): Vector {
  const sum = [0, 0, 0]
  for (const place of places) for (const c of [0, 1, 2]) sum[c] += place[c] / places.length
  return [sum[0], sum[1], sum[2]]
}

function inOrder(places: readonly Vector[], of: (place: Vector) => number): number[] {
  const keys = places.map(of)
  return places.map((_, k) => k).sort((a, b) => keys[a] - keys[b] || a - b)
}
