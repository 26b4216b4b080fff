import { assetOf, condition, growAll, hilly, idsOf, rowsOf, spreadOf, surroundingsOf, terrainOf } from '../../testing/fields.ts'
import { mixAssets, preparePlanting } from '../grow.ts'
import { tileRect } from './tiles.ts'
import { mix } from '../math/random.ts'
import type { Planting } from '../meadow.ts'

const assets = [assetOf('a', 0.2)]
const hills = terrainOf((x, z) => 20 * Math.sin(x / 170) * Math.cos(z / 140), 1600, 81)
const prepare = (planting: Planting, terrain = hills) => preparePlanting(planting, mixAssets(planting, assets), surroundingsOf(terrain))
const band = (from: number, to: number, soft = 0) => condition('height', { height: { from, to }, soft })

describe('tiles that would bear little', () => {
  it('are joined, and all that grows anywhere grows in those that are listed', () => {
    const planting = spreadOf({ spacing: 3, room: 0 }, { habitat: [band(12, 13)] })
    const [plot] = prepare(planting).plots
    const [whole] = prepare(spreadOf({ spacing: 3, room: 0 })).plots
    expect(plot.tileSide).toBeGreaterThan(whole.tileSide)
    expect(whole.tiles.length).toBe((2 * Math.ceil(800 / whole.tileSide)) ** 2)
    const prepared = prepare(planting)
    const listed = plot.tiles.map((tile) => prepared.grow({ plot: 0, rect: tileRect(plot.tileSide, tile) }, null, 1))
    const blocks = listed.flatMap((result) => ('block' in result ? [result.block] : []))
    // Over the small tiles of the whole ground.
    const everywhere = growAll(planting, hills, { side: whole.tileSide })
    expect(idsOf(everywhere).size).toBeGreaterThan(500)
    expect([...idsOf(blocks)].sort()).toEqual([...idsOf(everywhere)].sort())
    expect(plot.tiles.length).toBeLessThan(0.5 * everywhere.filter(({ count }) => count > 0).length)
  })
})

describe('how many are expected', () => {
  // A soft band is taken at its mean weight; places that conditions refuse as a whole are told without being asked.
  it.each([
    ['a narrow band', hills, [band(5, 6.5)]],
    ['a soft band of slopes', hills, [band(-4, 9, 3), condition('slope', { slope: { from: 2, to: null }, soft: 1 })]],
    ['patches on rough ground', hilly(200, 201), [condition('patchiness', { size: 25, coverage: 0.4, contrast: 1 })]],
  ] as const)('is what grows without rooms, within 5 %%: %s', (_what, terrain, habitat) => {
    let grown = 0
    let expected = 0
    for (const seed of [1, 2, 3].map(mix)) {
      const planting = spreadOf({ by: 'density', density: 9000 / (terrain.sizeX * terrain.sizeZ), room: 0, placing: 'random' }, { habitat: [...habitat], seed })
      expected += prepare(planting, terrain).expected()
      grown += rowsOf(growAll(planting, terrain)).length
    }
    expect(grown).toBeGreaterThan(1000)
    expect(Math.abs(expected / grown - 1)).toBeLessThan(0.05 + 3 / Math.sqrt(grown))
  })
})
