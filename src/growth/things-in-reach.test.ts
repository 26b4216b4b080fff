import fc from 'fast-check'
import { createHash } from 'node:crypto'
import type { Block } from '../core/columns.ts'
import { shapeToBytes } from '../core/grounds/mesh-shape.ts'
import type { ParamValue } from '../core/kinds.ts'
import type { DriverUse, Meadow } from '../core/meadow.ts'
import { pointsOf } from '../core/outlines/outline.ts'
import { hashBytes, heightsToBytes } from '../document/blobs.ts'
import { newBeacon, newDriver, newMeadow } from '../document/new-planting.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import { assetOf, boxShape, condition, hilly, meshOf, outlineOf, spreadOf } from '../testing/fields.ts'
import { createGrower } from './grower.ts'
import type { Blobs } from './run-meadow.ts'
import { partsAmong } from './run-meadow.ts'
import { createShares } from './shares.ts'

const SIZE = 128
const terrain = hilly(SIZE, 65)
const heights = heightsToBytes(Float32Array.from(terrain.heights))
const heightsName = await hashBytes(heights)
const picture = Uint8Array.from({ length: 4 * 16 * 16 }, (_, i) => (i % 4 === 3 ? 255 : (i * 97) & 255))
const blobs: Blobs = new Map([[heightsName, heights], ['box', shapeToBytes(boxShape(6, 20, 4))], ['picture', picture]])

const ring = Array.from({ length: 24 }, (_, k) => [20 + 14 * Math.cos((2 * Math.PI * k) / 24), 10 + 14 * Math.sin((2 * Math.PI * k) / 24)]).flat()
const line = [-50, -50, -20, -44, 0, -50, 22, -38, 50, -48]

/** One of everything that can be named, each far from most of the ground. */
const things = {
  outlines: [{ ...outlineOf('patch', [ring]), id: 'ring' }, { ...outlineOf('path', [line]), id: 'line', smooth: true }],
  images: [{ id: 'image', name: 'Image', blob: 'picture', columns: 16, rows: 16, x: -30, z: 30, sizeX: 30, sizeZ: 20, turn: 30 }],
  beacons: [{ ...newBeacon({ name: 'B', colour: '#112233', x: 40, z: 40 }), id: 'beacon', reach: 12 }],
  meshes: [meshOf({ id: 'box', shape: 'box', position: [-40, 0, -5], turn: [0, 20, 0] })],
}

const driver = (kind: string, given: Partial<DriverUse>, params: Record<string, ParamValue>): DriverUse => ({ ...newDriver(kind, 'size', { id: kind }), low: 0.5, high: 1.5, ...given, params: { ...newDriver(kind, 'size').params, ...params } })

function meadowOf(params: Record<string, ParamValue>): Meadow {
  const planting = spreadOf(
    { spacing: 1.2, room: 1, ...params },
    {
      id: 'p',
      habitat: [
        condition('patch', { patch: 'ring', side: 'outside', soft: 3 }),
        condition('path', { path: 'line', away: { from: 1, to: null }, soft: 2 }),
        condition('image', { image: 'image', value: { from: 0.2, to: null }, outside: 'take' }),
        condition('obstacle', { mesh: 'box', margin: 7, soft: 6 }),
      ],
      drivers: [driver('beacon', { target: 'density', low: 1, high: 0.3 }, { beacon: 'beacon' }), driver('path', { over: { from: 0, to: 6 } }, { path: 'line' }), driver('patch', { over: { from: 0, to: 5 }, target: 'turn', low: 0, high: 90 }, { patch: 'ring' })],
    },
  )
  return { ...newMeadow('Things', heightsName, { samples: 65, size: SIZE }), assets: [assetOf('a', 0.5)], nextAsset: 1, plantings: [planting], ...things }
}

interface Bench {
  grow(meadow: Meadow): Promise<{ readonly tiles: number; readonly contents: string }>
  close(): void
}

function benchOf(meadow: Meadow): Bench {
  const pool = createInlinePool(1)
  const handed = createShares(pool, partsAmong(blobs)).with(meadow)
  const shown = new Map<string, Block>()
  let grown = 0
  const grower = createGrower(
    pool,
    {
      onTile: (_planting, tile, block) => void (block ? shown.set(tile, block) : shown.delete(tile)),
      onState: () => undefined,
      onGone: () => undefined,
      onDone: (_milliseconds, tiles) => void (grown = tiles),
    },
    () => performance.now(),
  )
  return {
    async grow(next) {
      await handed
      await grower.grow(next, [0, 0])
      return { tiles: grown, contents: contentsOf(shown) }
    },
    close: () => pool.close(),
  }
}

/** A name of every byte of all tiles. */
function contentsOf(tiles: ReadonlyMap<string, Block>): string {
  const hash = createHash('sha256')
  for (const key of [...tiles.keys()].sort()) hash.update(`${key}\n`).update(new Uint8Array((tiles.get(key) as Block).buffer))
  return hash.digest('hex')
}

/** Changes of single things, each by a seed. */
const CHANGES: Readonly<Record<string, (meadow: Meadow, a: number, b: number) => Meadow>> = {
  'a point of the patch moved': (meadow, a, b) => withLine(meadow, 'ring', (points) => moved(points, Math.floor(a * 24), 4 * (b - 0.5))),
  'a point of the path moved': (meadow, a, b) => withLine(meadow, 'line', (points) => moved(points, Math.floor(a * 5), 6 * (b - 0.5))),
  'a point put into the patch': (meadow, a, b) => withLine(meadow, 'ring', (points) => put(points, Math.floor(a * 24), b)),
  'a point taken out of the patch': (meadow, a) => withLine(meadow, 'ring', (points) => points.filter((_, i) => i >> 1 !== Math.floor(a * 24))),
  'the path widened': (meadow, a) => ({ ...meadow, outlines: meadow.outlines.map((one) => (one.id === 'line' ? { ...one, width: 1 + 4 * a } : one)) }),
  'the image turned': (meadow, a) => ({ ...meadow, images: meadow.images.map((one) => ({ ...one, turn: 360 * a - 180 })) }),
  'the beacon moved': (meadow, a, b) => ({ ...meadow, beacons: meadow.beacons.map((one) => ({ ...one, x: 40 + 20 * (a - 0.5), z: 40 + 20 * (b - 0.5) })) }),
  'the mesh moved': (meadow, a, b) => ({ ...meadow, meshes: meadow.meshes.map((one) => ({ ...one, position: [-40 + 10 * a, 0, -5 + 10 * b] })) }),
}

function withLine(meadow: Meadow, id: string, change: (points: readonly number[]) => number[]): Meadow {
  return { ...meadow, outlines: meadow.outlines.map((one) => (one.id === id ? { ...one, lines: pointsOf(one).map(change) } : one)) }
}
const moved = (points: readonly number[], k: number, by: number) => points.map((value, i) => (i >> 1 === k ? value + by : value))
const put = (points: readonly number[], k: number, by: number) => [...points.slice(0, 2 * k + 2), points[2 * k] + by, points[2 * k + 1] - by, ...points.slice(2 * k + 2)]

const unit = fc.double({ min: 0, max: 0.999, noNaN: true })

describe('only tiles in reach of a thing that changed grow anew', () => {
  for (const [what, change] of Object.entries(CHANGES))
    it(`${what}: few tiles grow, and all stands as if grown afresh`, async () => {
      const start = meadowOf({ spacing: 0.35, room: 0.3 })
      const bench = benchOf(start)
      const first = await bench.grow(start)
      await fc.assert(
        fc.asyncProperty(unit, unit, async (a, b) => {
          const next = change(start, a, b)
          const after = await bench.grow(next)
          const fresh = benchOf(next)
          expect(after.tiles).toBeLessThan(0.5 * first.tiles)
          expect(after.contents).toBe((await fresh.grow(next)).contents)
          fresh.close()
          // And back.
          expect((await bench.grow(start)).contents).toBe(first.contents)
        }),
        { numRuns: 2, seed: 20261126, endOnFailure: true },
      )
      bench.close()
    })

  it('what lies along lines follows each of them from its first point on, and no other', async () => {
    // Long enough to be cut into stretches, the first of which is far from most of it.
    const winding = Array.from({ length: 160 }, (_, k) => [-60 + 0.75 * k, 46 + 3 * Math.sin(k / 4)]).flat()
    const far = { ...outlineOf('path', [winding]), id: 'far', smooth: false }
    const strewn = spreadOf({ every: 0.1, toSides: 2, room: 0.3 }, { id: 'p', kind: 'strewn', along: ['line', 'far'] })
    const start: Meadow = { ...meadowOf({}), plantings: [strewn], outlines: [...things.outlines, far] }
    const bench = benchOf(start)
    const first = await bench.grow(start)
    const far0 = withLine(start, 'far', (points) => moved(points, 0, 3))
    const changes: [Meadow, boolean][] = [
      [withLine(start, 'line', (points) => moved(points, 0, -4)), true],
      [withLine(start, 'line', (points) => moved(points, 4, 2)), true],
      [far0, true],
      [withLine(start, 'ring', (points) => moved(points, 4, 2)), false],
      [{ ...start, plantings: [{ ...strewn, along: ['far'] }] }, true],
      [{ ...start, plantings: [{ ...strewn, along: ['far', 'line'] }] }, false],
    ]
    for (const [next, changed] of changes) {
      const fresh = benchOf(next)
      const after = await bench.grow(next)
      expect(after.contents).toBe((await fresh.grow(next)).contents)
      expect(after.contents !== first.contents).toBe(changed)
      if (next === far0) expect(after.tiles).toBeLessThan(0.6 * first.tiles)
      fresh.close()
      expect((await bench.grow(start)).contents).toBe(first.contents)
    }
    bench.close()
  })

  it('an exact count, which follows what is taken of all the ground, stands as if grown afresh', async () => {
    for (const placing of ['even', 'random', 'natural']) {
      const start = meadowOf({ by: 'count', count: 900, placing })
      const bench = benchOf(start)
      await bench.grow(start)
      for (const change of [CHANGES['the beacon moved'], CHANGES['the mesh moved'], CHANGES['a point of the patch moved']]) {
        const next = change(start, 0.7, 0.1)
        const fresh = benchOf(next)
        expect((await bench.grow(next)).contents).toBe((await fresh.grow(next)).contents)
        fresh.close()
      }
      bench.close()
    }
  })
})
