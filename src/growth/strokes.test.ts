import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { shapeToBytes } from '../core/grounds/mesh-shape.ts'
import type { Meadow, Stroke } from '../core/meadow.ts'
import { hashBytes, heightsToBytes } from '../document/blobs.ts'
import type { Editor } from '../document/edits/editor.ts'
import { addStrokes } from '../document/edits/strokes.ts'
import { edit, startHistory } from '../document/history.ts'
import { newMeadow } from '../document/new-planting.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import { assetOf, boxShape, condition, hilly, meshOf, rowsOf, spreadOf, strokeOf } from '../testing/fields.ts'
import type { PlantingState } from './planting-state.ts'
import { createGrower } from './grower.ts'
import { terrainName } from './setup.ts'

const SIZE = 160
const terrain = hilly(SIZE, 161)
const block = meshOf({ id: 'block', role: 'ground', shape: 'block-shape', position: [4, 40, -3], turn: [10, 30, 70], size: 2 })
const heights = heightsToBytes(Float32Array.from(terrain.heights))
const heightsName = await hashBytes(heights)
const shape = shapeToBytes(boxShape(4, 3, 0.2))

function meadowOf(strokes: Stroke[], rest: Partial<Meadow> = {}): Meadow {
  const sown = spreadOf({ spacing: 0.7 }, { id: 'sown', kind: 'sown', grounds: [TERRAIN_ID] })
  const rule = spreadOf({ spacing: 1 }, { id: 'rule', kind: 'spread' })
  return { ...newMeadow('Sown', heightsName, { samples: 161, size: SIZE }), assets: [assetOf('a', 0.2)], nextAsset: 1, meshes: [block], plantings: [sown, rule], strokes, ...rest }
}

function bench() {
  const pool = createInlinePool(1)
  pool.share({ type: 'terrain', name: terrainName(meadowOf([])), heights: Float32Array.from(terrain.heights), columns: 161, rows: 161, sizeX: SIZE, sizeZ: SIZE })
  pool.share({ type: 'bytes', name: 'block-shape', bytes: shape })
  const told: string[] = []
  const states = new Map<string, PlantingState>()
  const grower = createGrower(pool, { onTile: (planting, tile) => told.push(`${planting} ${tile}`), onState: (planting, state) => states.set(planting, state), onGone: () => undefined, onDone: () => undefined }, () => 0)
  return {
    states,
    async grow(meadow: Meadow) {
      told.length = 0
      await grower.grow(meadow, [0, 0])
      return told.slice()
    },
    rows: (planting: string) => rowsOf(grower.blocksOf(planting)),
    close: () => pool.close(),
  }
}

const FIRST = strokeOf('sown', 'sow', [-40, -20, 10, 5], { width: 14, soft: 0.5 })

describe('growing what is painted', () => {
  it('grows anew only the tiles that a dab touches, and ends as if it had grown at once', async () => {
    const one = bench()
    const all = await one.grow(meadowOf([FIRST]))
    const before = one.rows('sown')
    expect(before.length).toBeGreaterThan(300)
    const dab = strokeOf('sown', 'sow', [60, 60], { width: 6 })
    const touched = await one.grow(meadowOf([FIRST, dab]))
    const own = touched.filter((name) => name.startsWith('sown'))
    expect(own.length).toBeGreaterThan(0)
    expect(own.length).toBeLessThanOrEqual(4)
    // What is sown takes room from the planting below it, and only there.
    expect(touched.length - own.length).toBeLessThan(all.length / 4)
    const fresh = bench()
    await fresh.grow(meadowOf([FIRST, dab]))
    for (const planting of ['sown', 'rule']) expect(one.rows(planting)).toEqual(fresh.rows(planting))
    // Taken out again, it is as it was.
    expect((await one.grow(meadowOf([FIRST]))).filter((name) => name.startsWith('sown')).length).toBe(own.length)
    expect(one.rows('sown')).toEqual(before)
    one.close()
    fresh.close()
  })

  it('a stroke that clears by rule concerns its own planting, in its reach, in the order of strokes', async () => {
    const one = bench()
    await one.grow(meadowOf([FIRST]))
    const before = one.rows('rule')
    const clear = strokeOf('rule', 'clear', [50, -50, 70, -50], { width: 8 })
    const touched = await one.grow(meadowOf([FIRST, clear]))
    expect(touched.every((name) => name.startsWith('rule'))).toBe(true)
    const inside = (row: { x: number; z: number }) => Math.hypot(row.x - Math.max(50, Math.min(70, row.x)), row.z + 50) < 4
    expect(one.rows('rule').map(({ id }) => id)).toEqual(before.filter((row) => !inside(row)).map(({ id }) => id))
    await one.grow(meadowOf([FIRST, clear, strokeOf('rule', 'sow', [60, -50], { width: 30 })]))
    expect(one.rows('rule').map(({ id }) => id)).toEqual(before.map(({ id }) => id))
    one.close()
  })

  it('on one side of a board: nothing comes to the other, and the stroke goes along where the board is moved', async () => {
    const one = bench()
    const board = (given: Partial<typeof block> = {}): Meadow => {
      const empty = meadowOf([], { meshes: [{ ...block, turn: [0, 0, 0], position: [0, 40, 0], ...given }], plantings: [spreadOf({ spacing: 0.5, fill: 'all-over', room: 0, seat: 'centre', lean: { from: 0, to: 0 } }, { id: 'sown', kind: 'sown', grounds: ['block'] })] })
      return empty
    }
    let history = startHistory(board())
    const editor: Editor = {
      meadow: () => history.meadow,
      edit: (name, recipe) => {
        history = edit(history, name, recipe)
        return true
      },
    }
    // The board is 16 × 12 × 0.8 m where it stands: its sides across z lie at ±0.4.
    addStrokes(editor, [{ planting: 'sown', act: 'sow', ground: 'block', width: 6, soft: 0, strength: 1, points: [-2, 40, 0.4, 0, 0, 1, 1, 3, 41, 0.4, 0, 0, 1, 1] }])
    const { strokes } = history.meadow
    expect(strokes[0].width).toBe(3)
    await one.grow(history.meadow)
    const stood = one.rows('sown')
    expect(stood.length).toBeGreaterThan(80)
    for (const { z } of stood) expect(z).toBeCloseTo(0.4, 3)
    const moved = board({ position: [10, 50, 2], turn: [0, 180, 0] })
    await one.grow({ ...moved, strokes })
    const after = one.rows('sown')
    expect(after.map(({ id }) => id)).toEqual(stood.map(({ id }) => id))
    after.forEach(({ x, y, z }, k) => {
      expect(x).toBeCloseTo(10 - stood[k].x, 2)
      expect(y).toBeCloseTo(stood[k].y + 10, 2)
      expect(z).toBeCloseTo(1.6, 2)
    })
    one.close()
  })

  it('a condition lets a planting grow only where another is painted, and hears of its strokes', async () => {
    const one = bench()
    const meadow = (strokes: Stroke[]) => meadowOf(strokes, { plantings: [spreadOf({ spacing: 1 }, { id: 'rule', habitat: [condition('painted', { planting: 'sown' })] }), spreadOf({ spacing: 0.7 }, { id: 'sown', kind: 'sown' })] })
    await one.grow(meadow([strokeOf('sown', 'sow', [0, 0], { width: 20 })]))
    const rows = one.rows('rule')
    expect(rows.length).toBeGreaterThan(150)
    expect(rows.every(({ x, z }) => Math.hypot(x, z) < 10)).toBe(true)
    await one.grow(meadow([strokeOf('sown', 'sow', [0, 0], { width: 30 })]))
    expect(one.rows('rule').length).toBeGreaterThan(1.8 * rows.length)
    one.close()
  })

  it('says that nothing is sown, and does not take fright at what all of the ground would bear', async () => {
    const one = bench()
    const dense = (strokes: Stroke[]) => meadowOf(strokes, { plantings: [spreadOf({ spacing: 0.05, room: 0 }, { id: 'sown', kind: 'sown' })] })
    await one.grow(dense([]))
    expect(one.states.get('sown')).toMatchObject({ phase: 'ready', count: 0, sentence: expect.stringContaining('Nothing is sown yet') as string })
    await one.grow(dense([strokeOf('sown', 'sow', [3, 3], { width: 4 })]))
    const { phase, count } = one.states.get('sown') ?? {}
    expect(phase).toBe('ready')
    expect(count).toBeGreaterThan(2500)
    one.close()
  })
})
