import { createSites } from '../columns.ts'
import { writeCross } from '../grounds/mesh-shape.ts'
import type { Solid } from '../grounds/solid.ts'
import { toWorld } from '../grounds/solid.ts'
import type { ConditionUse, Planting } from '../meadow.ts'
import type { Around, Surroundings } from '../surroundings.ts'
import { prepareHabitat } from '../stages/habitat.ts'

/** The conditions to be shown: one of a planting's, or all that are switched on, in their combination. */
function shown(planting: Planting, use: string | null): Pick<Planting, 'habitat' | 'combine' | 'seed'> {
  if (use === null) return planting
  // One that is switched off is shown all the same: it was asked for.
  const one = planting.habitat.filter(({ id }) => id === use).map((found): ConditionUse => ({ ...found, on: true }))
  return { habitat: one, combine: 'all', seed: planting.seed }
}

/** Weights 0…255 of the conditions over a lattice of `side` × `side` cells of the terrain, row by row from the north. */
export function tintTerrain(planting: Planting, use: string | null, surroundings: Surroundings, around: Around, side: number): Uint8Array<ArrayBuffer> {
  const { bounds, sizeX, sizeZ } = surroundings.terrain
  const sites = createSites(side * side)
  sites.count = side * side
  for (let i = 0; i < sites.count; i++) {
    sites.x[i] = bounds.x0 + (((i % side) + 0.5) / side) * sizeX
    sites.z[i] = bounds.z0 + ((Math.floor(i / side) + 0.5) / side) * sizeZ
    sites.weight[i] = 1
    sites.addressLow[i] = i
  }
  prepareHabitat(shown(planting, use), surroundings)(sites, around)
  return bytesOf(sites, side * side)
}

/** The same at every corner of a mesh, with the mean direction of the faces around it. */
export function tintMesh(planting: Planting, use: string | null, surroundings: Surroundings, around: Around, solid: Solid): Uint8Array<ArrayBuffer> {
  const { positions: p, indices } = solid.shape
  const count = p.length / 3
  const sites = createSites(count)
  sites.count = count
  const normals = { x: new Float64Array(count), y: new Float64Array(count), z: new Float64Array(count) }
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
  const out = new Float64Array(3)
  for (let i = 0; i < count; i++) {
    toWorld(solid, p[3 * i], p[3 * i + 1], p[3 * i + 2], out)
    sites.x[i] = out[0]
    sites.y[i] = out[1]
    sites.z[i] = out[2]
    sites.weight[i] = 1
    sites.addressLow[i] = i
    const length = Math.sqrt(normals.x[i] * normals.x[i] + normals.y[i] * normals.y[i] + normals.z[i] * normals.z[i]) || 1
    normals.x[i] /= length
    normals.y[i] /= length
    normals.z[i] /= length
  }
  sites.normals = normals
  prepareHabitat(shown(planting, use), surroundings)(sites, around)
  return bytesOf(sites, count)
}

function bytesOf({ count, addressLow, weight }: ReturnType<typeof createSites>, all: number): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(all)
  for (let i = 0; i < count; i++) bytes[addressLow[i]] = Math.floor(255 * weight[i] + 0.5)
  return bytes
}
