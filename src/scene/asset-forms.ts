import * as THREE from 'three'
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js'
import type { Asset } from '../core/meadow.ts'
import { disposeMaterial, disposeReplaced } from './dispose.ts'
import { displayMaterial, shadowMaterial } from './materials.ts'

/** One primitive of a form, ready to be drawn many times. */
export interface FormPart {
  readonly geometry: THREE.BufferGeometry
  readonly material: THREE.MeshLambertMaterial
  readonly shadow: THREE.MeshDepthMaterial
}

export interface AssetForm {
  readonly parts: readonly FormPart[]
  readonly triangles: number
}

/** An asset's full form and its lighter ones, lightest last. */
export interface AssetForms {
  readonly forms: readonly AssetForm[]
  /** Largest extent, m: what its size on the screen is judged by. */
  readonly extent: number
  dispose(): void
}

type ReadBlob = (hash: string) => Promise<Uint8Array<ArrayBuffer>>

/** Parses a GLB with three's loader. */
export async function parseGlb(bytes: Uint8Array<ArrayBuffer>): Promise<THREE.Group> {
  const gltf = await new GLTFLoader().parseAsync(bytes.slice().buffer, '')
  return gltf.scene
}

/** Loads all forms of an asset. */
export async function loadForms(asset: Asset, read: ReadBlob): Promise<AssetForms> {
  const forms: AssetForm[] = []
  for (const hash of [asset.blob, ...asset.standIns]) forms.push(formOf(await parseGlb(await read(hash))))
  return {
    forms,
    extent: Math.max(...asset.size),
    dispose() {
      for (const form of forms)
        for (const part of form.parts) {
          part.geometry.dispose()
          disposeMaterial(part.material)
          part.shadow.dispose()
        }
    },
  }
}

const WORLD = new THREE.Matrix4()

/** Makes a form of a parsed model, which is used up. */
export function formOf(scene: THREE.Group): AssetForm {
  const parts: FormPart[] = []
  let triangles = 0
  scene.updateMatrixWorld(true)
  scene.traverse((object) => {
    if (!(object instanceof THREE.Mesh)) return
    const geometry = object.geometry as THREE.BufferGeometry
    // Repaired models lie in the world's own frame already.
    if (!object.matrixWorld.equals(WORLD)) geometry.applyMatrix4(object.matrixWorld)
    const source = object.material as THREE.Material
    const material = displayMaterial(source, geometry.hasAttribute('color'))
    parts.push({ geometry, material, shadow: shadowMaterial(material) })
    disposeReplaced(source, material)
    triangles += (geometry.index?.count ?? geometry.getAttribute('position').count) / 3
  })
  return { parts, triangles }
}
