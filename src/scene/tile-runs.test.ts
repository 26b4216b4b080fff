import { assetRuns, blockOf } from '../core/columns.ts'
import { mix } from '../core/math/random.ts'
import { runsOfTile } from './tile-runs.ts'

const dice = (k: number) => mix(k) / 4294967296
const rect = { x0: 16, z0: -48, x1: 80, z1: 16 }

/** A block over the rectangle whose rows are told apart by what stands in their columns; some lie a little beyond the rim. */
function blockOver(count: number, assets: number) {
  const block = blockOf(count)
  for (let i = 0; i < count; i++) {
    block.position.set([15.9 + 64.2 * dice(3 * i), i, -48.1 + 64.2 * dice(3 * i + 1)], 3 * i)
    block.rotation.set([i, i + 0.25, i + 0.5, i + 0.75], 4 * i)
    block.scale.set([i + 1, i + 2, i + 3], 3 * i)
    block.tint[i] = mix(i)
    block.asset[i] = Math.floor((i * assets) / count)
  }
  return block
}

describe('what of a tile is drawn together', () => {
  it.each([[300, 1], [5000, 1], [5000, 3], [450, 4]])('%d instances of %d assets: every row once with all of its own, in parts, in its order', (count, assets) => {
    const block = blockOver(count, assets)
    const { columns, runs } = runsOfTile(block, rect)
    const tint = new Uint32Array(columns.tint.buffer, columns.tint.byteOffset, count)
    const seen = new Set<number>()
    let at = 0
    for (const run of runs) {
      expect(run.start).toBe(at)
      at = run.end
      let last = -1
      for (let k = run.start; k < run.end; k++) {
        const i = columns.position[3 * k + 1]
        expect(i).toBeGreaterThan(last)
        last = i
        seen.add(i)
        expect([...columns.rotation.subarray(4 * k, 4 * k + 4), ...columns.scale.subarray(3 * k, 3 * k + 3)]).toEqual([i, i + 0.25, i + 0.5, i + 0.75, i + 1, i + 2, i + 3])
        expect([columns.position[3 * k], columns.position[3 * k + 2]]).toEqual([block.position[3 * i], block.position[3 * i + 2]])
        expect([tint[k], run.asset]).toEqual([block.tint[i], block.asset[i]])
        expect(columns.position[3 * k]).toBeGreaterThan(run.rect.x0 - 0.2)
        expect(columns.position[3 * k]).toBeLessThan(run.rect.x1 + 0.2)
        expect(columns.position[3 * k + 2]).toBeGreaterThan(run.rect.z0 - 0.2)
        expect(columns.position[3 * k + 2]).toBeLessThan(run.rect.z1 + 0.2)
      }
    }
    expect(at).toBe(count)
    expect(seen.size).toBe(count)
    const perAsset = runs.length / assets
    // 5,000 in 64 m: sixteen parts of 16 m, of some 300 each.
    expect(perAsset).toBe(count === 5000 ? 16 : count === 300 ? 1 : 4)
  })

  it('is all of an asset where the tile holds few or is small, straight from the block', () => {
    const few = blockOver(400, 2)
    expect(runsOfTile(few, rect).columns.position).toBe(few.position)
    const block = blockOver(5000, 2)
    const small = runsOfTile(block, { x0: 0, z0: 0, x1: 16, z1: 16 })
    expect(small.columns.position).toBe(block.position)
    // What stands beyond its tile is within what is looked at for it.
    for (const { rect: { x0, z0, x1, z1 } } of small.runs) expect(block.position.every((value, i) => (i % 3 === 0 ? value >= x0 && value <= x1 : i % 3 === 2 ? value >= z0 && value <= z1 : true))).toBe(true)
    expect(small.runs.map(({ asset, start, end }) => ({ asset, start, end }))).toEqual(assetRuns(block))
  })
})
