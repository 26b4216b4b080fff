import { addColumn, addMesh, addTexture, addTo, endGlb, FLOAT, startGlb, UNSIGNED_BYTE, UNSIGNED_INT } from './glb-builder.ts'

/** A vertex-coloured part of an asset made by code. */
export interface BuiltPart {
  readonly name: string
  /** x y z, m. */
  readonly positions: Float32Array<ArrayBuffer>
  /** Null leaves them to who reads the model. */
  readonly normals: Float32Array<ArrayBuffer> | null
  /** Linear r g b a, 0…255. */
  readonly colours: Uint8Array<ArrayBuffer>
  readonly indices: Uint32Array<ArrayBuffer>
  readonly roughness: number
  readonly doubleSided: boolean
  /** Places on the texture, u v from its upper left, and the picture itself. */
  readonly uvs?: Float32Array<ArrayBuffer>
  readonly texture?: { readonly bytes: Uint8Array<ArrayBuffer>; readonly mime: string }
}

/** Writes parts as a GLB: one node, one mesh, a primitive per part. */
export function buildAssetGlb(name: string, parts: readonly BuiltPart[]): Uint8Array<ArrayBuffer> {
  const b = startGlb()
  const primitives = parts.map((part) => ({
    attributes: {
      POSITION: addColumn(b, part.positions, { componentType: FLOAT, type: 'VEC3', use: 'vertices', bounds: true }),
      ...(part.normals ? { NORMAL: addColumn(b, part.normals, { componentType: FLOAT, type: 'VEC3', use: 'vertices' }) } : {}),
      ...(part.uvs ? { TEXCOORD_0: addColumn(b, part.uvs, { componentType: FLOAT, type: 'VEC2', use: 'vertices' }) } : {}),
      COLOR_0: addColumn(b, part.colours, {
        componentType: UNSIGNED_BYTE,
        type: 'VEC4',
        use: 'vertices',
        normalized: true,
      }),
    },
    indices: addColumn(b, part.indices, { componentType: UNSIGNED_INT, type: 'SCALAR', use: 'indices' }),
    material: addTo(b, 'materials', {
      name: part.name,
      pbrMetallicRoughness: {
        metallicFactor: 0,
        roughnessFactor: part.roughness,
        ...(part.texture ? { baseColorTexture: { index: addTexture(b, part.texture) } } : {}),
      },
      ...(part.doubleSided ? { doubleSided: true } : {}),
    }),
  }))
  const mesh = addMesh(b, { name, primitives })
  const node = addTo(b, 'nodes', { name, mesh })
  return endGlb(b, [node], 'buildAssetGlb')
}
