import { createHash } from 'node:crypto'
import type { Block } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import { hashBytes, heightsToBytes } from '../document/blobs.ts'
import { newMeadow } from '../document/new-planting.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import { assetOf, hilly, spreadOf } from '../testing/fields.ts'
import { createGrower } from './grower.ts'
import { partsAmong } from './run-meadow.ts'
import { createShares } from './shares.ts'

const SIZE = 128
const heights = heightsToBytes(Float32Array.from(hilly(SIZE, 65).heights))
const name = await hashBytes(heights)
const meadowOf = (params: Record<string, number>): Meadow => ({
  ...newMeadow('Order', name, { samples: 65, size: SIZE }),
  assets: [assetOf('a', 0.1)],
  nextAsset: 1,
  plantings: [spreadOf({ room: 0, ...params }, { id: 'p' })],
})

interface Seen {
  readonly tile: string
  readonly rect: Rect
  readonly count: number
}

async function bench(meadow: Meadow, onTile: (seen: Seen) => void = () => undefined) {
  const pool = createInlinePool(1)
  await createShares(pool, partsAmong(new Map([[name, heights]]))).with(meadow)
  const shown = new Map<string, Block>()
  const seen: Seen[] = []
  const grower = createGrower(
    pool,
    {
      onTile(_planting, tile, block, rect) {
        if (block) shown.set(tile, block)
        else shown.delete(tile)
        const one = { tile, rect, count: block?.count ?? 0 }
        seen.push(one)
        onTile(one)
      },
      onState: () => undefined,
      onGone: () => undefined,
      onDone: () => undefined,
    },
    () => performance.now(),
  )
  const contents = () => {
    const hash = createHash('sha256')
    for (const key of [...shown.keys()].sort()) hash.update(key).update(new Uint8Array((shown.get(key) as Block).buffer))
    return hash.digest('hex')
  }
  return { pool, grower, seen, contents, count: () => [...shown.values()].reduce((sum, block) => sum + block.count, 0) }
}

const away = ({ rect: { x0, z0, x1, z1 } }: Seen, [x, z]: readonly [number, number]) => Math.hypot((x0 + x1) / 2 - x, (z0 + z1) / 2 - z)

describe('the order of growing', () => {
  it('begins where the eye looks, and goes outwards', async () => {
    for (const focus of [[0, 0], [50, -40], [-60, 60]] as const) {
      const meadow = meadowOf({ spacing: 0.6 })
      const { pool, grower, seen } = await bench(meadow)
      await grower.grow(meadow, focus)
      expect(seen.length).toBeGreaterThan(15)
      // Two are under way at a time, so that neighbours in the order may come in the other way round.
      for (let k = 4; k < seen.length; k++) expect(away(seen[k], focus)).toBeGreaterThan(away(seen[k - 4], focus) - 1e-6)
      expect(away(seen[0], focus)).toBeLessThan(away(seen[seen.length - 1], focus) / 2)
      pool.close()
    }
  })

  it('of very many a coarse look comes first, a part of the whole in every tile, then all of it', async () => {
    const meadow = meadowOf({ spacing: 0.25 })
    const { pool, grower, seen, count } = await bench(meadow)
    await grower.grow(meadow, [0, 0])
    const tiles = seen.length / 2
    const [coarse, whole] = [seen.slice(0, tiles), seen.slice(tiles)]
    expect(new Set(coarse.map(({ tile }) => tile)).size).toBe(tiles)
    expect(new Set(whole.map(({ tile }) => tile))).toEqual(new Set(coarse.map(({ tile }) => tile)))
    const all = (list: readonly Seen[]) => list.reduce((sum, one) => sum + one.count, 0)
    expect(all(whole)).toBe(count())
    expect(all(whole)).toBeGreaterThan(150_000)
    expect(all(coarse)).toBeGreaterThan(15_000)
    expect(all(coarse)).toBeLessThan(35_000)
    pool.close()
  })

  it('a coarse look that was called off is never taken for the whole', async () => {
    const meadow = meadowOf({ spacing: 0.25 })
    const fresh = await bench(meadow)
    await fresh.grower.grow(meadow, [0, 0])
    fresh.pool.close()
    let calls = 0
    const { pool, grower, contents, count } = await bench(meadow, () => {
      // In the middle of the coarse tiles, and once more just after them.
      calls++
      if (calls === 20 || calls === 90) grower.cancel()
    })
    await grower.grow(meadow, [0, 0])
    expect(count()).toBeLessThan(30_000)
    await grower.grow(meadow, [0, 0])
    expect(count()).toBeLessThan(150_000)
    await grower.grow(meadow, [0, 0])
    expect(contents()).toBe(fresh.contents())
    pool.close()
  })

  it('a newer request calls the older one off, and what it had grown already is kept where it still holds', async () => {
    const meadow = meadowOf({ spacing: 0.6 })
    const { pool, grower, seen, contents } = await bench(meadow)
    const first = grower.grow(meadow, [-60, -60])
    const second = grower.grow(meadow, [60, 60])
    await Promise.all([first, second])
    const fresh = await bench(meadow)
    await fresh.grower.grow(meadow, [0, 0])
    expect(contents()).toBe(fresh.contents())
    const before = seen.length
    await grower.grow(meadow, [0, 0])
    expect(seen.length).toBe(before)
    pool.close()
    fresh.pool.close()
  })
})
