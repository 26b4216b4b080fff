import { readFileSync } from 'node:fs'
import type { MeshShape } from '../core/grounds/mesh-shape.ts'
import { weldShape } from '../core/grounds/mesh-shape.ts'
import type { Solid } from '../core/grounds/solid.ts'
import { toWorld } from '../core/grounds/solid.ts'
import { readModel } from '../formats/asset-import.ts'
import { repairModel } from '../formats/asset-repair.ts'

/** The shape of a model among the fixtures. */
export async function shapeOfFile(name: string): Promise<MeshShape> {
  const model = await readModel(new Uint8Array(readFileSync(`src/testing/fixtures/${name}`)), name)
  return weldShape((await repairModel(model, { up: 'y', scale: 1, pivot: 'keep', flip: false, tint: '#ffffff' }, name)).corners)
}

/** Corners of all triangles of a solid in the world. */
export function trianglesOf(solid: Solid): number[][][] {
  const { positions, indices } = solid.shape
  const out = new Float64Array(3)
  return Array.from({ length: indices.length / 3 }, (_, t) =>
    [0, 1, 2].map((c) => {
      const i = 3 * indices[3 * t + c]
      toWorld(solid, positions[i], positions[i + 1], positions[i + 2], out)
      return [...out]
    }),
  )
}
