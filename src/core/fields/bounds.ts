import type { GroundBlock, Range } from '../grounds/blocks.ts'
import { atan, smoothstep } from '../math/portable.ts'
import type { LineIndex } from '../outlines/distance.ts'
import type { Around, Places } from '../surroundings.ts'

/**
 * What the weight of a condition can be anywhere in a block of ground: never below `low`, never above `high`.
 * Where `high` is 0 nothing grows, where `low` is 1 the condition need not be asked.
 */
export type Bound = Range

export const ANYTHING: Bound = { low: 0, high: 1 }
export const NOTHING: Bound = { low: 0, high: 0 }
export const EVERYTHING: Bound = { low: 1, high: 1 }

/**
 * Tells a condition's bound in a block, among those of the earlier plantings that are known; whoever cannot tell says
 * {@link ANYTHING}.
 */
export type BoundIn = (block: GroundBlock, around: Around) => Bound

/** The bound of `within` (`conditions/define.ts`) over a range of values. */
export function boundWithin({ low, high }: Range, from: number, to: number, soft: number): Bound {
  if (high < from || low > to) return NOTHING
  const rise = (value: number) => (from === -Infinity || !(soft > 0) ? 1 : smoothstep((value - from) / soft))
  const fall = (value: number) => (to === Infinity || !(soft > 0) ? 1 : smoothstep((to - value) / soft))
  return { low: low >= from && high <= to ? rise(low) * fall(high) : 0, high: Math.min(rise(high), fall(low)) }
}

/** The bound of `fadeIn` (`conditions/define.ts`) over a range of depths. */
export function boundFade({ low, high }: Range, soft: number): Bound {
  return boundWithin({ low, high }, 0, Infinity, soft)
}

/** The bound of the best of several. */
export function boundOfAny(bounds: readonly Bound[]): Bound {
  return bounds.reduce((any, { low, high }) => ({ low: Math.max(any.low, low), high: Math.max(any.high, high) }), NOTHING)
}

/** The bound of a condition that is turned round. */
export function boundTurned({ low, high }: Bound): Bound {
  return { low: 1 - high, high: 1 - low }
}

/** A range moved by `by`. */
export function shifted({ low, high }: Range, by: number): Range {
  return { low: low + by, high: high + by }
}

/** Radius of the circle around a block, m. */
export function radiusOf({ x0, z0, x1, z1 }: GroundBlock): number {
  return 0.5 * Math.sqrt((x1 - x0) ** 2 + (z1 - z0) ** 2) * (1 + 1e-9)
}

const middleX = new Float64Array(1)
const middleZ = new Float64Array(1)
const away = new Float64Array(1)

/**
 * Distances from anywhere in a block to the lines of an index, as `LineIndex.distances` tells them to somebody
 * who looks no farther than `limit`; m. Infinite where all of it lies farther.
 */
export function distancesIn(block: GroundBlock, index: LineIndex, signed: boolean, limit: number): Range {
  const radius = radiusOf(block)
  middleX[0] = 0.5 * (block.x0 + block.x1)
  middleZ[0] = 0.5 * (block.z0 + block.z1)
  index.distances(middleX, middleZ, 1, signed, limit + radius, away)
  const [d] = away
  const slack = 1e-9 * (1 + Math.abs(middleX[0]) + Math.abs(middleZ[0]) + radius)
  // Beyond the limit all is infinitely far, on its own side.
  if (!Number.isFinite(d)) return { low: d, high: d }
  const [low, high] = [d - radius - slack, d + radius + slack]
  return { low: signed ? (low < -limit ? -Infinity : low) : Math.max(0, low), high: high > limit ? Infinity : high }
}

/** Distances in plan from anywhere in a block to the nearest of some places, m; infinite beyond `limit`. */
export function awayIn(block: GroundBlock, places: Places, limit: number): Range {
  const [x, z] = [0.5 * (block.x0 + block.x1), 0.5 * (block.z0 + block.z1)]
  const reach = radiusOf(block) + 1e-9 * (1 + Math.abs(x) + Math.abs(z))
  const away = places.nearest(x, z, limit + reach)
  return { low: away - reach > limit ? Infinity : Math.max(0, away - reach), high: away + reach > limit ? Infinity : away + reach }
}

/** Steepness of the ground anywhere in a block, rad. */
export function slopesIn(block: GroundBlock): Range {
  const { x, z, steepest } = block.gradients()
  const least = (range: Range) => (range.low > 0 ? range.low : range.high < 0 ? range.high : 0)
  const gentlest = Math.sqrt(least(x) ** 2 + least(z) ** 2)
  return { low: Math.max(0, atan(gentlest) - 1e-9), high: atan(Math.sqrt(steepest)) + 1e-9 }
}
