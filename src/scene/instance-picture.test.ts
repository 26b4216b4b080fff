import * as THREE from 'three'
import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import type { AssetForms } from './asset-forms.ts'
import { createInstancePicture } from './instance-picture.ts'

const SIDE = 20
/** Forms of 1000, 100 and 10 triangles, a metre large. */
const TRIANGLES = [1000, 100, 10]

function formsOf(): AssetForms {
  const material = new THREE.MeshLambertMaterial()
  const geometry = () => new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(new Float32Array(9), 3))
  return {
    forms: TRIANGLES.map((triangles) => ({ parts: [{ geometry: geometry(), material, shadow: new THREE.MeshDepthMaterial() }], triangles })),
    extent: 1,
    dispose: () => undefined,
  }
}

/** A square tile of so many instances whose number is their key. */
function tileAt(x0: number, z0: number, count: number): { block: Block; rect: { x0: number; z0: number; x1: number; z1: number } } {
  const block = blockOf(count)
  for (let i = 0; i < count; i++) {
    block.position.set([x0 + (SIDE * ((i * 7) % count)) / count, 0, z0 + (SIDE * i) / count], 3 * i)
    block.rotation[4 * i + 3] = 1
    block.scale.fill(1, 3 * i, 3 * i + 3)
    block.key[i] = i / count
  }
  return { block, rect: { x0, z0, x1: x0 + SIDE, z1: z0 + SIDE } }
}

/** Tiles from 0 to `far` in front of a camera that looks along −Z. */
function alley(far: number, count: number) {
  const picture = createInstancePicture()
  picture.setForms(0, formsOf())
  for (let z = 0; z < far; z += SIDE) {
    const { block, rect } = tileAt(-SIDE / 2, -z - SIDE, count)
    picture.setTile('p', String(z), block, rect)
  }
  const camera = new THREE.PerspectiveCamera(50, 1.6, 0.1, 10_000)
  camera.position.set(0, 2, 5)
  camera.lookAt(0, 2, -1000)
  camera.updateMatrixWorld()
  const shown = () =>
    picture.group.children
      .filter(({ visible }) => visible)
      .map((mesh) => {
        const geometry = (mesh as THREE.Mesh).geometry as THREE.InstancedBufferGeometry
        return { away: -(geometry.boundingSphere?.center.z ?? 0), count: geometry.instanceCount }
      })
      .sort((a, b) => a.away - b.away)
  return { picture, camera, shown }
}

describe('what is drawn of the instances', () => {
  it('is all of them near by, and fewer and fewer with the distance', () => {
    const { picture, camera, shown } = alley(2000, 300)
    const facts = picture.update(camera, 800, Infinity)
    const counts = shown().map(({ count }) => count)
    expect(counts[0]).toBe(300)
    counts.forEach((count, k) => k > 0 && expect(count).toBeLessThanOrEqual(counts[k - 1]))
    expect(counts[counts.length - 1]).toBeLessThan(150)
    expect(counts[counts.length - 1]).toBeGreaterThan(0)
    expect(facts.instances).toBe(counts.reduce((a, b) => a + b))
    expect(facts.draws).toBe(counts.length)
  })

  it('keeps within the budget of triangles, and uses most of it', () => {
    const count = 6
    const { picture, camera } = alley(2000, count)
    const all = picture.update(camera, 800, Infinity).triangles
    for (const budget of [all / 2, all / 4, all / 8]) {
      const { triangles } = picture.update(camera, 800, budget)
      expect(triangles).toBeLessThanOrEqual(budget)
      // What is left would not pay for the full form of one more tile.
      expect(budget - triangles).toBeLessThan(count * TRIANGLES[0])
    }
  })

  it('takes the first rows by rank, so that thinning is stable: less budget draws a part of what more draws', () => {
    const { picture, camera, shown } = alley(1000, 300)
    picture.update(camera, 800, 400_000)
    const more = shown()
    picture.update(camera, 800, 60_000)
    const less = shown()
    less.forEach(({ count, away }) => expect(count).toBeLessThanOrEqual(more.find((one) => one.away === away)?.count ?? 0))
    // Instances are drawn from the front of the block's own columns.
    const mesh = picture.group.children.find(({ visible }) => visible) as THREE.Mesh
    expect(mesh.geometry.getAttribute('instancePosition').count).toBe(300)
  })

  it('leaves nothing out for a budget of what stands in order, only draws it lighter', () => {
    const { picture, camera, shown } = alley(200, 300)
    picture.update(camera, 800, 30_000)
    expect(shown().every(({ count }) => count === 300)).toBe(false)
    picture.setWhole('p', true)
    picture.update(camera, 800, 30_000)
    expect(shown().every(({ count }) => count === 300)).toBe(true)
    // More than can be shown whole are thinned as all others.
    const { block, rect } = tileAt(-SIDE / 2, -200, 2500)
    picture.setTile('p', '180', block, rect)
    picture.update(camera, 800, 10_000)
    expect(shown().at(-1)?.count).toBeLessThan(2500)
  })

  it('leaves out what is behind the eye, what is hidden and what is gone', () => {
    const { picture, camera } = alley(200, 50)
    camera.lookAt(0, 2, 1000)
    camera.updateMatrixWorld()
    // The nearest tile's sphere may still reach into sight.
    expect(picture.update(camera, 800, Infinity).instances).toBeLessThanOrEqual(50)
    camera.lookAt(0, 2, -1000)
    camera.updateMatrixWorld()
    expect(picture.update(camera, 800, Infinity).instances).toBe(500)
    picture.setVisible('p', false)
    expect(picture.update(camera, 800, Infinity)).toEqual({ triangles: 0, instances: 0, draws: 0 })
    picture.setVisible('p', true)
    picture.setTile('p', '0', null, { x0: 0, z0: 0, x1: 1, z1: 1 })
    expect(picture.update(camera, 800, Infinity).instances).toBe(450)
    picture.dispose()
    expect(picture.group.children.length).toBe(0)
  })
})

describe('the columns that are drawn', () => {
  /** A block of so many rows of each of three assets, every number of it another one. */
  function mixed(counts: readonly number[]): Block {
    const block = blockOf(counts.reduce((sum, count) => sum + count, 0))
    let row = 0
    counts.forEach((count, asset) => {
      for (let k = 0; k < count; k++, row++) {
        block.asset[row] = asset
        block.position.set([row + 0.5, row / 10, -row - 0.25], 3 * row)
        block.rotation.set([0.1 * row, 0.2, 0.3, 1], 4 * row)
        block.scale.set([1 + row, 2 + row, 3 + row], 3 * row)
        block.tint[row] = 0x01020300 + row
      }
    })
    return block
  }

  const drawnIn = (block: Block, picture = createInstancePicture()) => {
    const materials = [0, 1, 2].map((asset) => {
      const forms = formsOf()
      picture.setForms(asset, forms)
      return forms.forms[0].parts[0].material
    })
    picture.setTile('p', 't', block, { x0: 0, z0: -60, x1: 60, z1: 0 })
    const camera = new THREE.PerspectiveCamera(90, 1.6, 0.1, 10_000)
    camera.position.set(30, 5, 20)
    camera.lookAt(30, 0, -100)
    camera.updateMatrixWorld()
    picture.update(camera, 4000, Infinity)
    const meshes = (picture.group.children as THREE.Mesh[]).filter(({ visible }) => visible)
    return { picture, byAsset: materials.map((material) => meshes.find((mesh) => mesh.material === material)) }
  }

  it('are each asset’s own rows: place, turn, size and tint', () => {
    const counts = [5, 12, 8]
    const block = mixed(counts)
    const { picture, byAsset } = drawnIn(block)
    let first = 0
    counts.forEach((count, asset) => {
      const geometry = byAsset[asset]?.geometry as THREE.InstancedBufferGeometry
      const column = (name: string) => [...(geometry.getAttribute(name).array as Float32Array)]
      expect(geometry.instanceCount).toBe(count)
      expect(column('instancePosition')).toEqual([...block.position.subarray(3 * first, 3 * (first + count))])
      expect(column('instanceTurn')).toEqual([...block.rotation.subarray(4 * first, 4 * (first + count))])
      expect(column('instanceSize')).toEqual([...block.scale.subarray(3 * first, 3 * (first + count))])
      expect(column('instanceTint')).toEqual([...new Uint8Array(block.tint.slice(first, first + count).buffer)])
      first += count
    })
    picture.dispose()
  })

  it('are freed with their tile, with their forms and at the end, and the assets’ own geometry is not', () => {
    const { picture, byAsset } = drawnIn(mixed([4, 4, 4]))
    const freed: number[] = []
    const watch = (mesh: THREE.Mesh | undefined, k: number) => mesh?.geometry.addEventListener('dispose', () => freed.push(k))
    byAsset.forEach(watch)
    picture.setForms(1, null)
    expect(freed).toEqual([1])
    picture.setTile('p', 't', null, { x0: 0, z0: 0, x1: 1, z1: 1 })
    expect(freed.sort()).toEqual([0, 1, 2])
    expect(picture.group.children.length).toBe(0)
    const again = drawnIn(mixed([4, 4, 4]), picture)
    again.byAsset.forEach((mesh, k) => watch(mesh, 10 + k))
    again.picture.dispose()
    expect(freed.sort((a, b) => a - b)).toEqual([0, 1, 2, 10, 11, 12])
  })
})
