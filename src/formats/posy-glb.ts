import type { Leaf } from '../core/posy/posy.ts'
import { addTo, endGlb, mergeAsset, startGlb } from './glb-builder.ts'

/**
 * A posy as a GLB: each of its models once, and a node for each place where it stands. `glbOf` gives the GLB of a blob.
 * Throws RangeError when it would be over 4 GiB.
 */
export async function posyGlb(leaves: readonly Leaf[], blobOf: (leaf: Leaf) => string, glbOf: (blob: string) => Promise<Uint8Array<ArrayBuffer>>): Promise<Uint8Array<ArrayBuffer>> {
  const b = startGlb()
  const meshes = new Map<string, number>()
  const nodes: number[] = []
  for (const leaf of leaves) {
    const blob = blobOf(leaf)
    const mesh = meshes.get(blob) ?? mergeAsset(b, await glbOf(blob))[0]
    meshes.set(blob, mesh)
    nodes.push(addTo(b, 'nodes', { name: leaf.asset.name, mesh, translation: [...leaf.place], rotation: [...leaf.turn], scale: [...leaf.size] }))
  }
  return endGlb(b, nodes, 'posyGlb')
}
