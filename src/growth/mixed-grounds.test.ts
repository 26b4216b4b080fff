import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { shapeToBytes } from '../core/grounds/mesh-shape.ts'
import { heightAt } from '../core/grounds/terrain.ts'
import type { ParamValue } from '../core/kinds.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { hashBytes, heightsToBytes } from '../document/blobs.ts'
import { newMeadow } from '../document/new-planting.ts'
import type { Grown } from '../testing/fields.ts'
import { assetOf, boxShape, condition, hilly, meshOf, rowsOf, spreadOf } from '../testing/fields.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import { createNodePool } from '../runner/node-pool.ts'
import { GROW_TILE } from '../runner/grow-refs.ts'
import type { Pool } from '../runner/pool.ts'
import { runMeadow } from './run-meadow.ts'

const SIZE = 60
const terrain = hilly(SIZE, 61)
/** A block of 16 × 12 × 10 m, half sunk into the hills, turned. */
const HALF = [8, 6, 5] as const
const TURN = 30
const block = meshOf({ id: 'block', role: 'ground', shape: 'block-shape', position: [4, 1, -3], turn: [0, TURN, 0] })

/** Where a place lies in the block's own frame, by hand. */
function inBlock({ x, y, z }: { readonly x: number; readonly y: number; readonly z: number }): readonly number[] {
  const [dx, dz] = [x - block.position[0], z - block.position[2]]
  const [c, s] = [Math.cos((TURN * Math.PI) / 180), Math.sin((TURN * Math.PI) / 180)]
  return [c * dx - s * dz, y - block.position[1], s * dx + c * dz]
}

const deepInside = (row: Grown, by: number) => inBlock(row).every((value, c) => Math.abs(value) < HALF[c] - by)
const onBlock = (row: Grown) => {
  const own = inBlock(row)
  return own.every((value, c) => Math.abs(value) < HALF[c] + 1e-3) && own.some((value, c) => Math.abs(Math.abs(value) - HALF[c]) < 1e-3)
}
const onTerrain = (row: Grown) => Math.abs(row.y - heightAt(terrain, row.x, row.z)) < 2e-3

const heights = heightsToBytes(Float32Array.from(terrain.heights))
const heightsName = await hashBytes(heights)
const blobs = new Map([[heightsName, heights], ['block-shape', shapeToBytes(boxShape(...HALF))]])
const assets = [assetOf('a', 0.4), assetOf('b', 0.9)]

const PARAMS = { spacing: 1, room: 0, size: { from: 1, to: 1 }, lean: { from: 0, to: 0 }, follow: 0, seat: 'centre', fill: 'all-over' } as const

function meadowOf(plantings: Planting[]): Meadow {
  return { ...newMeadow('Mixed', heightsName, { samples: 61, size: SIZE }), assets, nextAsset: 2, meshes: [block], plantings }
}

const plant = (id: string, grounds: string[], params: Record<string, ParamValue> = {}, rest: Partial<Planting> = {}) => spreadOf({ ...PARAMS, ...params }, { id, grounds, ...rest })

async function grow(plantings: Planting[], pool: Pool = createInlinePool(1), focus?: readonly [number, number]): Promise<Record<string, Grown[]>> {
  const grown = await runMeadow(meadowOf(plantings), blobs, pool, { now: () => performance.now(), focus })
  pool.close()
  for (const { state } of grown) expect(state?.phase).toBe('ready')
  return Object.fromEntries(grown.map(({ id, blocks }) => [id, rowsOf(blocks)]))
}

const ids = (rows: readonly Grown[]) => rows.map(({ id }) => id).sort()

/** Overlaps of rooms between two lists, straight through space. */
function overlaps(a: readonly Grown[], b: readonly Grown[]): number {
  let count = 0
  for (const p of a) for (const q of b) if (p !== q && Math.hypot(p.x - q.x, p.y - q.y, p.z - q.z) < p.room + q.room - 1e-4) count++
  return count
}

describe('a planting on terrain and mesh together', () => {
  it('grows what it would on each alone, save where the first one holds', async () => {
    const { terrain: alone, mesh, both, turned } = await grow([
      plant('terrain', [TERRAIN_ID]),
      plant('mesh', ['block']),
      plant('both', [TERRAIN_ID, 'block']),
      plant('turned', ['block', TERRAIN_ID]),
    ])
    // Terrain first: nothing of the block that lies below the ground, all of the terrain, inside the block too.
    const above = mesh.filter((row) => row.y > heightAt(terrain, row.x, row.z) - 1e-3)
    expect(above.length).toBeGreaterThan(100)
    expect(above.length).toBeLessThan(mesh.length - 100)
    expect(ids(both)).toEqual(ids([...alone, ...above]))
    // The block first: all of it, and of the terrain what does not lie inside it.
    const outside = alone.filter((row) => !deepInside(row, 0))
    expect(alone.length - outside.length).toBeGreaterThan(50)
    expect(ids(turned)).toEqual(ids([...mesh, ...outside]))
    for (const row of both) expect(onTerrain(row) || onBlock(row)).toBe(true)
  })

  it.each([
    ['asks for no heights', {}],
    ['asks for heights', { habitat: [condition('height', {})] }],
  ])('keeps clear of what an earlier one that shares its ground has on the block, when it %s', async (_what, rest) => {
    const params = { room: 1, spacing: 0.8 }
    // Of the first, the terrain bears next to nothing.
    const first = plant('first', ['block', TERRAIN_ID], params, { habitat: [condition('height', { height: { from: 3, to: null } })] })
    const { alone } = await grow([plant('alone', [TERRAIN_ID], params, rest)])
    const { first: earlier, later } = await grow([first, plant('later', [TERRAIN_ID], params, { ...rest, seed: 9 })])
    const raised = earlier.filter(onBlock)
    expect(overlaps(raised, alone)).toBeGreaterThan(20)
    expect(overlaps(raised, later)).toBe(0)
  })

  it('lets no room meet another, on one ground or across', async () => {
    const mix = [{ asset: 'a', share: 2 }, { asset: 'b', share: 1 }]
    const { both } = await grow([plant('both', ['block', TERRAIN_ID], { room: 1, spacing: 0.6 }, { mix })])
    const [onMesh, onGround] = [both.filter(onBlock), both.filter((row) => !onBlock(row))]
    expect(onMesh.length).toBeGreaterThan(150)
    expect(onGround.length).toBeGreaterThan(500)
    expect(overlaps(both, both)).toBe(0)
    // Rooms on the other ground do decide: alone, more would stand at the foot of the block.
    const { alone } = await grow([plant('alone', [TERRAIN_ID], { room: 1, spacing: 0.6 }, { mix })])
    const near = (rows: readonly Grown[]) => rows.filter((row) => !deepInside(row, 0) && inBlock(row).every((value, c) => Math.abs(value) < HALF[c] + 0.6)).length
    expect(near(onGround)).toBeLessThan(near(alone))
  })

  it('keeps out of earlier rooms on every ground that both share', async () => {
    const rows = await grow([plant('first', [TERRAIN_ID, 'block'], { room: 1, spacing: 2.2 }), plant('second', ['block', TERRAIN_ID], { room: 1, spacing: 0.9 }), plant('apart', ['block'], { room: 0.5, spacing: 0.8 })])
    for (const [first, second] of [['first', 'second'], ['first', 'apart'], ['second', 'apart']]) {
      expect(rows[second].length).toBeGreaterThan(100)
      expect(overlaps(rows[first], rows[second])).toBe(0)
    }
  })

  it('rooms of a hidden planting hold, unless they are given free while it is hidden', async () => {
    const params = { room: 1, spacing: 0.9 }
    const first = (rest: Partial<Planting>) => plant('first', [TERRAIN_ID], { room: 1, spacing: 2.2 }, rest)
    const second = plant('second', [TERRAIN_ID], params, { seed: 9 })
    const shown = await grow([first({}), second])
    const hidden = await grow([first({ visible: false }), second])
    const freed = await grow([first({ visible: false, freeWhileHidden: true }), second])
    const kept = await grow([first({ freeWhileHidden: true }), second])
    const { second: alone } = await grow([second])
    expect(hidden.second).toEqual(shown.second)
    expect(kept.second).toEqual(shown.second)
    expect(freed.second).toEqual(alone)
    expect(freed.first).toEqual(shown.first)
    expect(overlaps(freed.first, freed.second)).toBeGreaterThan(50)
  })

  it('an exact count that cannot be had is not looked for twice among the same candidates', async () => {
    const inline = createInlinePool(1)
    let grown = 0
    const pool: Pool = {
      ...inline,
      run(task, input, options) {
        if (task.name === GROW_TILE.name) grown++
        return inline.run(task, input, options)
      },
    }
    const { both } = await grow([plant('both', ['block'], { by: 'count', count: 200, placing: 'even', room: 1, fill: 'above', size: { from: 0.8, to: 1.25 } })], pool)
    expect(both.length).toBeGreaterThan(100)
    expect(both.length).toBeLessThan(200)
    // Coarser, finer, and as fine as there is.
    expect(grown).toBe(3)
  })

  it('an exact count is shared out by area', async () => {
    for (const placing of ['even', 'random']) {
      const { both } = await grow([plant('both', ['block', TERRAIN_ID], { by: 'count', count: 1500, placing })])
      expect(both.length).toBe(1500)
      // Area of the block, and of the terrain outside it, by places tried.
      const surface = 2 * 4 * (HALF[0] * HALF[1] + HALF[1] * HALF[2] + HALF[2] * HALF[0])
      let inside = 0
      for (let i = 0; i < 160000; i++) {
        const [x, z] = [((i % 400) / 400 - 0.5) * SIZE, (Math.floor(i / 400) / 400 - 0.5) * SIZE]
        if (deepInside({ x, y: heightAt(terrain, x, z), z } as Grown, 0)) inside++
      }
      const plan = SIZE * SIZE * (1 - inside / 160000)
      const share = surface / (surface + plan)
      // Four standard errors of a binomial share; even placing varies less.
      expect(Math.abs(both.filter(onBlock).length / 1500 - share)).toBeLessThan(4 * Math.sqrt((share * (1 - share)) / 1500))
    }
  })

  it('stands the same wherever growing begins, and with threads', async () => {
    const plantings = [plant('first', [TERRAIN_ID], { room: 1, spacing: 2 }), plant('both', ['block', TERRAIN_ID], { room: 1, spacing: 0.7 }, { habitat: [condition('slope', { slope: { from: null, to: 60 } })] })]
    const wanted = await grow(plantings)
    expect(await grow(plantings, createInlinePool(3), [25, 25])).toEqual(wanted)
    expect(await grow(plantings, createNodePool(2, 60_000), [-25, 10])).toEqual(wanted)
  })

  it('says when it has no ground at all', async () => {
    const [{ state, blocks }] = await runMeadow(meadowOf([plant('none', [])]), blobs, createInlinePool(1), { now: () => performance.now() })
    expect(blocks).toEqual([])
    expect(state?.sentence).toBe('Nothing grows, as it has no ground to grow on; choose one under Where.')
  })
})
