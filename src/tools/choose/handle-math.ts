import type { Sight } from '../../core/grounds/ground.ts'
import type { Vector } from '../../core/math/vector.ts'
import { dot, minus } from '../../core/math/vector.ts'

/** How a line of sight means amounts at handles. */

export const plus = (a: Vector, b: Vector, by = 1): Vector => [a[0] + b[0] * by, a[1] + b[1] * by, a[2] + b[2] * by]

/** How far along an axis of length 1 from a place a line of sight passes nearest to it, m; null where it looks along the axis. */
export function alongAxis({ origin, direction }: Pick<Sight, 'origin' | 'direction'>, from: Vector, axis: Vector): number | null {
  const across = dot(axis, direction)
  const square = 1 - across * across
  if (square < 1e-6) return null
  const way = minus(origin, from)
  return (dot(way, axis) - dot(way, direction) * across) / square
}

/** Where a line of sight meets a plane through a place; null where it goes along it, or meets it behind the eye. */
export function onPlane({ origin, direction }: Pick<Sight, 'origin' | 'direction'>, through: Vector, normal: Vector): Vector | null {
  const across = dot(direction, normal)
  if (Math.abs(across) < 1e-6) return null
  const away = dot(minus(through, origin), normal) / across
  return away > 0 ? plus(origin, direction, away) : null
}

/** The angle of a place about an axis through another, degrees, against the first of two directions across the axis. */
export function angleAbout(place: Vector, centre: Vector, [u, v]: readonly [Vector, Vector]): number {
  const way = minus(place, centre)
  return (Math.atan2(dot(way, v), dot(way, u)) * 180) / Math.PI
}
