import * as THREE from 'three'
import { OrbitControls } from 'three/addons/controls/OrbitControls.js'
import type { Sight } from '../core/grounds/ground.ts'
import { pickTerrain } from '../core/grounds/pick.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import { heightAt } from '../core/grounds/terrain.ts'
import type { View } from '../core/meadow.ts'

/** Steps by keyboard: sideways and forward in shares of the distance, turns in degrees, zoom as a factor. */
export interface ViewStep {
  readonly right?: number
  readonly ahead?: number
  readonly turn?: number
  readonly tip?: number
  readonly zoom?: number
}

/** The eye on the meadow: where it stands, where it looks, and how it gets there. */
export interface Eye {
  readonly camera: THREE.PerspectiveCamera
  /** What is looked at. */
  readonly target: THREE.Vector3
  /** Whether the pointer moves it. */
  setFree(free: boolean): void
  /** Fits it to a ground. */
  setTerrain(terrain: Terrain): void
  /** Goes on with a flight and keeps above the ground, before a frame. */
  beforeFrame(): void
  view(): Pick<View, 'position' | 'target'>
  flyTo(view: Pick<View, 'position' | 'target'>): void
  /** Flies nearer to a place. */
  approach(place: THREE.Vector3): void
  frameAll(): void
  step(move: ViewStep): void
  /** The line of sight through a place of the picture, px from its top left. */
  sight(x: number, y: number): Sight
  /** Where a place is seen, px from the top left; null when it is behind the eye or off the picture. */
  project(x: number, y: number, z: number): readonly [number, number] | null
  dispose(): void
}

interface EyeOptions {
  readonly camera: THREE.PerspectiveCamera
  /** The element that takes the pointer, as large as the picture. */
  readonly frame: HTMLElement
  readonly reducedMotion: boolean
  /** It has moved. */
  readonly onChange: () => void
  /** It has got where it was to get, at once. */
  readonly onArrived: () => void
}

const FLIGHT = 550

export function createEye({ camera, frame, reducedMotion, onChange, onArrived }: EyeOptions): Eye {
  const controls = new OrbitControls(camera, frame)
  controls.enableDamping = false
  controls.zoomToCursor = true
  controls.maxPolarAngle = Math.PI * 0.495
  controls.mouseButtons = { LEFT: THREE.MOUSE.ROTATE, MIDDLE: THREE.MOUSE.DOLLY, RIGHT: THREE.MOUSE.PAN }
  controls.addEventListener('change', onChange)
  let terrain: Terrain | null = null
  let flight: { readonly from: View['position'][]; readonly to: View['position'][]; readonly start: number } | null = null

  function advance(): void {
    if (!flight) return
    const { from, to, start } = flight
    const t = Math.min(1, (performance.now() - start) / FLIGHT)
    const eased = t * t * (3 - 2 * t)
    const at = (k: number) => new THREE.Vector3(...from[k]).lerp(new THREE.Vector3(...to[k]), eased)
    camera.position.copy(at(0))
    controls.target.copy(at(1))
    camera.lookAt(controls.target)
    if (t >= 1) flight = null
    onChange()
  }

  function keepAboveGround(): void {
    if (!terrain) return
    const { position } = camera
    const [x, z] = within(terrain, position.x, position.z)
    position.y = Math.max(position.y, heightAt(terrain, x, z) + 0.35)
  }

  /** Looks at the ground that is seen in the middle of the picture, so that what comes nearer or is turned about is on it. */
  function lookAtGround(): void {
    if (!terrain) return
    const way = controls.target.clone().sub(camera.position).normalize()
    const on = pickTerrain(terrain, camera.position.toArray(), way.toArray(), camera.far)
    if (on) controls.target.set(...on)
  }

  const eye: Eye = {
    camera,
    target: controls.target,
    setFree: (free) => void (controls.enabled = free),
    setTerrain(next) {
      terrain = next
      const extent = Math.max(next.sizeX, next.sizeZ)
      camera.near = Math.max(0.1, extent / 8000)
      camera.far = extent * 6
      camera.updateProjectionMatrix()
      controls.maxDistance = extent * 2
      controls.minDistance = 0.4
    },
    beforeFrame() {
      advance()
      keepAboveGround()
      camera.lookAt(controls.target)
      camera.updateMatrixWorld()
    },
    view: () => ({ position: camera.position.toArray(), target: controls.target.toArray() }),
    flyTo({ position, target }) {
      if (reducedMotion) {
        camera.position.set(...position)
        controls.target.set(...target)
        onArrived()
        return
      }
      flight = { from: [camera.position.toArray(), controls.target.toArray()], to: [position, target], start: performance.now() }
      onChange()
    },
    approach(place) {
      const offset = camera.position.clone().sub(controls.target).multiplyScalar(0.4)
      eye.flyTo({ position: place.clone().add(offset).toArray(), target: place.toArray() })
    },
    frameAll() {
      if (!terrain) return
      const extent = Math.max(terrain.sizeX, terrain.sizeZ)
      const middle = 0.5 * (terrain.lowest + terrain.highest)
      eye.flyTo({ position: [-0.32 * extent, middle + 0.36 * extent, 0.72 * extent], target: [0, middle, 0.04 * extent] })
    },
    step({ right = 0, ahead = 0, turn = 0, tip = 0, zoom = 1 }) {
      lookAtGround()
      const offset = camera.position.clone().sub(controls.target)
      const spherical = new THREE.Spherical().setFromVector3(offset)
      const forward = new THREE.Vector3(-offset.x, 0, -offset.z).normalize()
      const sideways = new THREE.Vector3(-forward.z, 0, forward.x)
      const stride = spherical.radius
      const shift = forward.multiplyScalar(ahead * stride).add(sideways.multiplyScalar(right * stride))
      spherical.theta += (turn * Math.PI) / 180
      spherical.phi = Math.min(controls.maxPolarAngle, Math.max(0.02, spherical.phi + (tip * Math.PI) / 180))
      spherical.radius = Math.min(controls.maxDistance, Math.max(controls.minDistance, spherical.radius * zoom))
      controls.target.add(shift)
      camera.position.copy(controls.target).add(new THREE.Vector3().setFromSpherical(spherical))
      onChange()
    },
    sight(x, y) {
      const caster = new THREE.Raycaster()
      caster.setFromCamera(new THREE.Vector2(...inFrame(frame, x, y)), camera)
      return { origin: caster.ray.origin.toArray(), direction: caster.ray.direction.toArray(), reach: camera.far }
    },
    project(x, y, z) {
      const at = new THREE.Vector3(x, y, z).project(camera)
      if (at.z > 1 || Math.abs(at.x) > 1 || Math.abs(at.y) > 1) return null
      return [0.5 * (at.x + 1) * frame.clientWidth, 0.5 * (1 - at.y) * frame.clientHeight]
    },
    dispose: () => controls.dispose(),
  }
  return eye
}

/** A place of the picture, px from its top left, as −1…1 to the right and up. */
export function inFrame(frame: HTMLElement, x: number, y: number): [number, number] {
  return [(x / frame.clientWidth) * 2 - 1, 1 - (y / frame.clientHeight) * 2]
}

/** The plan position, moved onto the ground where it lies beyond. */
export function within({ bounds: { x0, x1, z0, z1 } }: Terrain, x: number, z: number): [number, number] {
  return [Math.min(x1, Math.max(x0, x)), Math.min(z1, Math.max(z0, z))]
}
