import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Place } from '../../core/grounds/ground.ts'
import type { Vector } from '../../core/hand/frames.ts'
import type { Seen } from '../../core/plantings/ask.ts'

/** The direction that a ground faces at a place: of the terrain up where it is not told. */
export function normalOf({ normal }: Pick<Place, 'normal'>): Vector {
  return normal ?? [0, 1, 0]
}

/** So many places on the straight way between two, at both ends too, equally far apart; on the terrain they lie on it. */
export function rowBetween(from: Seen, to: Seen, count: number, heightAt: (x: number, z: number) => number): Seen[] {
  const many = Math.max(2, Math.round(count))
  const onTerrain = from.ground === TERRAIN_ID
  return Array.from({ length: many }, (_, k) => {
    const t = k / (many - 1)
    const mix = (a: number, b: number) => a + (b - a) * t
    const [x, y, z] = [mix(from.place.x, to.place.x), mix(from.place.y, to.place.y), mix(from.place.z, to.place.z)]
    return { ground: from.ground, place: { x, y: onTerrain ? heightAt(x, z) : y, z, normal: from.place.normal } }
  })
}
