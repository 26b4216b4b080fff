import * as THREE from 'three'
import { blockOf } from '../core/columns.ts'
import { idSet } from '../core/hand/id-set.ts'
import type { Asset, Meadow, Planting } from '../core/meadow.ts'
import { random } from '../core/math/random.ts'
import { assetOf, spreadOf } from '../testing/fields.ts'
import { chooseWhere, countChosen, factsOf, instanceAt, instanceUnder, joined, onlyOne, shareOf, standing, without } from './chosen.ts'
import type { InstanceTiles } from './instances.ts'
import { createInstanceTiles } from './instances.ts'

const ASSETS: Asset[] = [{ ...assetOf('a', 0.3), size: [0.6, 1.8, 0.4] }, { ...assetOf('b', 0.5), size: [1, 0.5, 2] }]
const plantings: Planting[] = [spreadOf({}, { id: 'one' }), spreadOf({}, { id: 'two' }), spreadOf({}, { id: 'hidden', visible: false }), spreadOf({}, { id: 'locked', locked: true })]
const meadow = { plantings, assets: ASSETS } as unknown as Meadow

const d = (k: number, channel: number) => random(3, k, 1, channel)

/** Tiles of 10 × 10 m with things turned every way. */
function field(perTile: number, tilesAlong: number): InstanceTiles {
  const instances = createInstanceTiles()
  let k = 0
  for (const { id } of plantings)
    for (let j = 0; j < tilesAlong; j++)
      for (let i = 0; i < tilesAlong; i++) {
        const block = blockOf(perTile)
        for (let row = 0; row < perTile; row++, k++) {
          block.idLow[row] = k
          block.idHigh[row] = k ^ 0x5555
          block.asset[row] = ASSETS[row < perTile / 2 ? 0 : 1].number
          block.position.set([10 * (i + d(k, 0)), 2 * d(k, 1), 10 * (j + d(k, 2))], 3 * row)
          const turn = new THREE.Quaternion(d(k, 3) - 0.5, d(k, 4) - 0.5, d(k, 5) - 0.5, d(k, 6)).normalize()
          block.rotation.set(turn.toArray(), 4 * row)
          block.scale.set([0.5 + d(k, 7), 0.5 + d(k, 8), 0.5 + d(k, 9)], 3 * row)
        }
        instances.set(id, `terrain/${i}:${j}`, block, { x0: 10 * i, z0: 10 * j, x1: 10 * i + 10, z1: 10 * j + 10 })
      }
  return instances
}

describe('picking', () => {
  const instances = field(24, 4)

  it('finds what a ray of another library meets first: boxes, turned and sized', () => {
    const meshes: THREE.Mesh[] = []
    for (const planting of ['one', 'two', 'locked'])
      for (const [tile, { block }] of instances.tiles.get(planting) ?? [])
        for (let row = 0; row < block.count; row++) {
          const { place, turn, size, asset } = instanceAt({ planting, tile, block, row })
          const box = ASSETS.find(({ number }) => number === asset)?.size as Asset['size']
          const mesh = new THREE.Mesh(new THREE.BoxGeometry(...box).translate(0, box[1] / 2, 0), new THREE.MeshBasicMaterial({ side: THREE.DoubleSide }))
          mesh.position.set(...place)
          mesh.quaternion.set(...(turn as [number, number, number, number]))
          mesh.scale.set(...size)
          mesh.updateMatrixWorld(true)
          mesh.name = `${planting} ${block.idLow[row]}`
          meshes.push(mesh)
        }
    let met = 0
    let same = 0
    for (let k = 0; k < 400; k++) {
      const origin = new THREE.Vector3(-4 + 48 * d(k, 20), 6 + 4 * d(k, 21), -4 + 48 * d(k, 22))
      const direction = new THREE.Vector3(d(k, 23) - 0.5, -0.2 - d(k, 24), d(k, 25) - 0.5).normalize()
      const [first] = new THREE.Raycaster(origin, direction).intersectObjects(meshes, false)
      const found = instanceUnder(instances, meadow, { origin: origin.toArray(), direction: direction.toArray(), reach: 1e4 }, 1e4)
      if (!first) continue
      met++
      if (found && first.object.name === `${found.planting} ${found.block.idLow[found.row]}`) same++
    }
    expect(met).toBeGreaterThan(150)
    expect(same / met).toBeGreaterThan(0.995)
  })

  it('passes over what is hidden, and what lies farther than the ground that is seen', () => {
    const hidden = { ...meadow, plantings: plantings.filter(({ id }) => id === 'hidden') }
    const down = { origin: [5, 50, 5] as const, direction: [0, -1, 0] as const, reach: 100 }
    const look = (x: number, z: number, limit: number, among: Meadow = meadow) => instanceUnder(instances, among, { ...down, origin: [x, 50, z] }, limit)
    const one = instanceAt({ planting: 'one', tile: 'terrain/0:0', block: instances.tiles.get('one')?.get('terrain/0:0')?.block as never, row: 3 })
    expect(look(one.place[0], one.place[2], 100)).not.toBeNull()
    expect(look(one.place[0], one.place[2], 30)).toBeNull()
    for (let k = 0; k < 40; k++) expect(look(40 * d(k, 30), 40 * d(k, 31), 100, hidden)).toBeNull()
  })
})

describe('choosing', () => {
  const instances = field(24, 4)
  const all = chooseWhere(instances, meadow, () => true)

  it('takes of plantings that are shown and not locked, and tells how what is chosen stands', () => {
    expect([...all.keys()].sort()).toEqual(['one', 'two'])
    expect(countChosen(all)).toBe(2 * 16 * 24)
    const [planting, ids] = [...all][0]
    const [low, high] = [...ids][7]
    const [one] = standing(instances, onlyOne({ planting, low, high }))
    expect([one.low, one.high, one.ground]).toEqual([low, high, 'terrain'])
  })

  it('joins and takes away', () => {
    const left = chooseWhere(instances, meadow, ({ block, row }) => block.position[3 * row] < 20)
    const right = without(all, left)
    expect(countChosen(left) + countChosen(right)).toBe(countChosen(all))
    expect(countChosen(joined(left, right))).toBe(countChosen(all))
    expect(countChosen(joined(left, left))).toBe(countChosen(left))
    expect(countChosen(without(left, all))).toBe(0)
  })

  it('throws a share: exact, the same for the same throw, another for another, none likelier than others', () => {
    const times = new Map<number, number>()
    for (let seed = 0; seed < 400; seed++) {
      const part = shareOf(all, 0.4, seed)
      expect(countChosen(part)).toBe(Math.round(0.4 * 768))
      for (const ids of part.values()) for (const [low] of ids) times.set(low, (times.get(low) ?? 0) + 1)
    }
    expect(countChosen(shareOf(all, 0.6, 1))).toBe(461)
    expect([...(shareOf(all, 0.4, 7).get('one') ?? [])]).toEqual([...(shareOf(all, 0.4, 7).get('one') ?? [])])
    expect([...(shareOf(all, 0.4, 7).get('one') ?? [])]).not.toEqual([...(shareOf(all, 0.4, 8).get('one') ?? [])])
    // χ² over 768 things that are each taken 160 times of 400 in the mean, of variance 96; beyond 900 with p < 0.001.
    const chi = [...times.values()].reduce((sum, count) => sum + (count - 160) ** 2 / 96, 0)
    expect(times.size).toBe(768)
    expect(chi).toBeLessThan(900)
    expect(chi).toBeGreaterThan(640)
  })

  it('knows ids that share their low half', () => {
    const set = idSet([[1, 2], [1, 3], [1, 2], [4, 5]])
    expect(set.size).toBe(3)
    expect([[1, 2], [1, 3], [1, 4], [4, 5], [5, 4]].map(([low, high]) => set.has(low, high))).toEqual([true, true, false, true, false])
    expect([...set]).toEqual([[1, 2], [1, 3], [4, 5]])
  })

  it('is told in numbers once, and anew when a tile has grown or is gone', () => {
    const own = field(24, 2)
    const chosen = chooseWhere(own, meadow, ({ planting }) => planting === 'one')
    const first = factsOf(own, chosen)
    expect(first.there).toBe(96)
    expect(factsOf(own, chosen)).toBe(first)
    const [[tile, { rect }]] = own.tiles.get('one') ?? []
    own.set('one', tile, null, rect)
    expect(factsOf(own, chosen).there).toBe(72)
    own.drop('one')
    expect(factsOf(own, chosen).there).toBe(0)
    // Of another field the same ids are looked for anew.
    expect(factsOf(field(24, 2), chosen).there).toBe(96)
  })
})
