import fc from 'fast-check'
import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import { lowestKeys } from './exact-count.ts'

const never = () => Promise.resolve()

/** A block of rows of (key, id), the asset numbering them. */
function blockFrom(rows: readonly (readonly [number, number])[], first: number): Block {
  const block = blockOf(rows.length)
  rows.forEach(([key, id], i) => {
    block.key[i] = key
    block.idLow[i] = id
    block.idHigh[i] = id >> 3
    block.asset[i] = first + i
  })
  return block
}

const kept = (blocks: readonly Block[]) => blocks.flatMap((block) => [...block.asset]).sort((a, b) => a - b)

describe('an exact count', () => {
  it('takes the lowest keys, then ids, as sorting all of them does, however they are cut into blocks', async () => {
    // Few different keys, so that many are equal and share a bin; ids never are.
    const key = fc.oneof(fc.integer({ min: 0, max: 8 }).map((k) => k / 8), fc.double({ min: 0, max: 1, noNaN: true }))
    await fc.assert(
      fc.asyncProperty(fc.array(key, { maxLength: 300 }), fc.integer({ min: 0, max: 320 }), fc.integer({ min: 1, max: 60 }), async (keys, count, side) => {
        const rows = keys.map((one, i) => [Math.fround(one), (i * 7919) % 65536] as const)
        const blocks: Block[] = []
        for (let at = 0; at < rows.length; at += side) blocks.push(blockFrom(rows.slice(at, at + side), at))
        const wanted = rows
          .map(([one, id], i) => ({ one, high: id >> 3, id, i }))
          .sort((a, b) => a.one - b.one || a.high - b.high || a.id - b.id)
          .slice(0, count)
          .map(({ i }) => i)
          .sort((a, b) => a - b)
        const found = await lowestKeys(blocks, count, never)
        expect(found.length).toBe(blocks.length)
        expect(kept(found)).toEqual(wanted)
        // Cut into other blocks the same ones stay.
        expect(kept(await lowestKeys([blockFrom(rows, 0)], count, never))).toEqual(wanted)
      }),
      { numRuns: 120, seed: 20261126 },
    )
  })

  it('leaves the blocks as they are when there are no more than are wanted, and gives others a turn', async () => {
    const blocks = [blockFrom([[0.5, 1], [0.1, 2]], 0), blockFrom([[1, 3]], 2)]
    let turns = 0
    const found = await lowestKeys(blocks, 3, async () => void turns++)
    expect(found[0]).toBe(blocks[0])
    expect(found[1]).toBe(blocks[1])
    expect(turns).toBeGreaterThan(0)
    expect(kept(await lowestKeys(blocks, 0, never))).toEqual([])
  })
})
