import * as THREE from 'three'
import { hilly, terrainOf } from '../testing/fields.ts'
import { pickTerrain } from '../core/grounds/pick.ts'
import { heightAt } from '../core/grounds/terrain.ts'
import type { Eye } from './view.ts'
import { createEye, inFrame, within } from './view.ts'

/** An element that is 800 × 500 px large and hears nothing. */
function frameOf(): HTMLElement {
  const none = () => undefined
  const root = { addEventListener: none, removeEventListener: none }
  return { clientWidth: 800, clientHeight: 500, style: {}, addEventListener: none, removeEventListener: none, getRootNode: () => root, ownerDocument: root } as unknown as HTMLElement
}

const hills = hilly(100, 101)
const level = terrainOf(() => 0, 100, 3)

function eyeAt(position: [number, number, number], target: [number, number, number], ground = hills): { eye: Eye; told: { changes: number; arrived: number } } {
  const told = { changes: 0, arrived: 0 }
  const camera = new THREE.PerspectiveCamera(42, 800 / 500, 0.1, 1000)
  const eye = createEye({ camera, frame: frameOf(), reducedMotion: true, onChange: () => told.changes++, onArrived: () => told.arrived++ })
  eye.setTerrain(ground)
  eye.flyTo({ position, target })
  eye.beforeFrame()
  return { eye, told }
}

describe('the eye on the meadow', () => {
  it('sees a place where its line of sight goes: through a pixel and back to the pixel', () => {
    const { eye } = eyeAt([10, 40, 60], [0, 0, 0])
    for (const [x, y] of [[400, 250], [10, 12], [790, 480], [123, 321]]) {
      const { origin, direction } = eye.sight(x, y)
      for (const far of [1, 37, 300]) {
        const at = eye.project(origin[0] + far * direction[0], origin[1] + far * direction[1], origin[2] + far * direction[2])
        expect(at?.[0]).toBeCloseTo(x, 3)
        expect(at?.[1]).toBeCloseTo(y, 3)
      }
      expect(Math.hypot(...direction)).toBeCloseTo(1, 6)
    }
    expect(eye.sight(0, 0).reach).toBe(600)
  })

  it('the opening of the picture is the camera’s: half of 42° from the middle to the upper edge', () => {
    const { eye } = eyeAt([0, 30, 60], [0, 0, 0])
    const [middle, top] = [eye.sight(400, 250).direction, eye.sight(400, 0).direction]
    const cosine = middle[0] * top[0] + middle[1] * top[1] + middle[2] * top[2]
    expect((Math.acos(cosine) * 180) / Math.PI).toBeCloseTo(21, 4)
  })

  it('places behind it, and beyond the frame, are not in the picture', () => {
    const { eye } = eyeAt([0, 10, 60], [0, 0, 0])
    expect(eye.project(0, 0, 0)).not.toBeNull()
    expect(eye.project(0, 20, 120)).toBeNull()
    expect(eye.project(200, 0, 0)).toBeNull()
  })

  it('never goes under the ground, nor under its rim beyond it', () => {
    for (const [x, z] of [[5, 5], [20, -30], [300, 0]] as const) {
      const { eye } = eyeAt([x, -50, z], [0, 0, 0])
      expect(eye.camera.position.y).toBeCloseTo(heightAt(hills, ...within(hills, x, z)) + 0.35, 5)
    }
  })

  it('steps: sideways and ahead by shares of the distance, about the target by degrees, nearer by a factor', () => {
    const { eye, told } = eyeAt([0, 30, 40], [0, 0, 0], level)
    const away = () => eye.camera.position.distanceTo(eye.target)
    const before = away()
    eye.step({ right: 0.1 })
    expect(eye.target.x).toBeCloseTo(5, 2)
    expect(eye.target.z).toBeCloseTo(0, 2)
    eye.step({ ahead: 0.1 })
    expect(eye.target.z).toBeCloseTo(-5, 2)
    expect(away()).toBeCloseTo(before, 2)
    eye.step({ turn: 90 })
    expect(eye.camera.position.x - eye.target.x).toBeCloseTo(40, 2)
    expect(eye.camera.position.z - eye.target.z).toBeCloseTo(0, 2)
    eye.step({ zoom: 0.5 })
    expect(away()).toBeCloseTo(before / 2, 2)
    // Not under the ground, not over the top, not nearer than it can focus.
    eye.step({ tip: 500 })
    expect(eye.camera.position.y).toBeGreaterThan(eye.target.y)
    eye.step({ tip: -500 })
    expect(eye.camera.position.y - eye.target.y).toBeLessThanOrEqual(away())
    for (let k = 0; k < 40; k++) eye.step({ zoom: 0.5 })
    expect(away()).toBeCloseTo(0.4, 2)
    for (let k = 0; k < 40; k++) eye.step({ zoom: 2 })
    expect(away()).toBeCloseTo(200, 2)
    expect(told.changes).toBeGreaterThan(80)
  })

  it('comes nearer to the ground that it looks over, though what it looked at floats above it or lies under it', () => {
    for (const [height, ahead] of [[40, 0], [-40, 0], [0, 2]]) {
      const ground = terrainOf((x, z) => 30 * Math.sin(x / 40) + 20 * Math.cos(z / 35), 400, 201)
      const { eye } = eyeAt([0, 160, 170], [0, height, 0], ground)
      for (let k = 0; k < 3; k++) eye.step({ ahead: ahead / 20 })
      for (let k = 0; k < 60; k++) {
        eye.step({ zoom: 0.88 })
        eye.beforeFrame()
      }
      const { origin, direction } = eye.sight(400, 250)
      const on = pickTerrain(ground, origin, direction, 100)
      expect(on && Math.hypot(on[0] - origin[0], on[1] - origin[1], on[2] - origin[2])).toBeLessThan(3)
    }
  })

  it('with reduced motion it is there at once; it comes nearer to a place by two fifths of the way left', () => {
    const { eye, told } = eyeAt([0, 30, 40], [0, 0, 0])
    expect(told.arrived).toBe(1)
    eye.approach(new THREE.Vector3(10, 2, 3))
    expect(eye.target.toArray()).toEqual([10, 2, 3])
    expect(eye.camera.position.toArray()).toEqual([10, 2 + 12, 3 + 16])
    eye.frameAll()
    const { position, target } = eye.view()
    expect(Math.hypot(position[0] - target[0], position[2] - target[2])).toBeGreaterThan(60)
    eye.beforeFrame()
    // The middle of the ground and the corner across from the eye are in the picture.
    for (const [x, z] of [[0, 0], [50, -50]]) expect(eye.project(x, heightAt(hills, x, z), z)).not.toBeNull()
  })

  it('a place of the picture is −1 to 1 to the right and up', () => {
    expect(inFrame(frameOf(), 0, 0)).toEqual([-1, 1])
    expect(inFrame(frameOf(), 800, 500)).toEqual([1, -1])
    expect(inFrame(frameOf(), 400, 250)).toEqual([0, 0])
  })
})
