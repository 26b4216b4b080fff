import { BufferAttribute, BufferGeometry, Color, MeshLambertMaterial } from 'three'
import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import { mix } from '../core/math/random.ts'
import type { AssetForms } from './asset-forms.ts'
import { coverOf, readCover } from './ground-cover.ts'

const SIZE = 512
const share = (k: number) => mix(k) / 4294967296

/** So many instances of size 2 of one asset, strewn at random over the west half. */
function strewn(count: number, asset = 0): Block {
  const block = blockOf(count)
  for (let i = 0; i < count; i++) {
    block.position[3 * i] = -0.5 * SIZE * share(2 * i + 1)
    block.position[3 * i + 2] = SIZE * (share(2 * i + 2) - 0.5)
    block.scale.fill(2, 3 * i, 3 * i + 3)
    block.asset[i] = asset
  }
  return block
}

function formsOf(colours: number[], map = false): AssetForms {
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(new Float32Array(colours.length), 3))
  geometry.setAttribute('color', new BufferAttribute(Float32Array.from(colours), 3))
  const material = new MeshLambertMaterial()
  if (map) Object.assign(material, { map: {} })
  return { forms: [{ parts: [{ geometry, material, shadow: null as never }], triangles: 1 }], extent: 1, dispose: () => undefined }
}

describe('the colour of ground that is overgrown', () => {
  it('covers the share that falling at random leaves covered, in the mean colour', () => {
    const count = 200_000
    const { side, bytes } = readCover([strewn(count)], SIZE, SIZE, () => ({ colour: new Color(0.09, 0.25, 0.04), area: 0.1 }))
    let west = 0
    let east = 0
    for (let r = 0; r < side; r++)
      for (let c = 0; c < side; c++) {
        const at = 4 * (r * side + c)
        if (c < side / 2) west += bytes[at + 3] / 255 / (side * side * 0.5)
        else east += bytes[at + 3]
        if (bytes[at + 3] > 0) expect([...bytes.slice(at, at + 3)].map((v) => (v / 255) ** 2)).toEqual([0.09, 0.25, 0.04].map((v) => expect.closeTo(v, 2)))
      }
    expect(east).toBe(0)
    // Counts in a cell are Poisson with mean m, each covering a = 4 · 0.1 of it: the mean of 1 − e^(−a·n) is 1 − e^(−m(1 − e^−a)).
    const m = count / (SIZE * SIZE * 0.5)
    expect(west).toBeCloseTo(1 - Math.exp(-m * (1 - Math.exp(-0.4))), 2)
  })

  it('is nearly the same when only a part of very many is looked at', () => {
    const mean = (count: number, area: number) => {
      const { bytes } = readCover([strewn(count)], SIZE, SIZE, () => ({ colour: new Color(1, 1, 1), area }))
      return bytes.reduce((sum, v, i) => (i % 4 === 3 ? sum + v : sum), 0) / (255 * 0.5 * SIZE * SIZE)
    }
    // 1.2 million are read by twos: as if half as many covered twice as much each.
    expect(mean(1_200_000, 0.01)).toBeCloseTo(mean(600_000, 0.02), 2)
  })

  it('comes from low assets alone, fading out with their height, and from colours that are known', () => {
    const low = coverOf(formsOf([0.2, 0.4, 0, 0.4, 0.4, 0.2]), [0.5, 0.4, 0.5])
    expect(low?.colour.r).toBeCloseTo(0.3)
    expect(low?.colour.b).toBeCloseTo(0.1)
    expect(low?.area).toBeCloseTo(0.25 * 0.45)
    expect(coverOf(formsOf([0.2, 0.4, 0]), [0.5, 1.45, 0.5])?.area).toBeCloseTo(0.25 * 0.45 * 0.5)
    expect(coverOf(formsOf([0.2, 0.4, 0]), [0.5, 3, 0.5])).toBeNull()
    expect(coverOf(formsOf([0.2, 0.4, 0], true), [0.5, 0.4, 0.5])).toBeNull()
  })
})
