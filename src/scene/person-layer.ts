import * as THREE from 'three'
import { disposeDeep } from './dispose.ts'
import { createPerson } from './person.ts'

/** A person of 1.75 m, for scale. */
export interface PersonLayer {
  readonly group: THREE.Group
  /** Whether somebody stands there. */
  stands(): boolean
  /** Stands a person at a place, looking towards another. */
  stand(at: { readonly x: number; readonly y: number; readonly z: number }, towards: THREE.Vector3): void
  leave(): void
  dispose(): void
}

export function createPersonLayer(): PersonLayer {
  const group = new THREE.Group()
  let person: THREE.Group | null = null
  function leave(): void {
    if (!person) return
    group.remove(person)
    disposeDeep(person)
    person = null
  }
  return {
    group,
    stands: () => person !== null,
    stand({ x, y, z }, towards) {
      leave()
      person = createPerson()
      person.position.set(x, y, z)
      person.lookAt(towards.x, y, towards.z)
      group.add(person)
    },
    leave,
    dispose: leave,
  }
}
