import fc from 'fast-check'
import { assetOf, boxShape, condition, growAll, hilly, rowsOf, solidOf, spreadOf, type Grown, surroundingsOf } from '../testing/fields.ts'
import { preparePlanting, mixAssets } from './grow.ts'
import { namingOf, writeIds } from './identity.ts'
import type { MeshShape } from './grounds/mesh-shape.ts'
import type { ParamValue } from './kinds.ts'
import type { PlacedMesh, Planting } from './meadow.ts'

/** What becomes of the ids of a planting when a setting changes. */
type Fate = 'stays' | 'stays or goes' | 'only more' | 'all new' | 'moves'

const hills = hilly(60, 61)
const assets = [assetOf('a', 0.2), assetOf('b', 0.3)]

/** A ball of 4 m with bumps: slopes of all steepness, undersides too. */
const RINGS = 24
const ball: MeshShape = (() => {
  const positions: number[] = []
  for (let j = 0; j <= RINGS; j++)
    for (let i = 0; i < RINGS; i++) {
      const [a, b] = [(2 * Math.PI * i) / RINGS, (Math.PI * j) / RINGS]
      const r = 4 * (1 + 0.1 * Math.sin(3 * a) * Math.sin(2 * b))
      positions.push(r * Math.sin(b) * Math.cos(a), r * Math.cos(b), r * Math.sin(b) * Math.sin(a))
    }
  const indices: number[] = []
  for (let j = 0; j < RINGS; j++)
    for (let i = 0; i < RINGS; i++) {
      const [p, q, r, s] = [j * RINGS + i, j * RINGS + ((i + 1) % RINGS), (j + 1) * RINGS + i, (j + 1) * RINGS + ((i + 1) % RINGS)]
      indices.push(p, q, r, q, s, r)
    }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) }
})()

/** A plot that grows as a whole asks for no tile. */
const NOWHERE = { x0: 0, z0: 0, x1: 0, z1: 0 }

interface Setup {
  readonly planting: Planting
  readonly mesh: Partial<PlacedMesh> | null
}

type Change = (setup: Setup) => Setup

function grown({ planting, mesh }: Setup): Map<string, Grown> {
  if (!mesh) return byId(rowsOf(growAll(planting, hills, { assets })))
  const solid = solidOf(ball, { id: 'ball', role: 'ground', ...mesh })
  const prepared = preparePlanting({ ...planting, grounds: [solid.placed.id] }, mixAssets(planting, assets), surroundingsOf(hills, { solids: [solid] }))
  const result = prepared.grow({ plot: 0, rect: NOWHERE }, null, 1)
  if (!('block' in result)) throw new Error('more reach was asked for')
  return byId(rowsOf([result.block]))
}

function byId(rows: readonly Grown[]): Map<string, Grown> {
  const map = new Map(rows.map((row) => [row.id, row]))
  expect(map.size).toBe(rows.length)
  return map
}

const param = (values: Record<string, ParamValue>): Change => ({ planting, mesh }) => ({ planting: { ...planting, params: { ...planting.params, ...values } }, mesh })
const plant = (rest: Partial<Planting>): Change => ({ planting, mesh }) => ({ planting: { ...planting, ...rest }, mesh })
const placed = (rest: Partial<PlacedMesh>): Change => ({ planting, mesh }) => ({ planting, mesh: { ...mesh, ...rest } })

// Seated by the centre: a base that sinks along a leaning axis takes its place along, whoever it belongs to.
const BASE = { spacing: 1.3, density: 0.5, by: 'spacing', room: 0, clump: 6, looseness: 0.4, seat: 'centre' }
const onMesh = { spacing: 0.5, density: 3, by: 'spacing', room: 0, seat: 'centre' }
const terrain = (values: Record<string, ParamValue>): Setup => ({ planting: spreadOf({ ...BASE, ...values }), mesh: null })
const solid = (values: Record<string, ParamValue>): Setup => ({ planting: spreadOf({ ...onMesh, ...values }), mesh: { size: 2.5 } })

const SOURCES: Readonly<Record<string, Setup>> = {
  even: terrain({ placing: 'even' }),
  random: terrain({ placing: 'random' }),
  gathered: terrain({ placing: 'natural', arrangement: 0.8 }),
  tight: terrain({ placing: 'natural', arrangement: 0.7, looseness: 1 }),
  apart: terrain({ placing: 'natural', arrangement: 1.25 }),
  'all over, even': solid({ placing: 'even', fill: 'all-over' }),
  'all over, random': solid({ placing: 'random', fill: 'all-over' }),
  'mesh from above': solid({ placing: 'even', fill: 'above' }),
  'mesh on every level': solid({ placing: 'random', fill: 'levels' }),
}

/** Sources whose candidates are the same ones at any density. */
const NESTED = ['random', 'gathered', 'tight', 'all over, random', 'mesh on every level']

const slope = (to: number) => plant({ habitat: [condition('slope', { slope: { from: null, to }, soft: 2 })] })

/** A setting, two values of it, and what becomes of ids; another fate for some sources. */
interface Row {
  readonly setting: string
  readonly from: Change
  readonly to: Change
  readonly fate: Fate
  readonly but?: Readonly<Record<string, Fate>>
  readonly only?: readonly string[]
}

const TABLE: readonly Row[] = [
  { setting: 'the throw', from: plant({ seed: 1 }), to: plant({ seed: 2 }), fate: 'all new' },
  { setting: 'placing', from: (one) => one, to: (one) => param({ placing: one.planting.params.placing === 'even' ? 'random' : 'even' })(one), fate: 'all new' },
  { setting: 'closer within an octave', from: param({ by: 'density', density: 0.6 }), to: param({ by: 'density', density: 0.7 }), fate: 'only more', but: { 'all over, even': 'stays or goes' } },
  { setting: 'closer by far', from: param({ by: 'density', density: 0.1 }), to: param({ by: 'density', density: 4.7 }), fate: 'only more', only: NESTED },
  { setting: 'closer by far', from: param({ by: 'density', density: 0.1 }), to: param({ by: 'density', density: 4.7 }), fate: 'all new', only: ['even', 'all over, even', 'mesh from above'] },
  { setting: 'a density of 3.9 or 4.1', from: param({ by: 'density', density: 3.9 }), to: param({ by: 'density', density: 4.1 }), fate: 'only more', only: NESTED },
  { setting: 'an exact count, more', from: param({ by: 'count', count: 300 }), to: param({ by: 'count', count: 340 }), fate: 'only more', only: ['even', 'random', 'all over, even', 'all over, random'] },
  { setting: 'a habitat a little wider, by spacing', from: slope(20), to: slope(24), fate: 'only more' },
  { setting: 'the mix', from: plant({ mix: [{ asset: 'a', share: 1 }] }), to: plant({ mix: [{ asset: 'a', share: 3 }, { asset: 'b', share: 2 }] }), fate: 'stays' },
  { setting: 'sizes', from: param({ size: { from: 1, to: 1 } }), to: param({ size: { from: 0.5, to: 2 } }), fate: 'stays' },
  { setting: 'lean and turn', from: param({ lean: { from: 0, to: 0 } }), to: param({ lean: { from: 2, to: 9 }, turn: { from: 0, to: 40 }, follow: 0.8 }), fate: 'stays' },
  { setting: 'clump size', from: param({ clump: 6 }), to: param({ clump: 6.1 }), fate: 'moves', only: ['gathered', 'tight'] },
  { setting: 'looseness', from: param({ looseness: 0.3 }), to: param({ looseness: 0.5 }), fate: 'stays or goes', only: ['gathered'] },
  { setting: 'arrangement', from: param({ arrangement: 0.8 }), to: param({ arrangement: 0.85 }), fate: 'stays or goes', only: ['gathered'] },
  { setting: 'arrangement over 1', from: param({ arrangement: 0.97 }), to: param({ arrangement: 1.05 }), fate: 'stays or goes', only: ['gathered', 'apart'] },
  { setting: 'another ground', from: placed({ id: 'ball' }), to: placed({ id: 'other' }), fate: 'all new', only: ['all over, even', 'all over, random', 'mesh from above', 'mesh on every level'] },
  { setting: 'from where it falls', from: param({ fill: 'side', fromCompass: 270 }), to: param({ fill: 'side', fromCompass: 260 }), fate: 'all new', only: ['mesh from above', 'mesh on every level'] },
  { setting: 'from above or all over', from: (one) => one, to: param({ fill: 'side' }), fate: 'all new', only: ['all over, even', 'all over, random', 'mesh from above', 'mesh on every level'] },
]

const cells = TABLE.flatMap((row) =>
  Object.entries(SOURCES)
    .filter(([name]) => !row.only || row.only.includes(name))
    .map(([name, setup]) => [name, row.setting, row.but?.[name] ?? row.fate, setup, row] as const),
)

describe('ids and what becomes of them', () => {
  it.each(cells)('%s: %s: %s', (_, __, fate, setup, { from, to }) => {
    fc.assert(
      fc.property(fc.nat(1e6), (seed) => {
        const start = setup.planting.seed === 7 ? plant({ seed })(setup) : setup
        const [before, after] = [grown(from(start)), grown(to(start))]
        expect(before.size).toBeGreaterThan(20)
        expect(after.size).toBeGreaterThan(20)
        const common = [...before.keys()].filter((id) => after.has(id))
        const apart = common.map((id) => distance(before.get(id) as Grown, after.get(id) as Grown))
        const farthest = Math.max(0, ...apart)
        if (fate === 'all new') expect(common).toEqual([])
        else expect(common.length).toBeGreaterThan(0.3 * Math.min(before.size, after.size))
        if (fate === 'stays') expect([common.length, after.size]).toEqual([before.size, before.size])
        if (fate === 'only more') expect(common.length).toBe(before.size)
        // No id names a stranger; a clump that grows by a sixtieth takes its plants along by as much of their way.
        expect(farthest).toBeLessThan(fate === 'moves' ? (5 * 0.1) / 4 + 0.001 : 0.001)
      }),
      { seed: 11, numRuns: 2 },
    )
  })

  it('an exact count in a habitat that becomes wider keeps most of those that it had', () => {
    for (const placing of ['even', 'random', 'natural']) {
      const at = (to: number) => grown(slope(to)(param({ by: 'count', count: 400 })(terrain({ placing, arrangement: 0.85 }))))
      const [narrow, wide] = [at(20), at(22)]
      expect(narrow.size).toBeGreaterThan(390)
      const common = [...narrow.keys()].filter((id) => wide.has(id))
      expect(common.length).toBeGreaterThan(0.6 * narrow.size)
      for (const id of common) expect(distance(narrow.get(id) as Grown, wide.get(id) as Grown)).toBeLessThan(0.001)
    }
  })

  it('a ground that is moved takes its plants along, with their ids', () => {
    for (const name of ['all over, even', 'all over, random', 'mesh from above']) {
      const setup = SOURCES[name]
      const [here, there] = [grown(setup), grown(placed({ position: [3, 5, -2] })(setup))]
      expect([...there.keys()].sort()).toEqual([...here.keys()].sort())
      for (const [id, { x, y, z }] of here) {
        const to = there.get(id) as Grown
        expect(Math.hypot(to.x - x - 3, to.y - y - 5, to.z - z + 2)).toBeLessThan(1e-4)
      }
    }
  })

  it('two grounds of one planting share no id', () => {
    const planting = spreadOf({ ...onMesh, placing: 'random', fill: 'all-over' }, { grounds: ['one', 'two'] })
    const solids = ['one', 'two'].map((id, k) => solidOf(boxShape(3, 3, 3), { id, role: 'ground', position: [20 * k, 0, 0] }))
    const prepared = preparePlanting(planting, mixAssets(planting, assets), surroundingsOf(hills, { solids }))
    const blocks = [0, 1].map((plot) => prepared.grow({ plot, rect: NOWHERE }, null, 1))
    const ids = blocks.map((one) => new Set('block' in one ? rowsOf([one.block]).map(({ id }) => id) : []))
    expect(ids[0].size).toBeGreaterThan(300)
    expect([...ids[0]].filter((id) => ids[1].has(id))).toEqual([])
  })
})

function distance(a: Grown, b: Grown): number {
  return Math.hypot(a.x - b.x, a.z - b.z)
}

describe('the naming of addresses', () => {
  const named = (naming: ReturnType<typeof namingOf>, addresses: readonly (readonly [number, number])[]) => {
    const [low, high] = [new Uint32Array(addresses.length), new Uint32Array(addresses.length)]
    const columns = { low: Uint32Array.from(addresses, ([a]) => a), high: Uint32Array.from(addresses, ([, b]) => b) }
    writeIds(naming, Uint32Array.from(addresses, (_, k) => k), columns, { low, high })
    return addresses.map((_, k) => `${high[k]}:${low[k]}`)
  }
  const grid = Array.from({ length: 40_000 }, (_, k): [number, number] => [((k % 200) << 16) | Math.floor(k / 200), 0x61000000 | (k % 7)])

  it('gives no two addresses one id, whatever the naming', () => {
    fc.assert(
      fc.property(fc.string(), fc.nat(), fc.string(), (source, seed, ground) => {
        expect(new Set(named(namingOf(source, seed, ground), grid)).size).toBe(grid.length)
      }),
      { seed: 5, numRuns: 10 },
    )
  })

  it('shares no id with the naming of another source, throw or ground', () => {
    const ids = [namingOf('even 1', 7, 'terrain'), namingOf('even 2', 7, 'terrain'), namingOf('even 1', 8, 'terrain'), namingOf('even 1', 7, 'mesh')].map((naming) => named(naming, grid))
    expect(new Set(ids.flat()).size).toBe(4 * grid.length)
  })

  it('flips half of an id’s bits when one bit of the address changes', () => {
    const naming = namingOf('random 2', 3, 'terrain')
    let flipped = 0
    let tried = 0
    for (let k = 0; k < 500; k++)
      for (let bit = 0; bit < 64; bit++) {
        const [low, high] = [Math.imul(k, 2654435761) >>> 0, Math.imul(k, 40503) >>> 0]
        const [a, b] = named(naming, [[low, high], bit < 32 ? [(low ^ (1 << bit)) >>> 0, high] : [low, (high ^ (1 << (bit - 32))) >>> 0]]).map((id) => id.split(':').map(Number))
        for (const half of [0, 1]) for (let d = (a[half] ^ b[half]) >>> 0; d > 0; d = (d & (d - 1)) >>> 0) flipped++
        tried += 64
      }
    // 2.05 million bits: half of them, within five standard errors.
    expect(Math.abs(flipped / tried - 0.5)).toBeLessThan(0.002)
  })
})
