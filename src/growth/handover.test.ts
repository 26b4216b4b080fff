import { assetOf, condition, outlineOf, spreadOf } from '../testing/fields.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { newMeadow } from '../document/new-planting.ts'
import { GROW_TILE } from '../runner/grow-refs.ts'
import { createGrower } from './grower.ts'
import { createHandover } from './handover.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import type { Pool } from '../runner/pool.ts'
import type { Shared } from '../runner/protocol.ts'
import { setupOf } from './setup.ts'

/** A shore of so many points around the middle. */
function shore(points: number): number[] {
  return Array.from({ length: 2 * points }, (_, k) => (k % 2 === 0 ? 30 * Math.cos((Math.PI * k) / points) : 30 * Math.sin((Math.PI * (k - 1)) / points)))
}

function meadowWith(points: number): Meadow {
  const planting = spreadOf({ spacing: 4 }, { id: 'inside', habitat: [condition('patch', { patch: 'patch' })] })
  const plain = spreadOf({ spacing: 5 }, { id: 'plain' })
  return { ...newMeadow('Shore', 'g'.repeat(64), { samples: 9, size: 80 }), assets: [assetOf('a', 0.2)], plantings: [planting, plain], outlines: [outlineOf('patch', [shore(points)])] }
}

/** A pool that notes what is shared and forgotten. */
function listening(pool: Pool): { pool: Pool; held: Map<string, Shared>; said: string[]; messages: unknown[] } {
  const held = new Map<string, Shared>()
  const said: string[] = []
  const messages: unknown[] = []
  return {
    held,
    said,
    messages,
    pool: {
      ...pool,
      share(shared) {
        held.set(shared.name, shared)
        said.push(`${shared.type} shared`)
        pool.share(shared)
      },
      forget(name) {
        said.push(`${held.get(name)?.type} forgotten`)
        held.delete(name)
        pool.forget(name)
      },
      run(task, input, options) {
        if (task.name === GROW_TILE.name) messages.push(input)
        return pool.run(task, input, options)
      },
    },
  }
}

const changed = (meadow: Meadow, id: string, change: Partial<Planting>): Meadow => ({ ...meadow, plantings: meadow.plantings.map((one) => (one.id === id ? { ...one, ...change } : one)) })

describe('what is handed to workers', () => {
  it('goes once, each outline by itself, and what is not needed is taken back', () => {
    const { pool, held, said } = listening(createInlinePool(1))
    const handover = createHandover(pool)
    const meadow = meadowWith(50)
    const give = (one: Meadow) => one.plantings.map((planting) => handover.give(one, planting, 0))
    give(meadow)
    expect(said).toEqual(['thing shared', 'setup shared', 'setup shared'])
    give(meadow)
    expect(said.length).toBe(3)
    // Another setting: a new setup, the same outline. The one before stays until there is another.
    give(changed(meadow, 'inside', { seed: 8 }))
    expect(said.slice(3)).toEqual(['setup shared'])
    give(changed(meadow, 'inside', { seed: 9 }))
    expect(said.slice(4)).toEqual(['setup shared', 'setup forgotten'])
    // A moved point: the outline goes anew.
    const moved = { ...meadow, outlines: [outlineOf('patch', [[...shore(50).slice(0, 99), 3]])] }
    give(moved)
    expect(said.slice(6)).toEqual(['thing shared', 'setup shared', 'setup forgotten'])
    // Name, colour and lock are nothing to growing.
    give({ ...moved, outlines: moved.outlines.map((one) => ({ ...one, name: 'Renamed', colour: '#ff0000', locked: true })) })
    give(changed(moved, 'inside', { name: 'Renamed', colour: '#00ff00', locked: true, visible: false }))
    expect(said.length).toBe(9)
    // Questions, as a drag with the habitat shown asks them, take nothing back from what is growing.
    const growing = setupOf(moved, moved.plantings[0], 0).setup.key
    for (let seed = 20; seed < 40; seed++) handover.giveToAsk(changed(moved, 'inside', { seed }), { ...moved.plantings[0], seed })
    expect(held.has(growing)).toBe(true)
    expect([...held.values()].filter(({ type }) => type === 'setup').length).toBe(2 + 1 + 8)
    handover.keepOnly(new Set(['plain']))
    expect([...held.values()].map(({ type }) => type)).toEqual(['setup'])
    handover.keepOnly(new Set())
    expect(held.size).toBe(0)
    pool.close()
  })

  it('is small for each tile, and names all that matters: an outline of 100,000 points travels once', async () => {
    const meadow = meadowWith(100_000)
    const { pool, messages } = listening(createInlinePool(1))
    pool.share({ type: 'terrain', name: `${'g'.repeat(64)}/80/80`, heights: new Float32Array(81), columns: 9, rows: 9, sizeX: 80, sizeZ: 80 })
    const grower = createGrower(pool, { onTile: () => undefined, onState: () => undefined, onGone: () => undefined, onDone: () => undefined }, () => performance.now())
    await grower.grow(meadow, [0, 0])
    expect(messages.length).toBeGreaterThan(1)
    for (const message of messages) expect(JSON.stringify(message).length).toBeLessThan(20_000)
    const inside = grower.blocksOf('inside')
    expect(inside.reduce((sum, { count }) => sum + count, 0)).toBeGreaterThan(50)
    for (const { position, count } of inside) for (let i = 0; i < count; i++) expect(Math.hypot(position[3 * i], position[3 * i + 2])).toBeLessThan(30.001)
    pool.close()
  })

  it('has another name for every change that matters, and the same for copies', () => {
    const meadow = meadowWith(20)
    const key = (one: Meadow) => setupOf(one, one.plantings[0], 0).setup.key
    const names = [
      meadow,
      changed(meadow, 'inside', { seed: 1 }),
      changed(meadow, 'inside', { habitat: [] }),
      changed(meadow, 'inside', { mix: [] }),
      changed(meadow, 'inside', { combine: 'any' }),
      changed(meadow, 'inside', { params: { ...meadow.plantings[0].params, spacing: 4.1 } }),
      { ...meadow, water: { shown: false, level: 3 } },
      { ...meadow, ground: { ...meadow.ground, sizeX: 81 } },
      { ...meadow, assets: [assetOf('a', 0.3)] },
      { ...meadow, assets: [{ ...assetOf('a', 0.2), number: 7 }] },
      { ...meadow, outlines: [outlineOf('patch', [shore(21)])] },
      { ...meadow, outlines: [outlineOf('patch', [shore(20)], { smooth: true })] },
    ].map((one) => key(one as Meadow))
    expect(new Set(names).size).toBe(names.length)
    expect(key(structuredClone(meadow))).toBe(names[0])
    // What is on the shelf but in no mix, or not named, is nothing to it.
    expect(key({ ...meadow, assets: [...meadow.assets, assetOf('b', 1)], outlines: [...meadow.outlines, { ...outlineOf('patch', [[0, 0, 1, 1, 2, 0]]), id: 'other' }] })).toBe(names[0])
  })
})
