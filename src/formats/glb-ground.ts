import { groundColours } from '../core/grounds/ground-colour.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import { nodeGradient } from '../core/grounds/terrain.ts'
import type { GlbBuilder } from './glb-builder.ts'
import { addColumn, addMesh, addTo, FLOAT, UNSIGNED_BYTE, UNSIGNED_INT } from './glb-builder.ts'

/** Most places along a side that colours are worked out for; finer grids take the nearest. */
const MOST_COLOURS = 1025

/** Triangles of a grid of samples, with the normals of their nodes. */
interface GroundGrid {
  readonly positions: Float32Array<ArrayBuffer>
  readonly normals: Float32Array<ArrayBuffer>
  readonly indices: Uint32Array<ArrayBuffer>
}

/** The very triangles that things stand on: all samples of the terrain, without those that no triangle needs. */
function gridOf(terrain: Terrain): GroundGrid & { readonly nodes: Uint32Array } {
  const { columns, rows, heights, holes, bounds, stepX, stepZ } = terrain
  const numbers = new Int32Array(columns * rows).fill(holes ? -1 : 0)
  const there = (cell: number) => holes?.[cell] !== 1
  const nodes = new Uint32Array(columns * rows)
  let count = 0
  let quads = 0
  for (let j = 0; j + 1 < rows; j++)
    for (let i = 0; i + 1 < columns; i++) if (there(j * (columns - 1) + i)) quads++
  const number = (node: number) => {
    if (numbers[node] < 0) {
      numbers[node] = count
      nodes[count++] = node
    }
    return numbers[node]
  }
  if (!holes) {
    for (let node = 0; node < numbers.length; node++) numbers[node] = nodes[node] = node
    count = numbers.length
  }
  const indices = new Uint32Array(6 * quads)
  let k = 0
  for (let j = 0; j + 1 < rows; j++)
    for (let i = 0; i + 1 < columns; i++) {
      if (!there(j * (columns - 1) + i)) continue
      const at = j * columns + i
      const [nw, ne, sw, se] = [number(at), number(at + 1), number(at + columns), number(at + columns + 1)]
      indices[k++] = nw
      indices[k++] = sw
      indices[k++] = ne
      indices[k++] = ne
      indices[k++] = sw
      indices[k++] = se
    }
  const positions = new Float32Array(3 * count)
  const normals = new Float32Array(3 * count)
  for (let n = 0; n < count; n++) {
    const i = nodes[n] % columns
    const j = (nodes[n] - i) / columns
    positions[3 * n] = bounds.x0 + i * stepX
    positions[3 * n + 1] = heights[nodes[n]]
    positions[3 * n + 2] = bounds.z0 + j * stepZ
    const [dx, dz] = nodeGradient(terrain, i, j)
    const inverse = 1 / Math.sqrt(1 + dx * dx + dz * dz)
    normals[3 * n] = -dx * inverse
    normals[3 * n + 1] = inverse
    normals[3 * n + 2] = -dz * inverse
  }
  return { positions, normals, indices, nodes: nodes.subarray(0, count) }
}

/** Bytes of a terrain as {@link addTerrain} writes it. */
export function terrainBytes(columns: number, rows: number): number {
  return columns * rows * (12 + 12 + 4 + 24)
}

/** Adds the terrain as a vertex-coloured mesh; returns its node. */
export function addTerrain(b: GlbBuilder, terrain: Terrain, waterLevel: number, name: string): number {
  const { columns, rows } = terrain
  const { positions, normals, indices, nodes } = gridOf(terrain)
  const [wide, high] = [Math.min(columns, MOST_COLOURS), Math.min(rows, MOST_COLOURS)]
  const rgb = groundColours(terrain, terrain.bounds, wide, high, waterLevel)
  const rgba = new Uint8Array(4 * nodes.length).fill(255)
  for (let n = 0; n < nodes.length; n++) {
    const i = Math.round(((nodes[n] % columns) * (wide - 1)) / (columns - 1))
    const j = Math.round((Math.floor(nodes[n] / columns) * (high - 1)) / (rows - 1))
    for (let c = 0; c < 3; c++) rgba[4 * n + c] = rgb[3 * (j * wide + i) + c]
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
