import fc from 'fast-check'
import * as THREE from 'three'
import { assetOf } from '../../testing/fields.ts'
import { blockOf } from '../columns.ts'
import type { Asset, Part } from '../meadow.ts'
import { countApart, leavesByNumber, takenApart } from './apart.ts'
import { measurePosy, withMeasuredPosies } from './measure.ts'
import { assetsById, leavesOf, MOST_DEEP, nestingProblem, partOf, posiesWith, standWithin, tintedBy } from './posy.ts'

const WHITE = 0xffffffff
const posy = (id: string, parts: Part[]): Asset => ({ ...assetOf(id, 0), blob: '', parts })
const number = fc.double({ min: -5, max: 5, noNaN: true })
const turnOf = (x: number, y: number, z: number, degrees: number) => new THREE.Quaternion().setFromAxisAngle(new THREE.Vector3(x, y, z + 9).normalize(), (degrees * Math.PI) / 180)
const stand = fc
  .tuple(number, number, number, fc.double({ min: -180, max: 180, noNaN: true }), fc.double({ min: 0.2, max: 3, noNaN: true }))
  .map(([x, y, z, degrees, size]) => ({ place: [x, y, z] as const, turn: turnOf(x, y, z, degrees).toArray() as unknown as [number, number, number, number], size: [size, size, size] as const }))
const matrixOf = ({ place, turn, size }: Parameters<typeof standWithin>[0]) => new THREE.Matrix4().compose(new THREE.Vector3(...place), new THREE.Quaternion(...turn), new THREE.Vector3(...size))

describe('what a posy is made of', () => {
  it('stands where matrices of another library put it, four deep', () => {
    fc.assert(
      fc.property(stand, stand, stand, stand, (a, b, c, d) => {
        const assets = [assetOf('a', 1), posy('b', [partOf('a', a)]), posy('c', [partOf('b', b)]), posy('d', [partOf('c', c)]), posy('e', [partOf('d', d)])]
        const [leaf, ...more] = leavesOf(assets[4], assetsById(assets))
        expect(more).toEqual([])
        const wanted = matrixOf(d).multiply(matrixOf(c)).multiply(matrixOf(b)).multiply(matrixOf(a)).elements
        matrixOf(leaf).elements.forEach((value, k) => expect(value).toBeCloseTo(wanted[k], 6))
      }),
    )
  })

  it('is as long along its axes as unlike sizes make it, and is not slanted', () => {
    // Turned a quarter about up: what is wide to the east in the posy is deep in the part.
    const quarter = partOf('a', { place: [1, 2, 3], turn: [0, Math.SQRT1_2, 0, Math.SQRT1_2], size: [1, 1, 1] })
    const found = standWithin({ place: [10, 0, 0], turn: [0, 0, 0, 1], size: [2, 3, 0.5] }, quarter)
    expect(found.place).toEqual([12, 6, 1.5])
    ;[0.5, 3, 2].forEach((size, c) => expect(found.size[c]).toBeCloseTo(size, 12))
  })

  it('passes over parts whose asset is gone, and ends where it goes round', () => {
    const part = (id: string) => partOf(id, { place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] })
    const round = [posy('b', [part('c'), part('a')]), posy('c', [part('b')]), assetOf('a', 1)]
    expect(leavesOf(round[0], assetsById(round)).length).toBeLessThanOrEqual(MOST_DEEP)
    expect(leavesOf(posy('d', [part('gone'), part('a')]), assetsById(round)).map(({ asset }) => asset.id)).toEqual(['a'])
  })

  it('is refused when it would be made of itself, too deep or of too many', () => {
    const part = (id: string, times = 1) => Array.from({ length: times }, () => partOf(id, { place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }))
    const named = (id: string, parts: Part[]) => ({ ...posy(id, parts), name: id.toUpperCase() })
    const a = assetOf('a', 1)
    const four = [a, named('b', part('a')), named('c', part('b')), named('d', part('c')), named('e', part('d'))]
    expect(nestingProblem(four)).toBeNull()
    expect(nestingProblem([...four, named('f', part('e'))])).toContain('“F” would lie 5 deep')
    expect(nestingProblem([a, named('b', part('b'))])).toContain('“B” would be made of itself')
    expect(nestingProblem([a, named('b', part('d')), named('c', part('b')), named('d', part('c'))])).toContain('made of itself')
    expect(nestingProblem([a, named('b', part('a', 200)), named('c', part('b', 11))])).toContain('2,200 models')
    expect([...posiesWith(four, 'c')].sort()).toEqual(['d', 'e'])
  })
})

describe('the models of posies by their numbers', () => {
  it('are the very same where nothing of a posy has become another, so that only what has is taken apart anew', () => {
    const at = { place: [1, 0, 0] as const, turn: [0, 0, 0, 1] as const, size: [1, 1, 1] as const }
    const [a, b, c] = [assetOf('a', 1), assetOf('b', 1), assetOf('c', 1)]
    const [d, e, f] = [posy('d', [partOf('a', at)]), posy('e', [partOf('d', at)]), posy('f', [partOf('b', at)])]
    const before = leavesByNumber([a, b, c, d, e, f])
    const same = leavesByNumber([a, b, { ...c, name: 'Other' }, d, e, f])
    for (const { number: own } of [d, e, f]) expect(same.get(own)).toBe(before.get(own))
    const other = leavesByNumber([{ ...a, name: 'Other' }, b, c, d, e, f])
    expect([d, e, f].map(({ number: own }) => other.get(own) === before.get(own))).toEqual([false, false, true])
    // A part of a posy within has moved: what is made of it has, too, though its own parts are as they were.
    const moved = leavesByNumber([a, b, c, { ...d, parts: [partOf('a', { ...at, place: [2, 0, 0] })] }, e, f])
    expect(moved.get(e.number)?.[0].place).toEqual([3, 0, 0])
    expect(moved.get(f.number)).toBe(before.get(f.number))
  })
})

describe('measuring a posy', () => {
  it('gives the box around the boxes of its models, about its middle, by their corners', () => {
    const model = { ...assetOf('a', 0.2), size: [1, 2, 1] as [number, number, number], triangles: [100, 10] }
    const other = { ...model, id: 'b', number: 1, triangles: [50] }
    const leaves = leavesOf(posy('p', [partOf('a', { place: [1, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }), partOf('b', { place: [-2, 0.5, 0.25], turn: [0, 0, Math.SQRT1_2, Math.SQRT1_2], size: [1, 2, 1] })]), assetsById([model, other]))
    const { size, triangles, base, room } = measurePosy(leaves, false)
    // The second lies on its side, four metres long to the west.
    ;[12, 2, 1.5].forEach((value, c) => expect(size[c]).toBeCloseTo(value, 9))
    expect(triangles).toEqual([150, 60])
    // Only the first one bears it.
    expect(Math.min(...base.filter((_, k) => k % 2 === 0))).toBeCloseTo(0.8, 9)
    expect(room).toBeGreaterThan(0.5 * 6)
  })

  it('is done anew where a model has become another, and only there', () => {
    const bare = [assetOf('a', 0.2), posy('p', [partOf('a', { place: [1, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] })]), assetOf('z', 1)]
    const assets = withMeasuredPosies(bare)
    expect(assets).not.toBe(bare)
    expect(withMeasuredPosies(assets)).toBe(assets)
    const grown = withMeasuredPosies(assets.map((one) => (one.id === 'a' ? { ...one, size: [4, 4, 4] as [number, number, number] } : one)))
    expect(grown[1].size[0]).toBeCloseTo(6, 9)
    expect(grown[2]).toBe(assets[2])
  })
})

describe('taking blocks apart', () => {
  const assets = [assetOf('a', 1), assetOf('b', 1), posy('p', [partOf('b', { place: [1, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }, 0x80ff00ff), partOf('a', { place: [0, 2, 0], turn: [0, 0, 0, 1], size: [2, 2, 2] })])]
  const block = blockOf(4)
  ;[15, 0, 15, 1].forEach((asset, k) => {
    block.asset[k] = asset
    block.idLow[k] = 100 + k
    block.key[k] = 0.9 - 0.2 * k
    block.tint[k] = k === 2 ? 0xff8000ff : WHITE
    block.position.set([10 * k, 0, 0], 3 * k)
    block.rotation.set([0, 0, 0, 1], 4 * k)
    block.scale.set([1, 1, 1], 3 * k)
  })

  it('leaves models as they are, puts parts where they stand, sorted by asset and key, each with an id of its own', () => {
    const posies = leavesByNumber(assets)
    const out = takenApart(block, posies)
    expect(out.count).toBe(6)
    expect(countApart(block, posies)).toBe(6)
    const rows = Array.from({ length: 6 }, (_, k) => ({ asset: out.asset[k], x: out.position[3 * k], y: out.position[3 * k + 1], size: out.scale[3 * k] }))
    expect(rows).toEqual([
      { asset: 0, x: 20, y: 2, size: 2 },
      { asset: 0, x: 10, y: 0, size: 1 },
      { asset: 0, x: 0, y: 2, size: 2 },
      { asset: 1, x: 30, y: 0, size: 1 },
      { asset: 1, x: 21, y: 0, size: 1 },
      { asset: 1, x: 1, y: 0, size: 1 },
    ])
    expect(new Set(Array.from({ length: 6 }, (_, k) => `${out.idHigh[k]}:${out.idLow[k]}`)).size).toBe(6)
    expect(out.tint[4]).toBe(tintedBy(0xff8000ff, 0x80ff00ff))
    expect(out.tint[4].toString(16)).toBe('808000ff')
    // The same posy taken apart again gives the same ids.
    expect([...takenApart(block, posies).idLow]).toEqual([...out.idLow])
  })

  it('gives back the very block where there is no posy in it, and leaves out one that is open', () => {
    expect(takenApart(block, leavesByNumber(assets.slice(0, 2)))).toBe(block)
    expect(takenApart(block, leavesByNumber(assets), { leftOut: (low) => low === 102 }).count).toBe(4)
  })
})
