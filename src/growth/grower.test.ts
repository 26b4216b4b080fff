import { createHash } from 'node:crypto'
import type { Meadow } from '../core/meadow.ts'
import { bytesToHeights } from '../document/blobs.ts'
import { makeDemo } from '../demo/demo-meadow.ts'
import { condition } from '../testing/fields.ts'
import type { Grower } from './grower.ts'
import type { PlantingState } from './planting-state.ts'
import { createGrower } from './grower.ts'
import { terrainName } from './setup.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import type { Pool } from '../runner/pool.ts'

const demo = await makeDemo()

interface Bench {
  grower: Grower
  pool: Pool
  states: Map<string, PlantingState>
  grownTiles: () => number
}

function benchFor(meadow: Meadow, heights: Float32Array<ArrayBuffer>, workers = 1, most?: number): Bench {
  const pool = createInlinePool(workers, true)
  const { columns, rows, sizeX, sizeZ } = meadow.ground
  pool.share({ type: 'terrain', name: terrainName(meadow), heights, columns, rows, sizeX, sizeZ })
  for (const { shape: name } of meadow.meshes) pool.share({ type: 'bytes', name, bytes: demo.blobs.get(name) as Uint8Array<ArrayBuffer> })
  const states = new Map<string, PlantingState>()
  let tiles = 0
  const grower = createGrower(
    pool,
    {
      onTile: () => undefined,
      onState: (planting, state) => states.set(planting, state),
      onGone: (planting) => states.delete(planting),
      onDone: (_ms, grown) => (tiles = grown),
    },
    () => performance.now(),
    { most },
  )
  return { grower, pool, states, grownTiles: () => tiles }
}

/** A name of all that stands, whatever tiles it came in. */
function contents(grower: Grower, meadow: Meadow): string {
  const hash = createHash('sha256')
  for (const planting of meadow.plantings) {
    const rows: string[] = []
    for (const b of grower.blocksOf(planting.id))
      for (let i = 0; i < b.count; i++)
        rows.push(`${b.idHigh[i]}:${b.idLow[i]}:${b.asset[i]}:${b.position.subarray(3 * i, 3 * i + 3)}:${b.rotation.subarray(4 * i, 4 * i + 4)}`)
    hash.update(rows.sort().join('\n'))
  }
  return hash.digest('hex')
}

/** The demo on a quarter of the work: only some plantings. */
async function smallDemo(): Promise<{ meadow: Meadow; heights: Float32Array<ArrayBuffer> }> {
  const { meadow, blobs } = demo
  const wanted = new Set(['pines', 'shrubs', 'samphire', 'cordgrass'])
  const small: Meadow = { ...meadow, plantings: meadow.plantings.filter((planting) => wanted.has(planting.id)) }
  return { meadow: small, heights: bytesToHeights(blobs.get(meadow.ground.blob) as Uint8Array<ArrayBuffer>) }
}

const change = (meadow: Meadow, id: string, params: Meadow['plantings'][number]['params']): Meadow => ({
  ...meadow,
  plantings: meadow.plantings.map((p) => (p.id === id ? { ...p, params: { ...p.params, ...params } } : p)),
})

describe('the grower', () => {
  it('ends with the same instances whatever was grown before, and with one worker or three', async () => {
    const { meadow, heights } = await smallDemo()
    const straight = benchFor(meadow, heights)
    await straight.grower.grow(meadow, [0, 0])
    const winding = benchFor(meadow, heights, 3)
    await winding.grower.grow(change(meadow, 'pines', { spacing: 9 }), [50, 50])
    // Not waited for: the next call takes over.
    void winding.grower.grow(change(meadow, 'shrubs', { spacing: 3 }), [0, 90])
    await winding.grower.grow(meadow, [0, 0])
    expect(contents(winding.grower, meadow)).toBe(contents(straight.grower, meadow))
    straight.pool.close()
    winding.pool.close()
  })

  it('grows again only what a change can reach', async () => {
    const { meadow, heights } = await smallDemo()
    const { grower, pool, grownTiles } = benchFor(meadow, heights)
    await grower.grow(meadow, [0, 0])
    const all = grownTiles()
    await grower.grow({ ...meadow, name: 'Other', plantings: meadow.plantings.map((p) => ({ ...p, name: 'x', visible: false })) }, [0, 0])
    expect(grownTiles()).toBe(0)
    await grower.grow(change(meadow, 'cordgrass', { lean: { from: 0, to: 1 } }), [0, 0])
    expect(grownTiles()).toBeGreaterThan(0)
    expect(grownTiles()).toBeLessThan(all / 2)
    pool.close()
  })

  it('keeps later plantings out of earlier rooms over the whole ground', async () => {
    const { meadow, heights } = await smallDemo()
    const { grower, pool } = benchFor(meadow, heights)
    await grower.grow(meadow, [0, 0])
    const pines = grower.blocksOf('pines').flatMap((b) => Array.from({ length: b.count }, (_, i) => [b.position[3 * i], b.position[3 * i + 2], b.room[i]]))
    let nearest = Infinity
    for (const b of grower.blocksOf('shrubs'))
      for (let i = 0; i < b.count; i++)
        for (const [x, z, room] of pines)
          nearest = Math.min(nearest, Math.hypot(b.position[3 * i] - x, b.position[3 * i + 2] - z) - room - b.room[i])
    expect(pines.length).toBeGreaterThan(100)
    expect(nearest).toBeGreaterThan(-1e-4)
    expect(nearest).toBeLessThan(0.5)
    pool.close()
  })

  it('gives an exact count just so, the same few within the many, and says when it cannot', async () => {
    const { meadow, heights } = await smallDemo()
    const { grower, pool, states } = benchFor(meadow, heights)
    const ids = () => new Set(grower.blocksOf('shrubs').flatMap((b) => Array.from(b.idHigh, (high, i) => `${high}:${b.idLow[i]}`)))
    await grower.grow(change(meadow, 'shrubs', { by: 'count', count: 700 }), [0, 0])
    expect(states.get('shrubs')?.count).toBe(700)
    const few = ids()
    await grower.grow(change(meadow, 'shrubs', { by: 'count', count: 750 }), [0, 0])
    expect(states.get('shrubs')?.count).toBe(750)
    const many = ids()
    expect([...few].filter((id) => !many.has(id)).length).toBe(0)
    await grower.grow(change(meadow, 'shrubs', { by: 'count', count: 30000 }), [0, 0])
    expect(states.get('shrubs')?.sentence).toMatch(/^Only [\d,]+ of 30,000 find a place/)
    pool.close()
  })
})

describe('an exact count with finer candidates', () => {
  it('is left alone when another planting changes', async () => {
    const { meadow, heights } = await smallDemo()
    const { grower, pool, grownTiles, states } = benchFor(meadow, heights)
    const dense = change(meadow, 'pines', { by: 'count', count: 3000 })
    await grower.grow(dense, [0, 0])
    const stood = grower.blocksOf('pines')
    await grower.grow(change(dense, 'cordgrass', { lean: { from: 0, to: 1 } }), [0, 0])
    expect(states.get('pines')?.phase).toBe('ready')
    // The very same blocks: nothing of it was grown, trimmed or told anew.
    grower.blocksOf('pines').forEach((block, i) => expect(block).toBe(stood[i]))
    expect(grownTiles()).toBeGreaterThan(0)
    pool.close()
  })
})

describe('a planting of which nothing grows', () => {
  const narrowed = (meadow: Meadow, habitat: Meadow['plantings'][number]['habitat'], mix?: []): Meadow => ({
    ...meadow,
    plantings: [{ ...meadow.plantings[0], habitat, ...(mix ? { mix } : {}) }],
  })

  it('names the condition that leaves nothing, alone or after the others, and the empty mix', async () => {
    const { meadow, heights } = await smallDemo()
    const { grower, pool, states } = benchFor(meadow, heights)
    const id = meadow.plantings[0].id
    const sentence = async (next: Meadow) => {
      await grower.grow(next, [0, 0])
      expect(states.get(id)?.count).toBe(0)
      return states.get(id)?.sentence
    }
    const steep = condition('slope', { slope: { from: 85, to: 90 } })
    expect(await sentence(narrowed(meadow, [condition('height'), steep]))).toMatch(/^Nothing grows, as no ground meets “Slope”/)
    const low = condition('height', { height: { from: null, to: 0 } })
    const dry = condition('above-water', { above: { from: 1, to: null } })
    expect(await sentence(narrowed(meadow, [low, dry]))).toMatch(/^Nothing grows, as “Height above water” leaves nothing/)
    expect(await sentence(narrowed(meadow, [], []))).toMatch(/its mix is empty/)
    await grower.grow(meadow, [0, 0])
    expect(states.get(id)?.sentence).toBeNull()
    pool.close()
  })
})

describe('a flood', () => {
  it('is refused with a sentence before it starts, and what stood there is taken away', async () => {
    const { meadow, heights } = await smallDemo()
    const { grower, pool, states } = benchFor(meadow, heights)
    await grower.grow(meadow, [0, 0])
    await grower.grow(change(meadow, 'cordgrass', { spacing: 0.02 }), [0, 0])
    expect(states.get('cordgrass')?.sentence).toMatch(/^This would be about [\d.]+ million instances, and at most 2 million/)
    expect(states.get('cordgrass')?.phase).toBe('failed')
    expect(grower.blocksOf('cordgrass')).toEqual([])
    expect(states.get('pines')?.count).toBeGreaterThan(100)
    await grower.grow(meadow, [0, 0])
    expect(states.get('cordgrass')?.count).toBeGreaterThan(5000)
    pool.close()
  })

  it('is refused too when all plantings together would be too many', async () => {
    const { meadow, heights } = await smallDemo()
    const { grower, pool, states } = benchFor(meadow, heights, 1, 2000)
    await grower.grow(meadow, [0, 0])
    const phases = meadow.plantings.map(({ id }) => states.get(id)?.phase)
    expect(phases).toContain('ready')
    expect(phases).toContain('failed')
    const failed = meadow.plantings.find(({ id }) => states.get(id)?.phase === 'failed')
    expect(states.get(failed?.id ?? '')?.sentence).toMatch(/together with the other plantings/)
    const total = meadow.plantings.flatMap((p) => grower.blocksOf(p.id)).reduce((sum, b) => sum + b.count, 0)
    expect(total).toBeLessThanOrEqual(2000)
    pool.close()
  })
})

describe('plantings that name others', () => {
  const away = (planting: string) => condition('planting', { planting, distance: 3 })
  const withHabitat = (meadow: Meadow, habitats: Readonly<Record<string, ReturnType<typeof condition>[]>>): Meadow => ({
    ...meadow,
    plantings: meadow.plantings.map((one) => (habitats[one.id] ? { ...one, habitat: habitats[one.id] } : one)),
  })

  it('keep away across tiles as over all pairs, and grow again when the other one changes', async () => {
    const { meadow: small, heights } = await smallDemo()
    const meadow = withHabitat(small, { shrubs: [away('pines')] })
    const { grower, pool, grownTiles } = benchFor(meadow, heights, 2)
    await grower.grow(meadow, [0, 0])
    const placesOf = (id: string) => grower.blocksOf(id).flatMap((b) => Array.from({ length: b.count }, (_, i) => [b.position[3 * i], b.position[3 * i + 2]]))
    const check = () => {
      const pines = placesOf('pines')
      const shrubs = placesOf('shrubs')
      expect(pines.length).toBeGreaterThan(50)
      expect(shrubs.length).toBeGreaterThan(1000)
      // The rim is soft within the last fifth of the distance.
      for (const [x, z] of shrubs) if (pines.some(([a, b]) => Math.hypot(a - x, b - z) < 0.8 * 3 - 1e-3)) throw new Error(`a shrub at ${x}, ${z} stands too near`)
    }
    check()
    await grower.grow({ ...meadow, plantings: meadow.plantings.map((one) => (one.id === 'pines' ? { ...one, seed: 99 } : one)) }, [0, 0])
    expect(grownTiles()).toBeGreaterThan(0)
    check()
    pool.close()
  })

  it('say in a sentence when the other one is gone, comes later, waits in turn, or is itself', async () => {
    const { meadow, heights } = await smallDemo()
    const { grower, pool, states } = benchFor(meadow, heights)
    const said = async (habitats: Parameters<typeof withHabitat>[1], id: string) => {
      await grower.grow(withHabitat(meadow, habitats), [0, 0])
      return states.get(id)?.sentence
    }
    expect(await said({ pines: [away('nobody')] }, 'pines')).toMatch(/names a planting that is gone; choose another one/)
    expect(await said({ pines: [away('shrubs')] }, 'pines')).toMatch(/names “Thorn shrubs”, which grows after it; move “Thorn shrubs” above it/)
    expect(await said({ pines: [away('shrubs')], shrubs: [away('pines')] }, 'pines')).toMatch(/a circle; switch one of the two off/)
    expect(await said({ pines: [away('pines')] }, 'pines')).toMatch(/names this planting itself/)
    expect(await said({ pines: [condition('formula', { text: 'height >' })] }, 'pines')).toMatch(/^The formula cannot be read at character/)
    expect(await said({ pines: [condition('formula', { text: '1 / x' })] }, 'pines')).toMatch(/gives no number on/)
    pool.close()
  })
})

describe('a beacon', () => {
  it('grows again only the tiles in its reach, old and new, and leaves the same as growing all', async () => {
    const { meadow: small, heights } = await smallDemo()
    const lavender = demo.meadow.plantings.find(({ id }) => id === 'lavender')
    const meadow: Meadow = { ...small, plantings: [...small.plantings, ...(lavender ? [lavender] : [])] }
    const { grower, pool, grownTiles } = benchFor(meadow, heights)
    await grower.grow(meadow, [0, 0])
    const all = grownTiles()
    const moved: Meadow = { ...meadow, beacons: meadow.beacons.map((one) => ({ ...one, x: one.x + 3 })) }
    await grower.grow(moved, [0, 0])
    expect(grownTiles()).toBeGreaterThan(0)
    expect(grownTiles()).toBeLessThan(all / 8)
    const fresh = benchFor(meadow, heights)
    await fresh.grower.grow(moved, [0, 0])
    expect(contents(grower, moved)).toBe(contents(fresh.grower, moved))
    pool.close()
    fresh.pool.close()
  })
})

describe('the demo', () => {
  it('has at least six plantings, ten assets, three views and 120,000 instances', async () => {
    const { meadow, blobs } = demo
    const { grower, pool } = benchFor(meadow, bytesToHeights(blobs.get(meadow.ground.blob) as Uint8Array<ArrayBuffer>))
    await grower.grow(meadow, [0, 0])
    const total = meadow.plantings.flatMap((p) => grower.blocksOf(p.id)).reduce((sum, b) => sum + b.count, 0)
    expect(total).toBeGreaterThan(120000)
    expect(meadow.plantings.length).toBeGreaterThanOrEqual(6)
    expect(meadow.assets.length).toBeGreaterThanOrEqual(10)
    expect(meadow.views.length).toBe(3)
    pool.close()
  })
})
