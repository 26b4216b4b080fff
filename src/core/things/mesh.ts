import { hashValue } from '../content-hash.ts'
import { bytesToShape, MOST_TRIANGLES } from '../grounds/mesh-shape.ts'
import type { MeshShape } from '../grounds/mesh-shape.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import type { Solid } from '../grounds/solid.ts'
import { createSolid } from '../grounds/solid.ts'
import { LIMITS } from '../limits.ts'
import type { PlacedMesh } from '../meadow.ts'
import { defineThing, meets } from './define.ts'

// One shape for the same bytes, so that its tree is built once.
const shapes = new WeakMap<Uint8Array, MeshShape>()

function shapeOf({ shape: blob }: PlacedMesh, bytes: Uint8Array<ArrayBuffer>): MeshShape {
  const found = shapes.get(bytes)
  if (found) return found
  const shape = bytesToShape(bytes)
  if (!shape) throw new RangeError(`the shape ${blob.slice(0, 12)}… is damaged`)
  shapes.set(bytes, shape)
  return shape
}

/** Meshes that stand in the meadow. */
export const MESH = defineThing<PlacedMesh, Solid>({
  kind: 'mesh',
  list: 'meshes',
  one: 'mesh',
  many: 'meshes',
  most: LIMITS.meshes,
  /** Among the grounds of a planting this is the terrain. */
  taken: [TERRAIN_ID],
  fields: {
    role: { type: 'one-of', options: ['ground', 'obstacle', 'scenery'] },
    blob: { type: 'blob' },
    shape: { type: 'blob' },
    triangles: { type: 'whole', min: 1, max: MOST_TRIANGLES },
    visible: { type: 'flag' },
    locked: { type: 'flag' },
    position: { type: 'vector' },
    turn: { type: 'vector' },
    size: { type: 'size', max: LIMITS.meshSize },
  },
  references: [{ to: 'mesh', word: 'a mesh', is: () => true }],
  blobs: ({ blob, shape }) => [blob, shape],
  grownBlobs: ({ shape }) => [shape],
  bare: (mesh) => ({ ...mesh, name: '', role: 'ground', visible: true, locked: false }),
  long: false,
  ready: (placed, { bytes, treeOf }) => createSolid(placed, shapeOf(placed, bytes(placed.shape)), treeOf),
  extent: ({ bounds }) => ({ x0: bounds[0], z0: bounds[2], x1: bounds[3], z1: bounds[5] }),
  near: (mesh, rect, reach, extent) => (extent === null || meets(rect, reach, extent) ? hashValue(mesh) : ''),
})
