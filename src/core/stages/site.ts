import type { Sites } from '../columns.ts'
import { createSites } from '../columns.ts'
import type { Place } from '../grounds/ground.ts'

/** One site at a place, of full weight. */
export function siteAt({ x, y, z, normal }: Place): Sites {
  const site = createSites(1)
  site.x[0] = x
  site.y[0] = y
  site.z[0] = z
  site.weight[0] = 1
  site.count = 1
  if (normal) site.normals = { x: Float64Array.of(normal[0]), y: Float64Array.of(normal[1]), z: Float64Array.of(normal[2]) }
  return site
}
