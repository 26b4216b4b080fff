import * as THREE from 'three'
import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { tileKey } from '../core/grow.ts'
import type { Meadow } from '../core/meadow.ts'
import { newMeadow } from '../document/new-planting.ts'
import { createInstanceTiles } from '../state/instances.ts'
import { assetOf, hilly, spreadOf } from '../testing/fields.ts'
import { createAssetShelf } from './asset-shelf.ts'
import { createGroundLayer } from './ground-layer.ts'
import { nearestInstance } from './nearest-instance.ts'
import { createPersonLayer } from './person-layer.ts'

const meadow: Meadow = { ...newMeadow('Test', 'a'.repeat(64), { samples: 65, size: 100 }), water: { shown: true, level: 1 }, plantings: [spreadOf({}, { id: 'p', colour: '#ff0000' })] }

/** Geometries and materials below a group, each once. */
function heldBy(group: THREE.Object3D): Set<THREE.BufferGeometry | THREE.Material> {
  const held = new Set<THREE.BufferGeometry | THREE.Material>()
  group.traverse((object) => {
    if (!(object instanceof THREE.Mesh)) return
    held.add(object.geometry as THREE.BufferGeometry)
    for (const material of [object.material].flat() as THREE.Material[]) held.add(material)
  })
  return held
}

/** What of some is disposed of from now on. */
function watched(things: Iterable<THREE.BufferGeometry | THREE.Material>): Set<unknown> {
  const freed = new Set<unknown>()
  for (const thing of things) (thing as unknown as THREE.EventDispatcher<{ dispose: object }>).addEventListener('dispose', () => freed.add(thing))
  return freed
}

function builtUp(layer: ReturnType<typeof createGroundLayer>): void {
  const camera = new THREE.PerspectiveCamera(42, 1.6, 0.1, 600)
  camera.position.set(0, 40, 60)
  camera.lookAt(0, 0, 0)
  camera.updateMatrixWorld()
  for (let k = 0; k < 200 && layer.update(camera, true); k++);
}

describe('the layer of the ground', () => {
  it('shows water and sky, and has the ground built up for a camera', () => {
    const scene = new THREE.Scene()
    const layer = createGroundLayer(scene)
    expect(layer.set(meadow, hilly(100, 65))).toBe(true)
    builtUp(layer)
    expect(layer.triangles()).toBeGreaterThan(1000)
    expect((scene.fog as THREE.Fog).far).toBeCloseTo(260)
    layer.dispose()
  })

  it('another ground takes the place of the one before, which is freed; another setting of the same leaves it alone', () => {
    const layer = createGroundLayer(new THREE.Scene())
    const hills = hilly(100, 65)
    layer.set(meadow, hills)
    builtUp(layer)
    const before = heldBy(layer.group)
    const freed = watched(before)
    expect(layer.set({ ...meadow, water: { shown: false, level: 1 } }, hills)).toBe(false)
    expect(freed.size).toBe(0)
    expect(layer.set(meadow, hilly(60, 33))).toBe(true)
    builtUp(layer)
    const still = heldBy(layer.group)
    const gone = [...before].filter((thing) => !still.has(thing) && thing instanceof THREE.BufferGeometry)
    expect(gone.length).toBeGreaterThan(3)
    for (const thing of gone) expect(freed.has(thing)).toBe(true)
    layer.dispose()
  })

  it('another water level is another ground to be drawn: what lies under water is', () => {
    const layer = createGroundLayer(new THREE.Scene())
    const hills = hilly(100, 65)
    layer.set(meadow, hills)
    builtUp(layer)
    const pieces = [...heldBy(layer.group)].filter((thing) => thing instanceof THREE.BufferGeometry)
    const freed = watched(pieces)
    // The ground itself is the same one.
    expect(layer.set({ ...meadow, water: { shown: true, level: 3 } }, hills)).toBe(false)
    expect(freed.size).toBeGreaterThan(3)
    layer.dispose()
  })

  it('frees all of it at its end', () => {
    const layer = createGroundLayer(new THREE.Scene())
    layer.set(meadow, hilly(100, 65))
    builtUp(layer)
    const held = heldBy(layer.group)
    const freed = watched(held)
    layer.dispose()
    for (const thing of held) expect(freed.has(thing)).toBe(true)
  })

  it('marks and covers by what stands on the terrain alone', () => {
    const layer = createGroundLayer(new THREE.Scene())
    layer.set(meadow, hilly(100, 65))
    const instances = createInstanceTiles()
    const rect = { x0: 0, z0: 0, x1: 16, z1: 16 }
    const block = blockOf(3)
    instances.set('p', tileKey('hull', 'whole'), block, rect)
    const asked: number[] = []
    const cover = () => layer.cover(meadow, instances, (asset) => (asked.push(asset), null))
    cover()
    expect(asked).toEqual([])
    instances.set('p', tileKey(TERRAIN_ID, '16:0:0'), block, rect)
    // Only when something has changed.
    cover()
    expect(asked).toEqual([])
    layer.stale()
    cover()
    expect(asked.length).toBeGreaterThan(0)
    layer.mark(meadow.plantings[0], instances)
    layer.mark(null, instances)
    layer.dispose()
  })
})

describe('a person for scale', () => {
  it('stands where they are put, 1.75 m tall, and leaves nothing behind', () => {
    const layer = createPersonLayer()
    layer.stand({ x: 3, y: 2, z: 1 }, new THREE.Vector3(10, 50, 1))
    expect(layer.stands()).toBe(true)
    const box = new THREE.Box3().setFromObject(layer.group)
    expect(box.max.y - box.min.y).toBeCloseTo(1.75, 1)
    expect(box.min.y).toBeCloseTo(2, 1)
    const held = heldBy(layer.group)
    const freed = watched(held)
    layer.stand({ x: 0, y: 0, z: 0 }, new THREE.Vector3(1, 0, 0))
    expect(freed.size).toBe(held.size)
    layer.dispose()
    expect([layer.stands(), layer.group.children.length]).toEqual([false, 0])
  })
})

describe('the shelf of assets', () => {
  it('takes the forms of what is gone out of the picture, by the number that instances name it by, and tells of what cannot be shown', async () => {
    const set: string[] = []
    const problems: string[] = []
    const shelf = createAssetShelf({
      picture: { setForms: (number, forms) => void set.push(`${number} ${forms ? 'shown' : 'gone'}`) },
      readBlob: () => Promise.reject(new Error('missing')),
      onLoaded: () => undefined,
      onProblem: ({ name }) => void problems.push(name),
    })
    const [a, c] = [assetOf('a', 1), { ...assetOf('c', 1), name: 'Thrift' }]
    shelf.set([a, c])
    await new Promise((resolve) => setTimeout(resolve, 1))
    expect(problems).toEqual(['a', 'Thrift'])
    // Taking the first out moves nothing: the other keeps its number.
    shelf.set([c])
    shelf.set([])
    expect(set).toEqual(['0 gone', '2 gone'])
    expect(shelf.coverOf(2)).toBeNull()
  })
})

describe('the nearest instance', () => {
  it('is the one that trying all of them finds, in plan', () => {
    const blocks = [40, 0, 160].map((count, b): Block => {
      const block = blockOf(count)
      for (let i = 0; i < count; i++) {
        block.position.set([Math.sin(7 * i + b) * 50, i, Math.cos(3 * i + b) * 50], 3 * i)
        block.scale[3 * i + 1] = 1 + i
        block.asset[i] = b
      }
      return block
    })
    for (const [x, z] of [[0, 0], [40, -30], [-12, 5]]) {
      let best = Infinity
      for (const { position, count } of blocks) for (let i = 0; i < count; i++) best = Math.min(best, Math.hypot(position[3 * i] - x, position[3 * i + 2] - z))
      const found = nearestInstance(blocks, new THREE.Vector3(x, 99, z))
      expect(Math.hypot((found?.position.x ?? 0) - x, (found?.position.z ?? 0) - z)).toBeCloseTo(best, 4)
      expect(found?.size).toBe(1 + (found?.position.y ?? 0))
    }
    expect(nearestInstance([blockOf(0)], new THREE.Vector3())).toBeNull()
  })
})
