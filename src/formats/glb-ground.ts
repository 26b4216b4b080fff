import { groundColours } from '../core/ground/ground-colour.ts'
import type { Terrain } from '../core/ground/terrain.ts'
import { heightAt } from '../core/ground/terrain.ts'
import type { GlbBuilder } from './glb-builder.ts'
import { addColumn, addMesh, addTo, FLOAT, UNSIGNED_BYTE, UNSIGNED_INT } from './glb-builder.ts'

/** Most quads along a side of the terrain that goes out. */
const MOST_QUADS = 1024

/** Adds the terrain as a vertex-coloured mesh; returns its node. */
export function addTerrain(b: GlbBuilder, terrain: Terrain, waterLevel: number, name: string): number {
  const columns = Math.min(terrain.columns, MOST_QUADS + 1)
  const rows = Math.min(terrain.rows, MOST_QUADS + 1)
  const sample = (x: number, z: number) => heightAt(terrain, x, z)
  const positions = new Float32Array(3 * columns * rows)
  const normals = new Float32Array(3 * columns * rows)
  const stepX = terrain.sizeX / (columns - 1)
  const stepZ = terrain.sizeZ / (rows - 1)
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const at = 3 * (j * columns + i)
      const x = terrain.bounds.x0 + i * stepX
      const z = terrain.bounds.z0 + j * stepZ
      positions[at] = x
      positions[at + 1] = sample(x, z)
      positions[at + 2] = z
      const dx = (sample(x + stepX, z) - sample(x - stepX, z)) / (2 * stepX)
      const dz = (sample(x, z + stepZ) - sample(x, z - stepZ)) / (2 * stepZ)
      const inverse = 1 / Math.sqrt(1 + dx * dx + dz * dz)
      normals[at] = -dx * inverse
      normals[at + 1] = inverse
      normals[at + 2] = -dz * inverse
    }
  const rgb = groundColours(terrain, terrain.bounds, columns, rows, waterLevel)
  const rgba = new Uint8Array(4 * columns * rows)
  for (let i = 0; i < columns * rows; i++) {
    for (let c = 0; c < 3; c++) rgba[4 * i + c] = rgb[3 * i + c]
    rgba[4 * i + 3] = 255
  }
  const indices = new Uint32Array(6 * (columns - 1) * (rows - 1))
  let k = 0
  for (let j = 0; j + 1 < rows; j++)
    for (let i = 0; i + 1 < columns; i++) {
      const a = j * columns + i
      indices.set([a, a + columns, a + 1, a + 1, a + columns, a + columns + 1], k)
      k += 6
    }
  const mesh = addMesh(b, {
    name,
    primitives: [
      {
        attributes: {
          POSITION: addColumn(b, positions, { componentType: FLOAT, type: 'VEC3', use: 'vertices', bounds: true }),
          NORMAL: addColumn(b, normals, { componentType: FLOAT, type: 'VEC3', use: 'vertices' }),
          COLOR_0: addColumn(b, rgba, { componentType: UNSIGNED_BYTE, type: 'VEC4', use: 'vertices', normalized: true }),
        },
        indices: addColumn(b, indices, { componentType: UNSIGNED_INT, type: 'SCALAR', use: 'indices' }),
        material: addTo(b, 'materials', {
          name: 'Ground',
          pbrMetallicRoughness: { metallicFactor: 0, roughnessFactor: 0.95 },
        }),
      },
    ],
  })
  return addTo(b, 'nodes', { name, mesh })
}

/** Adds the water surface as a see-through quad; returns its node. */
export function addWater(b: GlbBuilder, terrain: Terrain, level: number): number {
  const { x0, z0, x1, z1 } = terrain.bounds
  const positions = Float32Array.of(x0, level, z0, x0, level, z1, x1, level, z0, x1, level, z1)
  const normals = Float32Array.of(0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0)
  const mesh = addMesh(b, {
    name: 'Water',
    primitives: [
      {
        attributes: {
          POSITION: addColumn(b, positions, { componentType: FLOAT, type: 'VEC3', use: 'vertices', bounds: true }),
          NORMAL: addColumn(b, normals, { componentType: FLOAT, type: 'VEC3', use: 'vertices' }),
        },
        indices: addColumn(b, Uint32Array.of(0, 1, 2, 2, 1, 3), {
          componentType: UNSIGNED_INT,
          type: 'SCALAR',
          use: 'indices',
        }),
        material: addTo(b, 'materials', {
          name: 'Water',
          alphaMode: 'BLEND',
          doubleSided: true,
          pbrMetallicRoughness: { baseColorFactor: [0.05, 0.1, 0.11, 0.75], metallicFactor: 0, roughnessFactor: 0.1 },
        }),
      },
    ],
  })
  return addTo(b, 'nodes', { name: 'Water', mesh })
}
