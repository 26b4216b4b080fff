import type { Document, Mesh, Node, Primitive } from '@gltf-transform/core'
import {
  EXTMeshoptCompression,
  EXTTextureWebP,
  KHRDracoMeshCompression,
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSheen,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  KHRTextureTransform,
} from '@gltf-transform/extensions'

/** Compressions are undone when a model is read and are not written again. */
export const COMPRESSIONS = [KHRDracoMeshCompression, EXTMeshoptCompression]

/** All that models may use. */
export const EXTENSIONS = [
  ...COMPRESSIONS,
  EXTTextureWebP,
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSheen,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  KHRTextureTransform,
]

/** All triangle primitives below the scene, with their world matrices. */
export function* placed(document: Document): Generator<{ primitive: Primitive; matrix: number[]; mesh: Mesh }> {
  const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0]
  const nodes: Node[] = []
  scene?.traverse((node) => nodes.push(node))
  for (const node of nodes) {
    const mesh = node.getMesh()
    if (!mesh) continue
    for (const primitive of mesh.listPrimitives())
      if (primitive.getMode() === 4) yield { primitive, matrix: node.getWorldMatrix(), mesh }
  }
}
