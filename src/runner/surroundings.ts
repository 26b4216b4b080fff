import type { MeshShape } from '../core/grounds/mesh-shape.ts'
import { bytesToShape } from '../core/grounds/mesh-shape.ts'
import { treeOf } from '../core/grounds/mesh-tree.ts'
import { createSolid } from '../core/grounds/solid.ts'
import type { Surroundings } from '../core/surroundings.ts'
import { ProblemError } from '../document/problem.ts'
import type { SurroundingsData } from './protocol.ts'
import type { TaskContext } from './tasks.ts'

// One shape for the same bytes, so that its tree is built once.
const shapes = new WeakMap<Uint8Array, MeshShape>()

/** Puts the large things that were shared with this thread in their places. */
export function resolveSurroundings(data: SurroundingsData, context: Pick<TaskContext, 'terrain' | 'bytes' | 'outline'>): Surroundings {
  return {
    terrain: context.terrain(data.terrain),
    waterLevel: data.waterLevel,
    outlines: data.outlines.map((name) => context.outline(name)),
    beacons: data.beacons,
    views: data.views,
    images: data.images.map((placed) => ({ placed, pixels: context.bytes(placed.blob) })),
    solids: data.meshes.map((placed) => createSolid(placed, shapeOf(placed.name, context.bytes(placed.shape)), treeOf)),
  }
}

function shapeOf(name: string, bytes: Uint8Array<ArrayBuffer>): MeshShape {
  const found = shapes.get(bytes)
  if (found) return found
  const shape = bytesToShape(bytes)
  if (!shape) throw new ProblemError(`The mesh “${name}” is damaged; remove it and bring its file in again.`)
  shapes.set(bytes, shape)
  return shape
}
