import * as THREE from 'three'
import { SKY } from './materials.ts'

const WHOLE_SHADOW = 'return mix( 1.0, shadow, shadowIntensity );'
const FADING_SHADOW = 'return mix( 1.0, shadow, shadowIntensity * ( 1.0 - smoothstep( 0.72, 1.0, 2.0 * length( shadowCoord.xy - 0.5 ) ) ) );'

// The map covers a square, whose border would show where shadows stop: they fade out before it, in a circle.
THREE.ShaderChunk.shadowmap_pars_fragment = THREE.ShaderChunk.shadowmap_pars_fragment.replaceAll(WHOLE_SHADOW, FADING_SHADOW)

/** The sun, with its shadow map; `aimSun` says what the map covers. */
export function createSun(): THREE.DirectionalLight {
  const sun = new THREE.DirectionalLight(SKY.sun, 3.9)
  sun.castShadow = true
  sun.shadow.mapSize.set(2048, 2048)
  sun.shadow.bias = -0.0004
  sun.shadow.normalBias = 0.06
  return sun
}

/** What the sky and the ground throw back. */
export function createSkyLight(): THREE.HemisphereLight {
  return new THREE.HemisphereLight(0xcfe0f0, 0x857a58, 1.9)
}

/**
 * Has the shadow map cover what is near: a square around the place looked at, as wide as the
 * distance asks, at most about the ground's extent (m).
 */
export function aimSun(sun: THREE.DirectionalLight, camera: THREE.Camera, target: THREE.Vector3, extent: number): void {
  const reach = Math.min(Math.max(18, camera.position.distanceTo(target) * 0.9), extent * 0.6)
  const ahead = new THREE.Vector3().subVectors(target, camera.position).setY(0)
  const length = ahead.length()
  const centre = new THREE.Vector3(camera.position.x, target.y, camera.position.z)
  if (length > 0) centre.addScaledVector(ahead, Math.min(1, (0.75 * reach) / length))
  sun.target.position.copy(centre)
  sun.position.copy(centre).addScaledVector(SKY.toSun, 3 * reach + 100)
  const frame = sun.shadow.camera
  frame.left = frame.bottom = -reach
  frame.right = frame.top = reach
  frame.near = 1
  frame.far = 6 * reach + 200
  frame.updateProjectionMatrix()
  sun.target.updateMatrixWorld()
  sun.updateMatrixWorld()
}
