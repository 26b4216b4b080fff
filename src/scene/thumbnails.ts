import * as THREE from 'three'
import { parseGlb } from './asset-forms.ts'
import { disposeDeep } from './dispose.ts'
import { SKY } from './materials.ts'
import { createPerson } from './person.ts'

const SIDE = 192

let studio: { renderer: THREE.WebGLRenderer; scene: THREE.Scene; camera: THREE.PerspectiveCamera } | undefined
let queue: Promise<unknown> = Promise.resolve()
const made = new Map<string, Promise<string>>()

function openStudio() {
  const renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true })
  renderer.setSize(SIDE, SIDE, false)
  renderer.toneMapping = THREE.ACESFilmicToneMapping
  const scene = new THREE.Scene()
  const sun = new THREE.DirectionalLight(SKY.sun, 3.2)
  sun.position.set(-2, 4, 3)
  scene.add(sun, new THREE.HemisphereLight(0xdfe8ee, 0x877d62, 1.7))
  return { renderer, scene, camera: new THREE.PerspectiveCamera(28, 1, 0.001, 1000) }
}

async function shoot(bytes: Uint8Array<ArrayBuffer>, turn: number, scale: boolean): Promise<string> {
  studio ??= openStudio()
  const { renderer, scene, camera } = studio
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
  const sphere = box.getBoundingSphere(new THREE.Sphere())
  const distance = (sphere.radius * 1.08) / Math.sin((camera.fov * Math.PI) / 360)
  camera.position
    .set(Math.sin(turn) * 0.9, 0.42, Math.cos(turn) * 0.9)
    .normalize()
    .multiplyScalar(distance)
    .add(sphere.center)
  camera.near = distance / 50
  camera.far = distance * 3
  camera.updateProjectionMatrix()
  camera.lookAt(sphere.center)
  renderer.render(scene, camera)
  scene.remove(model)
  if (person) {
    scene.remove(person)
    disposeDeep(person)
  }
  disposeDeep(model)
  return renderer.domElement.toDataURL('image/png')
}

/** A small picture of a GLB as a data URL, made once per `name`; with a person beside it for scale when asked. */
export function thumbnail(name: string, read: () => Promise<Uint8Array<ArrayBuffer>>, turn = 0.6, scale = false): Promise<string> {
  const key = `${name}/${turn.toFixed(2)}/${scale}`
  const found = made.get(key)
  if (found) return found
  // One at a time, and never in the way of the page.
  const next = queue.then(async () => {
    const bytes = await read()
    await new Promise((resolve) => setTimeout(resolve, 0))
    return shoot(bytes, turn, scale)
  })
  queue = next.catch(() => undefined)
  made.set(key, next)
  next.catch(() => made.delete(key))
  return next
}
