import { saturate } from '../../math/portable.ts'

/** Ready-made curves, x y x y …; the way from a field's 0 to its 1. */
export const CURVES = [
  { name: 'straight', points: [0, 0, 1, 1] },
  { name: 'steep', points: [0, 0, 0.25, 0.06, 0.5, 0.25, 0.75, 0.56, 1, 1] },
  { name: 'round', points: [0, 0, 0.25, 0.44, 0.5, 0.75, 0.75, 0.94, 1, 1] },
  { name: 'soft', points: [0, 0, 0.15, 0.06, 0.35, 0.28, 0.5, 0.5, 0.65, 0.72, 0.85, 0.94, 1, 1] },
  { name: 'hump', points: [0, 0, 0.25, 0.75, 0.5, 1, 0.75, 0.75, 1, 0] },
  { name: 'step', points: [0, 0, 0.49, 0, 0.51, 1, 1, 1] },
] as const

export const MOST_CURVE_POINTS = 24

/** Whether points x y x y … make a curve: x from 0 to 1, rising, y between 0 and 1. */
export function isCurve(points: readonly number[]): boolean {
  if (points.length < 4 || points.length % 2 !== 0 || points.length > 2 * MOST_CURVE_POINTS) return false
  if (points[0] !== 0 || points[points.length - 2] !== 1) return false
  for (let i = 0; i < points.length; i += 2)
    if (!(points[i + 1] >= 0 && points[i + 1] <= 1) || (i > 0 && !(points[i] > points[i - 2]))) return false
  return true
}

/** The curve's value at t, straight between its points; t is clamped into 0…1, no number counts as 0. */
export function bend(points: readonly number[], t: number): number {
  const s = t === t ? saturate(t) : 0
  let i = 2
  while (i < points.length - 2 && points[i] < s) i += 2
  const [x0, y0, x1, y1] = [points[i - 2], points[i - 1], points[i], points[i + 1]]
  return y0 + ((y1 - y0) * (s - x0)) / (x1 - x0)
}
