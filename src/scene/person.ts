import * as THREE from 'three'

/** Height of the person that stands for scale, m. */
export const PERSON_HEIGHT = 1.75

/** A plain figure of a person, feet on the origin, facing +Z: turned bodies one above the other. */
export function createPerson(): THREE.Group {
  const person = new THREE.Group()
  const coat = new THREE.MeshLambertMaterial({ color: 0xb5532a })
  const dark = new THREE.MeshLambertMaterial({ color: 0x3a3f45 })
  const skin = new THREE.MeshLambertMaterial({ color: 0xd9b08c })
  const add = (geometry: THREE.BufferGeometry, material: THREE.Material, x: number, y: number, tilt = 0) => {
    const mesh = new THREE.Mesh(geometry, material)
    mesh.position.set(x, y, 0)
    mesh.rotation.z = tilt
    mesh.castShadow = true
    person.add(mesh)
  }
  for (const side of [-1, 1]) {
    add(new THREE.CapsuleGeometry(0.078, 0.68, 3, 8), dark, 0.085 * side, 0.42)
    add(new THREE.SphereGeometry(0.075, 8, 6).scale(1, 0.6, 1.8).translate(0, 0, 0.05), dark, 0.085 * side, 0.045)
    add(new THREE.CapsuleGeometry(0.052, 0.52, 3, 8), coat, 0.215 * side, 1.12, 0.1 * side)
    add(new THREE.SphereGeometry(0.05, 8, 6), skin, 0.25 * side, 0.8)
  }
  // Chest and hips, a little flat.
  add(new THREE.CapsuleGeometry(0.175, 0.3, 3, 12).scale(1, 1, 0.7), coat, 0, 1.19)
  add(new THREE.CapsuleGeometry(0.155, 0.1, 3, 12).scale(1, 1, 0.75), coat, 0, 0.93)
  add(new THREE.CylinderGeometry(0.055, 0.06, 0.12, 8), skin, 0, 1.53)
  add(new THREE.SphereGeometry(0.105, 14, 12).scale(0.92, 1.15, 1), skin, 0, PERSON_HEIGHT - 0.121)
  return person
}
