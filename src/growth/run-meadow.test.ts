import { createHash } from 'node:crypto'
import type { ParamValue } from '../core/kinds.ts'
import { defaultsOf } from '../core/kinds.ts'
import type { Meadow } from '../core/meadow.ts'
import { makeDemo } from '../demo/demo-meadow.ts'
import { bytesToHeights, hashBytes, heightsToBytes } from '../document/blobs.ts'
import { newMeadow } from '../document/new-planting.ts'
import { HANDOFF_FORMS } from '../formats/handoff-forms.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import { createNodePool } from '../runner/node-pool.ts'
import type { Pool } from '../runner/pool.ts'
import { assetOf, rowsOf, spreadOf } from '../testing/fields.ts'
import type { GrownPlanting } from './run-meadow.ts'
import { runMeadow } from './run-meadow.ts'
import { inTileOrder } from './tile-order.ts'

const demo = await makeDemo()
// Rooms against rooms, a neighbour asked for, a mesh grown on, every kind of planting, posies of posies: a part of the demo that has all of it.
const WANTED = new Set(['pines', 'shrubs', 'samphire', 'barnacles', 'shells', 'drift', 'tussocks', 'planks', 'walk-rails', 'quay', 'fish-trap', 'plank-barnacles', 'lanterns', 'haycocks'])
const meadow: Meadow = { ...demo.meadow, plantings: demo.meadow.plantings.filter(({ id }) => WANTED.has(id)) }
const now = () => performance.now()

async function grownBy(pool: Pool, focus?: readonly [number, number]): Promise<GrownPlanting[]> {
  const grown = await runMeadow(meadow, demo.blobs, pool, { now, focus })
  pool.close()
  return grown
}

/** A name of every byte of every form. */
function bytesOf(plantings: readonly GrownPlanting[]): string {
  const assets = new Map([...meadow.assets, ...meadow.meshes].map(({ id, blob }) => [id, demo.blobs.get(blob) as Uint8Array<ArrayBuffer>]))
  const heights = bytesToHeights(demo.blobs.get(meadow.ground.blob) as Uint8Array<ArrayBuffer>)
  const hash = createHash('sha256')
  for (const form of HANDOFF_FORMS.all)
    for (const piece of form.write({ meadow, plantings, assets, heights }, defaultsOf(form.params) as Record<string, ParamValue>, () => undefined)) hash.update(piece)
  return hash.digest('hex')
}

describe('a whole meadow, grown without a page', () => {
  it('hands off the same bytes in every form, from one worker or two, inline or in threads, wherever growing begins', async () => {
    expect(new Set(meadow.plantings.map(({ kind }) => kind))).toEqual(new Set(PLANTINGS.all.map(({ kind }) => kind)))
    const first = await grownBy(createInlinePool(1))
    expect(first.map(({ id }) => id)).toEqual(meadow.plantings.map(({ id }) => id))
    for (const { blocks, state } of first) {
      expect(state?.phase).toBe('ready')
      expect(blocks.reduce((sum, { count }) => sum + count, 0)).toBe(state?.count)
    }
    const wanted = bytesOf(first)
    for (const focus of [[180, 150], [-190, 20], [3, -160], [60, 60]] as const) expect(bytesOf(await grownBy(createInlinePool(1), focus))).toBe(wanted)
    expect(bytesOf(await grownBy(createInlinePool(2), [-100, 100]))).toBe(wanted)
    // Threads that see each other's memory, and threads that are handed copies.
    for (const shared of [true, false]) expect(bytesOf(await grownBy(createNodePool(2, 60_000, shared), [100, -100]))).toBe(wanted)
    expect(bytesOf(await grownBy(createInlinePool(2, true), [50, 100]))).toBe(wanted)
  })

  it('lets no two rooms of different plantings overlap, across the borders of tiles of any size', async () => {
    const heights = heightsToBytes(new Float32Array(4))
    const name = await hashBytes(heights)
    const planting = (id: string, params: Record<string, ParamValue>) => spreadOf({ size: { from: 1, to: 1 }, lean: { from: 0, to: 0 }, ...params }, { id, seed: 5 + id.length })
    const flat: Meadow = {
      ...newMeadow('Flat', name, { samples: 2, size: 500 }),
      assets: [assetOf('a', 1)],
      nextAsset: 1,
      plantings: [planting('wide', { spacing: 9, room: 4 }), planting('close', { spacing: 1.4, room: 0.5 }), planting('between', { spacing: 3, room: 1, placing: 'random' })],
    }
    const grown = await runMeadow(flat, new Map([[name, heights]]), createInlinePool(1), { now })
    const rooms = grown.flatMap(({ id, blocks }) => rowsOf(blocks).map(({ x, z, room }) => ({ id, x, z, room })))
    expect(rooms.length).toBeGreaterThan(20_000)
    rooms.sort((a, b) => a.x - b.x)
    let overlaps = 0
    rooms.forEach((one, at) => {
      for (let k = at + 1; k < rooms.length && rooms[k].x - one.x < 8; k++)
        if (rooms[k].id !== one.id && Math.hypot(rooms[k].x - one.x, rooms[k].z - one.z) < rooms[k].room + one.room - 1e-4) overlaps++
    })
    expect(overlaps).toBe(0)
  })

  it('says which meadow lacks a part', async () => {
    await expect(runMeadow(meadow, new Map(), createInlinePool(1), { now })).rejects.toThrow('A part of “Gullhaven Saltings” is missing')
  })

  it('orders blocks by their tiles, not by when they came', () => {
    const tile = (x: number, z: number) => ({ block: { x, z } as never, rect: { x0: x, z0: z, x1: x + 8, z1: z + 8 } })
    const there = [tile(-8, 0), tile(0, -8), tile(-16, -8), tile(64, 0)]
    const orders = [there, [...there].reverse(), [there[2], there[0], there[3], there[1]]].map((some) => inTileOrder(new Map(some.map((one, k) => [`tile ${k}`, one]))))
    for (const order of orders) expect(order).toEqual([{ x: -16, z: -8 }, { x: 0, z: -8 }, { x: -8, z: 0 }, { x: 64, z: 0 }])
  })
})
