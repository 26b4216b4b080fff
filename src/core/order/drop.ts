import type { Ground, Place } from '../grounds/ground.ts'
import { siteAt } from '../stages/site.ts'
import { normalAt } from '../grounds/pick.ts'
import type { Terrain } from '../grounds/terrain.ts'
import type { Frames } from './frames.ts'

/** The way in which a member comes down, of length 1, by its number. */
export type WayDown = (k: number) => readonly [number, number, number]

/** Members that came down along directions of their own, and the normals x y z of what they came down on; up where they met nothing. */
export interface Dropped {
  readonly frames: Frames
  readonly normal: Float64Array
}

/** How members come down. */
export interface Drop {
  readonly way: WayDown
  /** How much of the way they come, 0…1. */
  readonly share: number
  readonly grounds: readonly Ground[]
  readonly terrain: Terrain
  /** By how much each is shifted first, m. */
  readonly shift: (k: number) => readonly [number, number, number]
}

/** None comes down from farther, m. */
const FARTHEST = 300

/**
 * Lets members of the world come down on grounds, each along its own way and a share of it: on the first that they
 * meet, or, from within, on the one that they would have met on the way in. What meets nothing stays where it is.
 */
export function dropped(frames: Frames, { way, share, grounds, terrain, shift }: Drop): Dropped {
  const { count } = frames
  const place = new Float64Array(3 * count)
  const normal = new Float64Array(3 * count)
  for (let k = 0; k < count; k++) {
    const direction = way(k)
    const by = shift(k)
    const from = [0, 1, 2].map((c) => frames.place[3 * k + c] + by[c])
    const hit = firstAlong(grounds, from, direction)
    const to = hit ? [hit.x, hit.y, hit.z] : from
    for (let c = 0; c < 3; c++) place[3 * k + c] = from[c] + share * (to[c] - from[c])
    normal.set(hit ? against(hit.normal ?? normalAt(terrain, hit.x, hit.z), direction) : [0, 1, 0], 3 * k)
  }
  return { frames: { ...frames, place }, normal }
}

/** The normal's side that looks against a way: of a sheet either counts. */
function against(normal: readonly [number, number, number], [x, y, z]: readonly [number, number, number]): readonly [number, number, number] {
  return normal[0] * x + normal[1] * y + normal[2] * z > 0 ? [-normal[0], -normal[1], -normal[2]] : normal
}

function firstAlong(grounds: readonly Ground[], [x, y, z]: readonly number[], direction: readonly [number, number, number]): Place | null {
  const own = { x, y, z, normal: null }
  const within = grounds.filter((ground) => {
    const site = siteAt(own)
    ground.cover(site)
    return !(site.weight[0] > 0)
  })
  const [dx, dy, dz] = direction
  if (within.length === 0) return nearest(grounds, [x, y, z], direction)
  // Out of a body by the side nearest to it; a terrain is met from above only.
  return nearest(within, [x, y, z], [-dx, -dy, -dz]) ?? nearest(within, [x - FARTHEST * dx, y - FARTHEST * dy, z - FARTHEST * dz], direction)
}

function nearest(grounds: readonly Ground[], origin: readonly [number, number, number], direction: readonly [number, number, number]): Place | null {
  let best: ReturnType<Ground['pick']> = null
  for (const ground of grounds) {
    const hit = ground.pick({ origin, direction, reach: FARTHEST })
    if (hit && (!best || hit.away < best.away)) best = hit
  }
  return best?.place ?? null
}
