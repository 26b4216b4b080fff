import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Place } from '../../core/grounds/ground.ts'
import type { Vector } from '../../core/hand/frames.ts'
import type { Seen } from '../../core/plantings/ask.ts'

/** The direction that a ground faces at a place: of the terrain up where it is not told. */
export function normalOf({ normal }: Pick<Place, 'normal'>): Vector {
  return normal ?? [0, 1, 0]
}

/** How those of a row are spread out. */
export interface RowSpread {
  readonly count: number
  /** How far one strays along the row, in shares of the spacing, and to its sides, m; the ends of the row stray to the sides only. */
  readonly uneven: number
  readonly aside: number
  /** Throws of −1…1 for the one of a number. */
  dice(k: number): readonly [along: number, aside: number]
}

/** So many places on the straight way between two, at both ends too, equally far apart but for what they stray; on the terrain they lie on it. */
export function rowBetween(from: Seen, to: Seen, { count, uneven, aside, dice }: RowSpread, heightAt: (x: number, z: number) => number): Seen[] {
  const many = Math.max(2, Math.round(count))
  const way = [to.place.x - from.place.x, to.place.z - from.place.z]
  const long = Math.hypot(...way) || 1
  const onTerrain = from.ground === TERRAIN_ID
  return Array.from({ length: many }, (_, k) => {
    const [along, side] = dice(k)
    const ends = k === 0 || k === many - 1
    const t = (k + (ends ? 0 : 0.5 * uneven * along)) / (many - 1)
    const off = (aside * side) / long
    const mix = (a: number, b: number) => a + (b - a) * t
    const [x, y, z] = [mix(from.place.x, to.place.x) - way[1] * off, mix(from.place.y, to.place.y), mix(from.place.z, to.place.z) + way[0] * off]
    return { ground: from.ground, place: { x, y: onTerrain ? heightAt(x, z) : y, z, normal: from.place.normal } }
  })
}
