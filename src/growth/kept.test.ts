import { createHash } from 'node:crypto'
import type { Meadow } from '../core/meadow.ts'
import { makeDemo } from '../demo/demo-meadow.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import { createGrower } from './grower.ts'
import type { Pack } from './kept.ts'
import { partsAmong } from './run-meadow.ts'
import { createShares } from './shares.ts'

const demo = await makeDemo()
const FEW = ['pine', 'shrub', 'stone', 'heather']
/** A few plantings of the demo, trees and what yields to them, and one of an exact count. */
const meadow: Meadow = (() => {
  const posies = new Set(demo.meadow.assets.flatMap(({ id, parts }) => (parts.length > 0 ? [id] : [])))
  const some = demo.meadow.plantings.filter(({ kind, mix }) => kind === 'spread' && !mix.some(({ asset }) => posies.has(asset))).slice(0, FEW.length + 1)
  return { ...demo.meadow, plantings: some.map((one, k) => (k === 1 ? { ...one, params: { ...one.params, by: 'count', count: 300 } } : one)) }
})()

/** A grower with what it shows, as an opening of the meadow has it. */
async function opening(of: Meadow, packs: readonly unknown[] = [], engine = 'one') {
  const pool = createInlinePool(1)
  await createShares(pool, partsAmong(demo.blobs)).with(of)
  const shown = new Map<string, Uint8Array>()
  let prepared = 0
  let done = -1
  const watched = { ...pool, run: ((task, input, options) => {
    if (task.name === 'prepare') prepared++
    return pool.run(task, input, options)
  }) as typeof pool.run }
  const grower = createGrower(watched, {
    onTile: (planting, tile, block) => (block ? shown.set(`${planting} ${tile}`, new Uint8Array(block.buffer)) : shown.delete(`${planting} ${tile}`)),
    onState: () => undefined,
    onGone: (planting) => [...shown.keys()].filter((key) => key.startsWith(`${planting} `)).forEach((key) => shown.delete(key)),
    onDone: (_ms, tiles) => (done = tiles),
  }, () => performance.now(), { engine })
  const taken = packs.map((pack) => grower.restore(pack))
  const before = shown.size
  await grower.grow(of, [0, 0])
  pool.close()
  const hash = createHash('sha256')
  for (const key of [...shown.keys()].sort()) hash.update(key).update(shown.get(key) as Uint8Array)
  return { grower, taken, before, grown: done, prepared, shown: hash.digest('hex'), tiles: shown.size, packs: () => grower.packs().flatMap(({ plans }) => (plans ?? []).map((plan) => plan.make())) }
}

const first = await opening(meadow)
const packs: readonly Pack[] = structuredClone(first.packs())

describe('what has grown is kept', () => {
  it('and shown at the next opening before anything grows; nothing grows, nothing is prepared, and it is the very same', async () => {
    expect(first.grown).toBeGreaterThan(50)
    const again = await opening(meadow, packs)
    expect(again.taken.every((one) => one !== null)).toBe(true)
    expect(again.before).toBeGreaterThan(0.6 * first.tiles)
    expect(again.grown).toBe(0)
    expect(again.prepared).toBe(0)
    expect(again.shown).toBe(first.shown)
    // What is unchanged has its name, and need not be written again.
    expect(again.packs().map(({ name }) => name)).toEqual(packs.map(({ name }) => name))
  })

  it('in packs of a megabyte or so', () => {
    expect(packs.length).toBeGreaterThan(meadow.plantings.length)
    for (const { bytes } of packs) expect(bytes.length).toBeLessThan(2.5e6)
  })

  it('what no longer fits grows anew: a planting that was changed, and tiles that its rooms reach', async () => {
    const spaced = { ...meadow, plantings: meadow.plantings.map((one, k) => (k === 2 ? { ...one, params: { ...one.params, spacing: 2.1 } } : one)) }
    const fresh = await opening(spaced)
    const kept = await opening(spaced, packs)
    expect(kept.shown).toBe(fresh.shown)
    expect(kept.grown).toBeGreaterThan(0)
    expect(kept.grown).toBeLessThan(fresh.grown)
  })

  it('a planting that is gone is not shown', async () => {
    const without = { ...meadow, plantings: meadow.plantings.slice(1) }
    expect((await opening(without, packs)).shown).toBe((await opening(without)).shown)
  })

  for (const [how, spoil] of [
    ['with a byte that has changed', (pack) => ({ ...pack, bytes: pack.bytes.map((byte, i) => (i === 40 ? byte ^ 1 : byte)) })],
    ['cut short', (pack) => ({ ...pack, bytes: pack.bytes.slice(0, pack.bytes.length - 4) })],
    ['that says other counts', (pack) => ({ ...pack, tiles: pack.tiles.map((tile, i) => (i === 0 ? { ...tile, count: tile.count + 1 } : tile)) })],
    ['of another engine', (pack) => ({ ...pack, engine: 'older' })],
    ['that is none at all', () => ({ some: 'thing' })],
    ['that is nothing', () => null],
  ] as [string, (pack: Pack) => unknown][])
    it(`a pack ${how} is grown anew`, async () => {
      const largest = packs.reduce((most, pack) => (pack.bytes.length > most.bytes.length ? pack : most))
      const again = await opening(meadow, packs.map((pack) => (pack === largest ? spoil(pack) : pack)))
      expect(again.taken.filter((one) => one === null).length).toBe(1)
      expect(again.shown).toBe(first.shown)
      expect(again.grown).toBe(largest.tiles.length)
    })

  it('nothing of what is growing is planned to be kept', async () => {
    const { grower } = await opening(meadow, packs)
    const going = grower.grow({ ...meadow, plantings: meadow.plantings.map((one) => ({ ...one, seed: one.seed + 1 })) }, [0, 0])
    grower.cancel()
    await going
    expect(grower.packs().some(({ plans }) => plans === null)).toBe(true)
  })
})
