import * as THREE from 'three'
import { aimSun, createSun } from './sun.ts'

describe('the sun', () => {
  it('fades its shadows out before the border of their map, in the words of this version of three', () => {
    const chunk = THREE.ShaderChunk.shadowmap_pars_fragment
    expect(chunk.match(/2\.0 \* length\( shadowCoord\.xy - 0\.5 \)/g)?.length).toBeGreaterThanOrEqual(2)
    expect(chunk).not.toContain('return mix( 1.0, shadow, shadowIntensity );')
  })

  it('has its map cover what is near the eye and what is looked at', () => {
    const sun = createSun()
    const camera = new THREE.PerspectiveCamera()
    camera.position.set(0, 12, 40)
    aimSun(sun, camera, new THREE.Vector3(0, 0, 0), 500)
    const { left, right } = sun.shadow.camera
    // The faded circle reaches from the eye's own place to beyond half the way.
    const middle = sun.target.position
    expect(right - left).toBeGreaterThan(60)
    expect(Math.hypot(middle.x - 0, middle.z - 40)).toBeLessThan(0.76 * right)
  })
})
