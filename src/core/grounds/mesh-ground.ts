import type { Sites } from '../columns.ts'
import { carryNormals, createSites } from '../columns.ts'
import { namingOf } from '../identity.ts'
import { plotAsWhole } from '../stages/as-whole.ts'
import { areaOfSolid, missedByThrow, sourceOnSolid, wayOnSolid } from '../stages/candidates/on-solid.ts'
import type { SpreadGround } from '../stages/plot.ts'
import { thingsOf } from '../things/define.ts'
import { MESH } from '../things/mesh.ts'
import type { GroundKind } from './kind.ts'
import { seatOnSolid } from './mesh-seat.ts'
import { writeCross } from './mesh-shape.ts'
import { ownFooting } from './own-footing.ts'
import type { Solid } from './solid.ts'
import { firstHit, toOwn, toWorld } from './solid.ts'

/** Candidates for each that an exact count wants: conditions and rooms are not looked at beforehand. */
const SPARE = 3

export const meshGround: GroundKind = {
  kind: 'mesh',
  of: ({ things }) => thingsOf(things, MESH).map(groundOfSolid),
}

/** A mesh where it stands as a ground. */
export function groundOfSolid(solid: Solid): SpreadGround {
  const { bounds, placed } = solid
  const ground: SpreadGround = {
    id: placed.id,
    bounds: { x0: bounds[0], z0: bounds[2], x1: bounds[3], z1: bounds[5] },
    // Its sites know their heights and normals, and there is ground wherever they are.
    land: () => undefined,
    raise: () => undefined,
    cover: (sites) => coverWithin(solid, sites),
    pick: (sight) => firstHit(solid, sight),
    lattice: () => corners(solid),
    footing: ownFooting(seatOnSolid(solid)),
    area(values) {
      const area = areaOfSolid(solid, values)
      return { whole: area, taken: area, spare: SPARE }
    },
    misses: (values, place) => missedByThrow(solid, values, place),
    plot(over) {
      const { values, seed, density, meant } = over
      return plotAsWhole(ground, sourceOnSolid(solid, values, seed, density, meant), namingOf(wayOnSolid(values), seed, placed.id), over)
    },
  }
  return ground
}

function coverWithin(solid: Solid, { x, y, z, weight, count }: Sites): void {
  const { bounds } = solid
  const own = new Float64Array(3)
  for (let i = 0; i < count; i++) {
    if (x[i] < bounds[0] || x[i] > bounds[3] || y[i] < bounds[1] || y[i] > bounds[4] || z[i] < bounds[2] || z[i] > bounds[5]) continue
    toOwn(solid, x[i], y[i], z[i], own)
    if (solid.tree().inside(own[0], own[1], own[2])) weight[i] = 0
  }
}

/** The corners of a mesh with the mean direction of the faces around each. */
function corners(solid: Solid): Sites {
  const { positions: p, indices } = solid.shape
  const count = p.length / 3
  const sites = createSites(count)
  sites.count = count
  const normals = carryNormals(sites)
  const { matrix } = solid
  const cross = new Float64Array(3)
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    writeCross(p, a, b, c, cross)
    const [x, y, z] = cross
    for (const corner of [a / 3, b / 3, c / 3]) {
      normals.x[corner] += matrix[0] * x + matrix[1] * y + matrix[2] * z
      normals.y[corner] += matrix[3] * x + matrix[4] * y + matrix[5] * z
      normals.z[corner] += matrix[6] * x + matrix[7] * y + matrix[8] * z
    }
  }
  const place = new Float64Array(3)
  for (let i = 0; i < count; i++) {
    toWorld(solid, p[3 * i], p[3 * i + 1], p[3 * i + 2], place)
    sites.x[i] = place[0]
    sites.y[i] = place[1]
    sites.z[i] = place[2]
    sites.weight[i] = 1
    sites.addressLow[i] = i
    const length = Math.sqrt(normals.x[i] * normals.x[i] + normals.y[i] * normals.y[i] + normals.z[i] * normals.z[i]) || 1
    normals.x[i] /= length
    normals.y[i] /= length
    normals.z[i] /= length
  }
  return sites
}
