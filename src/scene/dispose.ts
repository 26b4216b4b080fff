import * as THREE from 'three'

/** Every texture that a material names, its own and those of its shader. */
export function texturesOf(material: THREE.Material): THREE.Texture[] {
  const uniforms = material instanceof THREE.ShaderMaterial ? Object.values(material.uniforms).map(({ value }) => value as unknown) : []
  return [...new Set([...(Object.values(material) as unknown[]), ...uniforms])].filter((value): value is THREE.Texture => value instanceof THREE.Texture)
}

/** Frees a material with all its textures. */
export function disposeMaterial(material: THREE.Material): void {
  for (const texture of texturesOf(material)) texture.dispose()
  material.dispose()
}

/** Frees a material that another took the place of, and those of its textures that the other does not use. */
export function disposeReplaced(material: THREE.Material, by: THREE.Material): void {
  const kept = new Set(texturesOf(by))
  for (const texture of texturesOf(material)) if (!kept.has(texture)) texture.dispose()
  material.dispose()
}

/** Frees what an object and all below it hold on the graphics card: geometries, materials, textures. */
export function disposeDeep(object: THREE.Object3D): void {
  object.traverse((one) => {
    if (!(one instanceof THREE.Mesh)) return
    const { geometry, material } = one as THREE.Mesh
    geometry.dispose()
    for (const each of [material].flat()) disposeMaterial(each)
  })
}
