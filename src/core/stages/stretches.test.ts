import fc from 'fast-check'
import { condition, hilly, outlineOf, surroundingsOf, terrainOf } from '../../testing/fields.ts'
import { groundOfTerrain } from '../grounds/terrain-ground.ts'
import type { Ground } from '../grounds/ground.ts'
import type { Rect } from '../grounds/terrain.ts'
import type { ConditionUse } from '../meadow.ts'
import { NOTHING_AROUND, plantingsAround } from '../surroundings.ts'
import { createArena } from './arena.ts'
import { evenSource } from './candidates/even-source.ts'
import { gatheredSource, randomSource, togetherSource } from './candidates/plan.ts'
import { evenScaleOfSpacing } from './candidates/even-pattern.ts'
import { prepareHabitat } from './habitat.ts'
import { nearestOf } from './rooms.ts'
import { tilesOver } from './tiles.ts'
import { stretchesOf, tilesToGrow } from './stretches.ts'
import { prepareWeigh } from './weigh.ts'

// Evenly spread: doubles are drawn by their bits, which makes nearly all of them tiny.
const unit = fc.nat(1 << 20).map((n) => n / (1 << 20))
const terrains = [hilly(200, 201), terrainOf((x, z) => 20 * Math.sin(x / 170) * Math.cos(z / 140), 800, 41)]
const outlines = [outlineOf('patch', [[-40, -30, 50, -35, 30, 45, -25, 30]]), outlineOf('path', [[-90, -70, -20, 0, 60, 10, 95, 80]], { width: 3 })]

const uses: fc.Arbitrary<ConditionUse[]> = fc
  .tuple(unit, unit, unit, fc.subarray(['height', 'slope', 'path', 'patch', 'patchiness', 'from-water', 'formula', 'planting'], { minLength: 1 }), fc.subarray(['slope', 'patch', 'patchiness', 'planting']))
  .map(([a, b, soft, kinds, inverted]) =>
    [
      condition('height', { height: { from: 10 * a - 5, to: 10 * a - 5 + 6 * b }, soft }),
      condition('slope', { slope: { from: null, to: 5 + 30 * a }, soft: 8 * soft }),
      condition('path', { path: 'path', away: { from: 1, to: b < 0.5 ? null : 20 * b }, soft }),
      condition('patch', { patch: 'patch', side: a < 0.5 ? 'inside' : 'outside', soft: 4 * soft }),
      condition('patchiness', { size: 5 + 150 * a, coverage: b, contrast: soft, octaves: 2 }),
      condition('from-water', { away: { from: -3, to: 30 * b }, soft: 2 * soft }),
      condition('formula', { text: 'noise > 0.4' }),
      condition('planting', { planting: 'other', manner: a < 0.5 ? 'near' : 'away', distance: 1 + 20 * b, profile: soft < 0.5 ? 'steady' : 'close' }),
    ]
      .filter(({ kind }) => kinds.includes(kind))
      .map((use) => ({ ...use, invert: inverted.includes(use.kind) })),
  )

const sources = [
  evenSource(3, evenScaleOfSpacing(1.3)),
  randomSource(4, 0.6),
  togetherSource(gatheredSource(5, 0.5, { parents: 0.02, spread: 2, share: 0.7 } as Parameters<typeof gatheredSource>[2]), randomSource(5, 0.2)),
]

const areaOf = (bounds: Rect, [a, b, w, d]: readonly number[]) => {
  const side = bounds.x1 - bounds.x0
  const [x0, z0] = [bounds.x0 + a * 0.9 * side, bounds.z0 + b * 0.9 * side]
  return { x0, z0, x1: Math.min(bounds.x1, x0 + 2 + w * 90), z1: Math.min(bounds.z1, z0 + 2 + d * 90) }
}

/** What an earlier planting has grown: known when a tile grows, or not, as when it is gone. */
const others = nearestOf(Float32Array.from({ length: 40 }, (_, i) => 60 * Math.sin(i * 1.7)), Float32Array.from({ length: 40 }, (_, i) => 60 * Math.cos(i * 2.3)), 20)
const arounds = [NOTHING_AROUND, plantingsAround(new Map([['other', others]]))]

/** No drivers. */
const UNDRIVEN = { thin: null, asksHeights: { thin: false, stand: false } }

describe('ground that is cut up by what conditions say of whole blocks', () => {
  it('leaves the very candidates that asking each of them leaves', () => {
    let cutUp = 0
    fc.assert(
      fc.property(fc.constantFrom(...terrains), uses, fc.constantFrom('all' as const, 'any' as const), fc.constantFrom(...sources), fc.array(unit, { minLength: 4, maxLength: 4 }), fc.constantFrom(1, 0.4), fc.constantFrom(...arounds), (terrain, habitat, combine, source, place, part, around) => {
        const ground = groundOfTerrain(terrain)
        const surroundings = surroundingsOf(terrain, { outlines }, 0.5)
        const area = areaOf(terrain.bounds, place)
        const left = (one: Ground) => {
          const arena = createArena()
          const { gather } = prepareWeigh(arena, prepareHabitat({ habitat, combine, seed: 7 }, surroundings), UNDRIVEN)
          gather({ ground: one, before: [], source, area, wanted: { limit: source.limit, part, keyScale: 1 }, around })
          const { sites, key } = arena
          return Array.from({ length: sites.count }, (_, i) => [sites.addressHigh[i], sites.addressLow[i], key[i], sites.x[i], sites.z[i], sites.draws[i]].join(' ')).sort()
        }
        const { block: _block, ...whole } = ground
        const expected = left(whole)
        expect(left(ground)).toEqual(expected)
        const stretches = stretchesOf(area, prepareHabitat({ habitat, combine, seed: 7 }, surroundings).steps, (rect) => ground.block!(rect), source, around)
        const covered = stretches.flatMap(({ pieces }) => pieces).reduce((sum, { rect }) => sum + (rect.x1 - rect.x0) * (rect.z1 - rect.z0), 0)
        if (covered < 0.999 * (area.x1 - area.x0) * (area.z1 - area.z0)) cutUp++
      }),
      { numRuns: 300, seed: 20261126 },
    )
    expect(cutUp).toBeGreaterThan(60)
  })

  it('leaves few where weights are small all over, but not none', () => {
    const [terrain] = terrains
    const ground = groundOfTerrain(terrain)
    const dense = evenSource(3, evenScaleOfSpacing(0.3))
    const left = (one: Ground) => {
      const arena = createArena()
      // Weights of a few thousandths up to a hundredth.
      const { gather } = prepareWeigh(arena, prepareHabitat({ habitat: [condition('height', { height: { from: -10, to: null }, soft: 260 })], combine: 'all', seed: 7 }, surroundingsOf(terrain)), UNDRIVEN)
      gather({ ground: one, before: [], source: dense, area: { x0: -60, z0: -60, x1: 60, z1: 60 }, wanted: { limit: dense.limit, part: 1, keyScale: 1 }, around: NOTHING_AROUND })
      return [...arena.sites.draws.subarray(0, arena.sites.count)].sort()
    }
    const { block: _block, ...whole } = ground
    expect(left(ground)).toEqual(left(whole))
    expect(left(ground).length).toBeGreaterThan(100)
  })

  it('is told tile by tile: no tile is left out in which anything stands, and most in which nothing does are', () => {
    let [empty, leftOut] = [0, 0]
    fc.assert(
      fc.property(fc.constantFrom(...terrains), uses, fc.constantFrom(8, 16, 32), (terrain, habitat, side) => {
        const ground = groundOfTerrain(terrain)
        const surroundings = surroundingsOf(terrain, { outlines }, 0.5)
        const arena = createArena()
        const { gather, tiles } = prepareWeigh(arena, prepareHabitat({ habitat, combine: 'all', seed: 7 }, surroundings), UNDRIVEN)
        const found = tiles(ground, side)
        expect([...found].sort((a, b) => a.j - b.j || a.i - b.i)).toEqual(found)
        const told = new Set(found.map(({ i, j }) => `${i} ${j}`))
        // Some tiles, asked site by site.
        for (const { i, j } of tilesOver(terrain.bounds, side).filter((_, k) => k % 7 === 0)) {
          const { block: _block, ...whole } = ground
          const area = { x0: Math.max(terrain.bounds.x0, i * side), z0: Math.max(terrain.bounds.z0, j * side), x1: Math.min(terrain.bounds.x1, (i + 1) * side), z1: Math.min(terrain.bounds.z1, (j + 1) * side) }
          gather({ ground: whole, before: [], source: sources[0], area, wanted: { limit: sources[0].limit, part: 1, keyScale: 1 }, around: NOTHING_AROUND })
          if (arena.sites.count > 0) expect(told.has(`${i} ${j}`)).toBe(true)
          else {
            empty++
            if (!told.has(`${i} ${j}`)) leftOut++
          }
        }
      }),
      { numRuns: 40, seed: 20261126 },
    )
    process.stdout.write(`tiles: ${leftOut} of ${empty} in which nothing grows are left out\n`)
    expect(leftOut).toBeGreaterThan(0.5 * empty)
  })

  it('asks nothing where all is taken, and goes nowhere where all is refused', () => {
    const [terrain] = terrains
    const blockOf = groundOfTerrain(terrain).block!
    const steps = (height: { from: number | null; to: number | null }) => prepareHabitat({ habitat: [condition('height', { height, soft: 0 })], combine: 'all', seed: 1 }, surroundingsOf(terrain)).steps
    const area = { x0: -50, z0: -50, x1: 50, z1: 50 }
    expect(stretchesOf(area, steps({ from: -100, to: null }), blockOf, { density: 1, reach: 0 }, NOTHING_AROUND)).toEqual([{ pieces: [{ rect: area, most: 1 }], steps: [] }])
    expect(stretchesOf(area, steps({ from: 100, to: null }), blockOf, { density: 1, reach: 0 }, NOTHING_AROUND)).toEqual([])
    expect(tilesToGrow(terrain.bounds, 16, steps({ from: 100, to: null }), blockOf, 2)).toEqual([])
  })
})
