import { shapeToBytes, weldShape } from '../core/grounds/mesh-shape.ts'
import type { PlacedMesh } from '../core/meadow.ts'
import type { BuiltPart } from '../formats/asset-build.ts'
import { buildAssetGlb } from '../formats/asset-build.ts'

/** A mesh made by code, and where it stands. */
export interface DemoMesh extends Pick<PlacedMesh, 'id' | 'name' | 'role' | 'position' | 'turn' | 'size'> {
  build(): BuiltPart[]
}

/** Meshes with their blobs stored through `keep`. */
export async function keepMeshes(made: readonly DemoMesh[], keep: (bytes: Uint8Array<ArrayBuffer>) => Promise<string>): Promise<PlacedMesh[]> {
  const meshes: PlacedMesh[] = []
  for (const { build, ...mesh } of made) {
    const parts = build()
    const welded = weldShape(cornersOf(parts))
    meshes.push({
      ...mesh,
      blob: await keep(buildAssetGlb(mesh.name, parts)),
      shape: await keep(shapeToBytes(welded)),
      triangles: welded.indices.length / 3,
      visible: true,
      locked: false,
    })
  }
  return meshes
}

function cornersOf(parts: readonly BuiltPart[]): number[] {
  return parts.flatMap(({ positions, indices }) => Array.from(indices, (i) => [positions[3 * i], positions[3 * i + 1], positions[3 * i + 2]]).flat())
}
