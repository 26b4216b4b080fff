import * as THREE from 'three'
import { assetOf, boxShape, growAll, hilly, rowsOf, solidOf, spreadOf, terrainOf } from '../../testing/fields.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import { heightAt } from '../grounds/terrain.ts'
import type { PatternBase, Planting } from '../meadow.ts'

/** Members of patterns that come down along ways of their own. */

const terrain = hilly(200, 201)
const fine = hilly(60, 601)
const flat = terrainOf(() => 0)
const assets = [assetOf('a', 0.05)]
/** A wall, turned, whose near face looks to the south-west. */
const wall = solidOf(boxShape(6, 4, 0.5), { id: 'wall', position: [10, 4, -8], turn: [0, 30, 0] })
const back = new THREE.Matrix4().makeRotationY(-Math.PI / 6).multiply(new THREE.Matrix4().makeTranslation(-10, -4, 8))
const up = (rotation: readonly number[]) => new THREE.Vector3(0, 1, 0).applyQuaternion(new THREE.Quaternion(...(rotation as [number, number, number, number])))

function pattern(kind: string, base: PatternBase, params: Planting['params'], grounds: string[]): Planting {
  return spreadOf({ seat: 'centre', ...params }, { kind, base, grounds })
}

describe('members that come down along a way of their own', () => {
  it('to a side, on the face of a wall, whole or a share of the way, square to it by share; those beside it stay', () => {
    // In front of the wall, along it, looking at it: its own frame turned by 30° against the clock.
    const dir = new THREE.Vector3(0, 0, -1).applyAxisAngle(new THREE.Vector3(0, 1, 0), Math.PI / 6)
    const along = new THREE.Vector3(1, 0, 0).applyAxisAngle(new THREE.Vector3(0, 1, 0), Math.PI / 6)
    const from = new THREE.Vector3(10, 2, -8).addScaledVector(dir, -9).addScaledVector(along, -8)
    const base: PatternBase = { host: TERRAIN_ID, place: [from.x, from.y, from.z], turn: [0, Math.sin(Math.PI / 12), 0, Math.cos(Math.PI / 12)], size: 1 }
    const compass = ((Math.atan2(dir.x, -dir.z) * 180) / Math.PI + 360) % 360
    const of = (params: Planting['params']) => rowsOf(growAll(pattern('row', base, { count1: 17, east1: 1, dropTo: 'side', dropCompass: compass, ...params }, ['wall']), flat, { assets, surroundings: { solids: [wall] } }))
    const whole = of({ follow: 1 })
    expect(whole.length).toBe(17)
    let met = 0
    for (const { x, y, z, rotation } of whole) {
      const own = new THREE.Vector3(x, y, z).applyMatrix4(back)
      expect(own.y).toBeCloseTo(-2, 3)
      if (Math.abs(own.x) < 5.9) {
        expect(own.z).toBeCloseTo(0.5, 3)
        expect(up(rotation).angleTo(dir.clone().negate())).toBeLessThan(1e-3)
        met++
      } else if (Math.abs(own.x) > 6.1) {
        expect(own.z).toBeCloseTo(9, 3)
        expect(up(rotation).y).toBeCloseTo(1, 6)
      }
    }
    expect(met).toBeGreaterThanOrEqual(11)
    for (const { x, y, z } of of({ land: 0.5 })) {
      const own = new THREE.Vector3(x, y, z).applyMatrix4(back)
      if (Math.abs(own.x) < 5.9) expect(own.z).toBeCloseTo((0.5 + 9) / 2, 3)
    }
    // From within the wall they come out on the side that they would have met.
    const inside: PatternBase = { ...base, place: [10, 4, -8] }
    for (const { x, y, z } of rowsOf(growAll(pattern('row', inside, { count1: 3, east1: 1, dropTo: 'side', dropCompass: compass }, ['wall']), flat, { assets, surroundings: { solids: [wall] } })))
      expect(new THREE.Vector3(x, y, z).applyMatrix4(back).z).toBeCloseTo(0.5, 3)
  })

  it('along its own down, on a hillside: by marching over the heights', () => {
    const tilt = new THREE.Quaternion().setFromEuler(new THREE.Euler(0.4, 0.3, -0.3))
    const base: PatternBase = { host: TERRAIN_ID, place: [4, 12, 6], turn: tilt.toArray(), size: 1 }
    const rows = rowsOf(growAll(pattern('ring', base, { count: 24, radius: 9, dropTo: 'own', follow: 1, lift: { from: 0, to: 0 } }, [TERRAIN_ID]), fine, { assets }))
    expect(rows.length).toBe(24)
    const down = new THREE.Vector3(0, -1, 0).applyQuaternion(tilt)
    const middle = new THREE.Vector3(4, 12 + heightAt(fine, 4, 6), 6)
    for (const { x, y, z, rotation } of rows) {
      expect(y).toBeCloseTo(heightAt(fine, x, z), 3)
      // Against its own down it lies on the ring again.
      const at = new THREE.Vector3(x, y, z)
      const above = at.clone().addScaledVector(down, -at.clone().sub(middle).dot(down)).sub(middle)
      expect(above.length()).toBeCloseTo(9, 2)
      // Nothing of the ground lies before it on its way.
      const own = middle.clone().add(above)
      const far = own.distanceTo(at)
      for (let s = 0.02; s < far - 0.05; s += 0.02) expect(own.y + down.y * s - heightAt(fine, own.x + down.x * s, own.z + down.z * s)).toBeGreaterThan(-1e-3)
      // Leaning by the angle between up and the ground, from the frame of the ring.
      const normal = new THREE.Vector3(heightAt(fine, x - 0.1, z) - heightAt(fine, x + 0.1, z), 0.2, heightAt(fine, x, z - 0.1) - heightAt(fine, x, z + 0.1)).normalize()
      const wanted = new THREE.Vector3(0, 1, 0).applyQuaternion(tilt).applyQuaternion(new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 1, 0), normal))
      expect(up(rotation).angleTo(wanted)).toBeLessThan(0.03)
    }
  })

  it('on either side of a sheet, whose own side looks the other way', () => {
    // Two triangles in the plane x = 5, which look to the east.
    const sheet = { positions: Float32Array.of(5, -20, -20, 5, 20, -20, 5, 20, 20, 5, -20, 20), indices: Uint32Array.of(0, 1, 2, 0, 2, 3) }
    const solid = solidOf({ ...boxShape(1, 1, 1), ...sheet }, { id: 'sheet' })
    for (const [from, compass, looks] of [[0, 90, -1], [9, 270, 1]] as const) {
      const base: PatternBase = { host: TERRAIN_ID, place: [from, 3, 0], turn: [0, 0, 0, 1], size: 1 }
      const rows = rowsOf(growAll(pattern('row', base, { count1: 3, east1: 0, south1: 1, dropTo: 'side', dropCompass: compass, follow: 1 }, ['sheet']), flat, { assets, surroundings: { solids: [solid] } }))
      expect(rows.length).toBe(3)
      for (const { x, rotation } of rows) {
        expect(x).toBeCloseTo(5, 4)
        expect(up(rotation).x).toBeCloseTo(looks, 4)
      }
    }
  })

  it('shifted along its own axes first', () => {
    const base: PatternBase = { host: TERRAIN_ID, place: [0, 5, 0], turn: [0, 0, 0, 1], size: 1 }
    const rows = rowsOf(growAll(pattern('row', base, { count1: 5, east1: 2, dropTo: 'side', dropSteep: 90, southBy: { from: 3, to: 3 } }, [TERRAIN_ID]), terrain, { assets }))
    expect(rows.length).toBe(5)
    for (const { x, y, z } of rows) expect([z, y, (x / 2) % 1]).toEqual([expect.closeTo(3, 4), expect.closeTo(heightAt(terrain, x, z), 3), expect.closeTo(0, 4)])
  })
})
