import type { Outline } from '../meadow.ts'
import { alongOutline } from './along.ts'
import { polylines } from './outline.ts'

/** Length of all lines of an outline, m. */
export function outlineLength(outline: Outline): number {
  return alongOutline(outline).reduce((sum, { length }) => sum + length, 0)
}

/** Area that a patch encloses by the even–odd rule, m²: lines that lie in an odd number of others are holes. Lines must not cross. */
export function patchArea(outline: Outline): number {
  const rings = polylines(outline).map((line) => ({ line, box: boxOf(line) }))
  return rings.reduce((sum, inner) => {
    const around = rings.filter((other) => other !== inner && holds(other.box, inner.box) && encloses(other.line, inner.line))
    return sum + (around.length % 2 === 0 ? ringArea(inner.line) : -ringArea(inner.line))
  }, 0)
}

type Box = readonly [x0: number, z0: number, x1: number, z1: number]

/** The least box around points x, z, x, z, …, m. */
export function boxOf(line: ArrayLike<number>): Box {
  let [x0, z0, x1, z1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (let i = 0; i < line.length; i += 2) {
    x0 = Math.min(x0, line[i])
    x1 = Math.max(x1, line[i])
    z0 = Math.min(z0, line[i + 1])
    z1 = Math.max(z1, line[i + 1])
  }
  return [x0, z0, x1, z1]
}

function holds(outer: Box, inner: Box): boolean {
  return outer[0] <= inner[0] && outer[1] <= inner[1] && outer[2] >= inner[2] && outer[3] >= inner[3]
}

/** By the shoelace formula, about the first point so that no digits are lost far from the origin. */
function ringArea(line: readonly number[]): number {
  let twice = 0
  const n = line.length / 2
  for (let i = 1; i + 1 < n; i++)
    twice += (line[2 * i] - line[0]) * (line[2 * i + 3] - line[1]) - (line[2 * i + 2] - line[0]) * (line[2 * i + 1] - line[1])
  return Math.abs(twice) / 2
}

/** Places of a ring that are asked about; lines do not cross, so that a few tell. */
const ASKED = 15

/** Whether most of some places on a ring lie within another: single ones may lie on its line. */
function encloses(ring: readonly number[], inner: readonly number[]): boolean {
  const n = inner.length / 2
  const step = Math.ceil(n / ASKED)
  let within = 0
  let asked = 0
  for (let i = 0; i < n; i += step) {
    const k = (i + 1) % n
    asked++
    if (isWithin(ring, (inner[2 * i] + inner[2 * k]) / 2, (inner[2 * i + 1] + inner[2 * k + 1]) / 2)) within++
  }
  return 2 * within > asked
}

/** The crossing rule: a ray to the east crosses the ring an odd number of times. */
function isWithin(ring: readonly number[], x: number, z: number): boolean {
  let odd = false
  const n = ring.length / 2
  for (let i = 0, j = n - 1; i < n; j = i++) {
    const [xi, zi, xj, zj] = [ring[2 * i], ring[2 * i + 1], ring[2 * j], ring[2 * j + 1]]
    if (zi > z !== zj > z && x < ((xj - xi) * (z - zi)) / (zj - zi) + xi) odd = !odd
  }
  return odd
}
