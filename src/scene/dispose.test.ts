import * as THREE from 'three'
import { formOf } from './asset-forms.ts'
import { disposeDeep, disposeReplaced, texturesOf } from './dispose.ts'
import { groundMaterial } from './materials.ts'

/** Counts what is freed of a list of things. */
function watched<T extends THREE.Texture | THREE.Material | THREE.BufferGeometry>(things: readonly T[]): () => number[] {
  const counts = things.map(() => 0)
  things.forEach((thing, k) => (thing as unknown as THREE.EventDispatcher<{ dispose: object }>).addEventListener('dispose', () => counts[k]++))
  return () => counts
}

const MAPS = ['map', 'normalMap', 'emissiveMap', 'roughnessMap', 'metalnessMap', 'aoMap'] as const

function standard() {
  const textures = MAPS.map(() => new THREE.Texture())
  const material = new THREE.MeshStandardMaterial(Object.fromEntries(MAPS.map((name, k) => [name, textures[k]])))
  const geometry = new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(new Float32Array(9), 3))
  return { textures, material, geometry, mesh: new THREE.Mesh(geometry, material) }
}

describe('what is made for the graphics card', () => {
  it('is freed whole: geometries, materials and every map, of all that hangs below, once', () => {
    const [one, two] = [standard(), standard()]
    const group = new THREE.Group()
    one.mesh.add(two.mesh)
    group.add(one.mesh)
    const freed = watched([...one.textures, ...two.textures])
    const others = watched<THREE.Material | THREE.BufferGeometry>([one.material, two.material, one.geometry, two.geometry])
    disposeDeep(group)
    expect(freed()).toEqual(Array.from({ length: 12 }, () => 1))
    expect(others()).toEqual([1, 1, 1, 1])
  })

  it('counts the maps of a shader', () => {
    const texture = new THREE.Texture()
    expect(texturesOf(new THREE.ShaderMaterial({ uniforms: { specks: { value: texture }, level: { value: 3 }, none: { value: null } } }))).toEqual([texture])
  })

  it('is kept where the other material uses it too', () => {
    const { textures, material } = standard()
    const freed = watched(textures)
    disposeReplaced(material, new THREE.MeshLambertMaterial({ map: textures[0] }))
    expect(freed()).toEqual([0, 1, 1, 1, 1, 1])
  })

  it('of a form: the maps that the picture does not use at once, the others with it', () => {
    const { textures, mesh } = standard()
    const freed = watched(textures)
    const form = formOf(new THREE.Group().add(mesh))
    expect(freed()).toEqual([0, 0, 0, 1, 1, 1])
    expect(form.parts.length).toBe(1)
    for (const part of form.parts) disposeDeep(new THREE.Mesh(part.geometry, part.material))
    expect(freed()).toEqual([1, 1, 1, 1, 1, 1])
  })

  it('of the ground: each map that took the place of another, and all at the end', () => {
    const made: THREE.Texture[] = []
    const freed: THREE.Texture[] = []
    const ground = groundMaterial()
    const shader = { uniforms: {} as Record<string, { value: unknown }>, vertexShader: '', fragmentShader: '' }
    ground.material.onBeforeCompile(shader as never, undefined as never)
    const note = () => {
      for (const { value } of Object.values(shader.uniforms))
        if (value instanceof THREE.Texture && !made.includes(value)) {
          made.push(value)
          value.addEventListener('dispose', () => freed.push(value))
        }
    }
    note()
    for (let k = 0; k < 3; k++) {
      ground.setTint({ side: 2, weights: new Uint8Array(4), sizeX: 1, sizeZ: 1 })
      ground.setMark({ side: 2, weights: new Uint8Array(4) }, '#112233', 1, 1)
      ground.setCover({ side: 2, bytes: new Uint8Array(16) }, 1, 1)
      note()
    }
    ground.setTint(null)
    // All covers but the last, all tints; all marks but the last.
    expect(freed.length).toBe(3 + 3 + 2)
    ground.dispose()
    expect(new Set(freed).size).toBe(made.length)
  })
})
