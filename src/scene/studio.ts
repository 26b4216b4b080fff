import * as THREE from 'three'
import { parseGlb } from './asset-forms.ts'
import { disposeDeep } from './dispose.ts'
import { SKY } from './materials.ts'
import { createPerson } from './person.ts'

/** Side of a small picture, px. */
export const STUDIO_SIDE = 192

/** What a small picture shows. */
export interface Pose {
  /** Where the eye stands around the model, rad. */
  readonly turn: number
  /** Whether a person stands beside it for scale. */
  readonly scale: boolean
}

/** Where models are drawn one by one: in a worker's canvas, or in one of the page. */
export interface Studio {
  /** Draws a GLB to the canvas. */
  shoot(bytes: Uint8Array<ArrayBuffer>, pose: Pose): Promise<void>
  /** Whether the graphics were taken away: another studio is wanted then. */
  isLost(): boolean
}

/** A studio that draws to a canvas; throws where it has no graphics. */
export function createStudio(canvas: HTMLCanvasElement | OffscreenCanvas): Studio {
  const renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true })
  renderer.setSize(STUDIO_SIDE, STUDIO_SIDE, false)
  renderer.toneMapping = THREE.ACESFilmicToneMapping
  const scene = new THREE.Scene()
  const sun = new THREE.DirectionalLight(SKY.sun, 3.2)
  sun.position.set(-2, 4, 3)
  scene.add(sun, new THREE.HemisphereLight(0xdfe8ee, 0x877d62, 1.7))
  const camera = new THREE.PerspectiveCamera(28, 1, 0.001, 1000)

  return {
    async shoot(bytes, { turn, scale }) {
      const model = await parseGlb(bytes)
      scene.add(model)
      const box = new THREE.Box3().setFromObject(model)
      const person = scale ? createPerson() : null
      if (person) {
        // Beside it, so that both are seen whole.
        person.position.set(box.max.x + 0.45, Math.min(0, box.min.y), (box.min.z + box.max.z) / 2)
        scene.add(person)
        box.expandByObject(person)
      }
      look(camera, box.getBoundingSphere(new THREE.Sphere()), turn)
      renderer.render(scene, camera)
      for (const one of [model, person]) {
        if (!one) continue
        scene.remove(one)
        disposeDeep(one)
      }
    },
    isLost: () => renderer.getContext().isContextLost(),
  }
}

/** Sets a camera so that a sphere fills what it sees, from a little above. */
function look(camera: THREE.PerspectiveCamera, { center, radius }: THREE.Sphere, turn: number): void {
  const distance = (radius * 1.08) / Math.sin((camera.fov * Math.PI) / 360)
  camera.position
    .set(Math.sin(turn) * 0.9, 0.42, Math.cos(turn) * 0.9)
    .normalize()
    .multiplyScalar(distance)
    .add(center)
  camera.near = distance / 50
  camera.far = distance * 3
  camera.updateProjectionMatrix()
  camera.lookAt(center)
}
