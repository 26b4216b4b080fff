import * as THREE from 'three'
import { createTerrain, heightAt, inHole } from '../core/grounds/terrain.ts'
import { hilly } from '../testing/fields.ts'
import { createTerrainPicture } from './terrain-tree.ts'

const terrain = hilly(400, 513)
const odd = hilly(300, 201)

/** The picture of the hills, built up in full, with its pieces that are shown. */
function seenFrom(x: number, y: number, z: number, ground = terrain) {
  const picture = createTerrainPicture(ground, 0, new THREE.MeshLambertMaterial())
  const camera = new THREE.PerspectiveCamera(60, 1.6, 0.1, 5000)
  camera.position.set(x, y, z)
  camera.lookAt(0, 0, 0)
  camera.updateMatrixWorld()
  let turns = 0
  while (picture.update(camera, 2.2, true)) if (++turns > 5000) throw new Error('never finished')
  const pieces = picture.group.children.filter(({ visible }) => visible) as THREE.Mesh[]
  return { picture, camera, pieces }
}

const boxOf = (mesh: THREE.Mesh) => {
  const box = new THREE.Box3().setFromBufferAttribute(mesh.geometry.getAttribute('position') as THREE.BufferAttribute)
  return { x0: box.min.x, x1: box.max.x, z0: box.min.z, z1: box.max.z }
}

describe('the ground as a tree of grids', () => {
  it('covers what is seen without a gap or a double: any place lies in one piece', () => {
    const { pieces } = seenFrom(0, 900, 1)
    const boxes = pieces.map(boxOf)
    for (let k = 0; k < 400; k++) {
      const [x, z] = [399 * (((k * 0.7548776662) % 1) - 0.5), 399 * (((k * 0.569840291) % 1) - 0.5)]
      expect(boxes.filter(({ x0, x1, z0, z1 }) => x >= x0 && x < x1 && z >= z0 && z < z1).length).toBe(1)
    }
  })

  it('is as fine as the samples near by, coarse far off, and far fewer triangles than the samples would take', () => {
    const { picture, pieces } = seenFrom(150, 14, 150)
    const sizes = pieces.map(boxOf).map(({ x0, x1, z0, z1 }) => ({
      side: x1 - x0,
      away: Math.hypot(Math.max(x0 - 150, 0, 150 - x1), Math.max(z0 - 150, 0, 150 - z1)),
    }))
    const nearest = sizes.filter(({ away }) => away < 10).map(({ side }) => side)
    // 32 quads of 400 m / 512.
    expect(Math.max(...nearest)).toBeCloseTo(25)
    expect(Math.max(...sizes.map(({ side }) => side))).toBeGreaterThanOrEqual(50)
    expect(picture.triangles()).toBeLessThan((2 * 512 * 512) / 3)
  })

  it('has its vertices on the ground, but for the skirts, which hang below it', () => {
    const { pieces } = seenFrom(0, 60, 200)
    for (const piece of pieces) {
      const position = piece.geometry.getAttribute('position')
      let below = 0
      // At the ground's own rim there is no seam to hide.
      let outer = 0
      const { x0, x1, z0, z1 } = boxOf(piece)
      if (x0 <= -200) outer += 33
      if (x1 >= 200) outer += 33
      if (z0 <= -200) outer += 33
      if (z1 >= 200) outer += 33
      if (outer === 66) outer--
      for (let i = 0; i < position.count; i++) {
        const over = position.getY(i) - heightAt(terrain, position.getX(i), position.getZ(i))
        expect(over).toBeLessThan(1e-4)
        if (over < -1e-4) below++
      }
      expect(below).toBe(4 * 32 - outer)
    }
  })

  it('is near by the very surface that things stand on, to 0.1 mm, on a grid whose sides are no power of two', () => {
    const { pieces } = seenFrom(20, 12, 30, odd)
    const caster = new THREE.Raycaster()
    for (const piece of pieces) piece.updateMatrixWorld()
    let looked = 0
    for (let k = 0; k < 200; k++) {
      const [x, z] = [20 + 40 * (((k * 0.7548776662) % 1) - 0.5), 30 + 40 * (((k * 0.569840291) % 1) - 0.5)]
      caster.set(new THREE.Vector3(x, 100, z), new THREE.Vector3(0, -1, 0))
      const [hit] = caster.intersectObjects(pieces)
      if (!hit) continue
      looked++
      expect(Math.abs(hit.point.y - heightAt(odd, x, z))).toBeLessThan(1e-4)
    }
    expect(looked).toBeGreaterThan(100)
  })

  it('leaves out cells without data, and only those', () => {
    const stored = odd.stored.slice()
    for (let j = 80; j < 100; j++) for (let i = 95; i < 130; i++) if ((i - 110) ** 2 + (j - 90) ** 2 < 90) stored[j * 201 + i] = NaN
    const gappy = createTerrain(stored, 201, 201, 300, 300)
    const { pieces } = seenFrom(15, 60, -15, gappy)
    for (const piece of pieces) piece.updateMatrixWorld()
    const caster = new THREE.Raycaster()
    let gaps = 0
    for (let k = 0; k < 600; k++) {
      const [x, z] = [15 + 50 * (((k * 0.7548776662) % 1) - 0.5), -15 + 50 * (((k * 0.569840291) % 1) - 0.5)]
      caster.set(new THREE.Vector3(x, 100, z), new THREE.Vector3(0, -1, 0))
      const hole = inHole(gappy, x, z)
      if (hole) gaps++
      expect(caster.intersectObjects(pieces).length > 0).toBe(!hole)
    }
    expect(gaps).toBeGreaterThan(60)
  })

  it('shows nothing behind the eye and lets everything go in the end', () => {
    const { picture, camera } = seenFrom(0, 300, 0.1)
    camera.position.set(0, 50, 600)
    camera.lookAt(0, 50, 2000)
    camera.updateMatrixWorld()
    picture.update(camera, 2.2, true)
    expect(picture.triangles()).toBe(0)
    picture.dispose()
    expect(picture.group.children.length).toBe(0)
  })
})
