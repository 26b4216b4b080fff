import fc from 'fast-check'
import type { Beside } from '../../../testing/fields.ts'
import { assetOf, growAll, hilly, imageOf, outlineOf, placesAt, rowsOf, spreadOf } from '../../../testing/fields.ts'
import type { Grown } from '../../../testing/fields.ts'
import { slopeAt } from '../../grounds/pick.ts'
import { heightAt } from '../../grounds/terrain.ts'
import { defaultsOf } from '../../kinds.ts'
import type { ParamValue } from '../../kinds.ts'
import type { Beacon, DriverTarget, DriverUse } from '../../meadow.ts'
import { bend, CURVES, isCurve } from './curve.ts'
import { DRIVERS } from './index.ts'
import { beaconValue } from './named.ts'
import { plantingsAround } from '../../surroundings.ts'

const terrain = hilly(100, 201)
const beacon: Beacon = { id: 'beacon', name: 'Beacon', colour: '#ffffff', visible: true, locked: false, x: 10, z: -5, above: 1, reach: 30, strength: 0.9, falloff: 'straight' }
const around = plantingsAround(new Map([['other', placesAt([[3, 4], [-20, 11], [18, -30]], 40)]]))
const rest: Beside = {
  outlines: [outlineOf('patch', [[-20, -20, 20, -20, 20, 20, -20, 20]]), outlineOf('path', [[-60, 0, 60, 0]], { width: 4 })],
  images: [imageOf(50, 50, (i, j) => [5 * i, 5 * j, 0, 255])],
  beacons: [beacon],
}

function driver(kind: string, target: DriverTarget, given: Partial<DriverUse> = {}): DriverUse {
  const { params, over } = DRIVERS.get(kind)
  return { id: `${kind}-${target}`, kind, on: true, target, over: { ...over }, curve: [0, 0, 1, 1], low: 0.5, high: 2, ...given, params: { ...defaultsOf(params), ...given.params } }
}

function grow(drivers: DriverUse[], params: Record<string, ParamValue> = {}): Grown[] {
  const planting = spreadOf({ spacing: 2, size: { from: 1, to: 1 }, lean: { from: 0, to: 0 }, turn: { from: 0, to: 0 }, follow: 0, seat: 'centre', room: 0, ...params }, { drivers })
  const known = { x0: -1e3, z0: -1e3, x1: 1e3, z1: 1e3 }
  const near = { known, rooms: [], elsewhere: [], around }
  return rowsOf(growAll(planting, terrain, { water: 0.5, surroundings: rest, near, assets: [assetOf('a', 0.4)] }))
}

const clamp = (v: number) => Math.min(1, Math.max(0, v))
const edge = (v: number) => Math.max(Math.abs(v) - 20, 0)

/** What each field measures, written out once more. */
const FIELDS: Readonly<Record<string, { params?: Record<string, ParamValue>; over?: DriverUse['over']; of: (x: number, z: number, y: number) => number }>> = {
  height: { of: (_x, _z, y) => y },
  'above-water': { of: (_x, _z, y) => y - 0.5 },
  slope: { of: (x, z) => slopeAt(terrain, x, z) },
  path: { params: { path: 'path' }, of: (_x, z) => Math.abs(z) - 2 },
  patch: {
    params: { patch: 'patch' },
    of: (x, z) => (Math.max(Math.abs(x), Math.abs(z)) <= 20 ? Math.max(Math.abs(x), Math.abs(z)) - 20 : Math.hypot(edge(x), edge(z))),
  },
  planting: { params: { planting: 'other', farthest: 40 }, over: { from: 30, to: 2 }, of: (x, z) => Math.min(40, ...[[3, 4], [-20, 11], [18, -30]].map(([a, b]) => Math.hypot(a - x, b - z))) },
  image: { params: { image: 'image', channel: 'red' }, of: (x) => (5 * Math.min(49, Math.max(0, (x / 100 + 0.5) * 50 - 0.5))) / 255 },
  beacon: {
    params: { beacon: 'beacon' },
    of: (x, z, y) => 0.9 * Math.max(0, 1 - Math.hypot(x - 10, z + 5, y - heightAt(terrain, 10, -5) - 1) / 30),
  },
  formula: { params: { text: '0.5 + x / 200' }, of: (x) => 0.5 + x / 200 },
}

/** Tried where there are patterns: plantings/variation.test.ts. */
const IN_PATTERNS = ['along-run', 'number-in-run', 'round-ring']

describe('every driver', () => {
  it.each(Object.keys(FIELDS))('%s drives the size from its first to its second value, against a closed form', (kind) => {
    const { params, over, of } = FIELDS[kind]
    const use = driver(kind, 'size', { ...(params && { params }), ...(over && { over }) })
    const rows = grow([use])
    expect(rows.length).toBeGreaterThan(1000)
    const { from, to } = use.over
    let between = 0
    for (const { x, z, y, size } of rows) {
      const share = clamp((of(x, z, y) - from) / (to - from))
      if (share > 0.02 && share < 0.98) between++
      expect(size).toBeCloseTo(0.5 + 1.5 * share, 3)
    }
    expect(between).toBeGreaterThan(50)
  })

  it('from-water measures to the shore, against places looked at one by one', () => {
    const step = 0.2
    const wet = (x: number, z: number) => heightAt(terrain, x, z) < 0.5
    const shore: [number, number][] = []
    for (let z = -50 + step / 2; z < 50; z += step)
      for (let x = -50 + step / 2; x < 50 - step; x += step) {
        if (wet(x, z) !== wet(x + step, z)) shore.push([x + step / 2, z])
        if (z + step < 50 && wet(x, z) !== wet(x, z + step)) shore.push([x, z + step / 2])
      }
    expect(shore.length).toBeGreaterThan(100)
    const rows = grow([driver('from-water', 'size', { over: { from: -6, to: 12 } })]).filter((_, i) => i % 5 === 0)
    for (const { x, z, y, size } of rows) {
      const away = shore.reduce((best, [sx, sz]) => Math.min(best, Math.hypot(sx - x, sz - z)), Infinity)
      // The places stand 20 cm apart, the ends 18 m.
      expect(Math.abs(size - 0.5 - 1.5 * clamp(((y < 0.5 ? -away : away) + 6) / 18))).toBeLessThan(1.5 * (step / 18) + 1e-3)
    }
  })

  it('patchiness is the noise that formulas know, as often above a half as below, and alike near by only', () => {
    const over = { from: 0, to: 1 }
    const patches = grow([{ ...driver('patchiness', 'size', { params: { size: 16 }, over }), id: 'one' }])
    const formula = grow([{ ...driver('formula', 'size', { params: { text: 'noise', size: 16 }, over }), id: 'one' }])
    patches.forEach(({ size }, i) => expect(size).toBeCloseTo(formula[i].size, 5))
    const values = patches.map(({ size }) => (size - 0.5) / 1.5)
    expect(Math.abs(values.filter((v) => v > 0.5).length / values.length - 0.5)).toBeLessThan(0.08)
    const mean = values.reduce((sum, v) => sum + v, 0) / values.length
    const variance = values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length
    /** Mean product of what two places so far apart differ from the mean by, as a share of the variance. */
    const alike = (near: number, far: number) => {
      let sum = 0
      let pairs = 0
      patches.forEach((a, i) => {
        for (let k = i + 1; k < patches.length; k++) {
          const away = Math.hypot(patches[k].x - a.x, patches[k].z - a.z)
          if (away < near || away > far) continue
          sum += (values[i] - mean) * (values[k] - mean)
          pairs++
        }
      })
      return sum / pairs / variance
    }
    expect(alike(1.5, 2.3)).toBeGreaterThan(0.4)
    expect(Math.abs(alike(30, 40))).toBeLessThan(0.15)
  })

  it('none is left out of these tests', () => {
    expect([...Object.keys(FIELDS), 'patchiness', 'from-water', ...IN_PATTERNS].sort()).toEqual(DRIVERS.all.map(({ kind }) => kind).sort())
  })
})

describe('what drivers change', () => {
  const byX = (target: DriverTarget, low: number | string, high: number | string) => driver('formula', target, { params: { text: 'x' }, over: { from: -50, to: 50 }, low, high })
  const share = (x: number) => (x + 50) / 100

  it('density: as many as the weights ask for, and those that are left are where they were', () => {
    const all = new Map(grow([]).map((row) => [row.id, row]))
    const rows = grow([byX('density', 0, 1)])
    for (const { id, x, z } of rows) expect(all.get(id)).toMatchObject({ x, z })
    for (const [low, high] of [[-50, -25], [-25, 0], [0, 25], [25, 50]]) {
      const inside = ({ x }: Grown) => x >= low && x < high
      const kept = rows.filter(inside).length / [...all.values()].filter(inside).length
      expect(Math.abs(kept - (share(low) + share(high)) / 2)).toBeLessThan(0.07)
    }
  })

  it('height and girth apart, and the room follows the girth', () => {
    const rows = grow([byX('height', 1, 3)], { room: 1 })
    for (const row of rows) expect(row.room).toBeCloseTo(0.4, 5)
    const wide = grow([byX('girth', 0.5, 1)], { room: 1 })
    for (const { x, room } of wide) expect(room).toBeCloseTo(0.4 * (0.5 + 0.5 * share(x)), 4)
  })

  it('turn in degrees about its own up, lift in metres, lean no further than it may', () => {
    for (const { x, rotation: [qx, qy, qz, qw] } of grow([byX('turn', 0, 90)])) {
      expect(2 * Math.atan2(qy, qw)).toBeCloseTo((Math.PI / 2) * share(x), 4)
      expect(Math.hypot(qx, qz)).toBeLessThan(1e-6)
    }
    for (const { x, y, z } of grow([byX('lift', 0, 2)])) expect(y).toBeCloseTo(heightAt(terrain, x, z) + 2 * share(x), 3)
    for (const { x, rotation: [qx, , qz] } of grow([byX('lean', 0, 60)])) {
      const up = 1 - 2 * (qx * qx + qz * qz)
      expect((Math.acos(Math.min(1, up)) * 180) / Math.PI).toBeCloseTo(60 * share(x), 1)
    }
  })

  it('tint between two colours, and nothing else reshuffles', () => {
    const plain = grow([])
    const planting = spreadOf({ spacing: 2, room: 0 }, { drivers: [byX('tint', '#000000', '#ff8000')] })
    const blocks = growAll(planting, terrain, { surroundings: rest })
    for (const block of blocks)
      for (let i = 0; i < block.count; i++) {
        const s = share(block.position[3 * i])
        expect(block.tint[i] >>> 24).toBeGreaterThanOrEqual(Math.floor(255 * s) - 1)
        expect(Math.abs((block.tint[i] >>> 16 & 255) - 128 * s)).toBeLessThan(1.5)
        expect(block.tint[i] & 255).toBe(255)
      }
    expect(grow([byX('turn', 0, 0)]).map(({ id, x, z }) => [id, x, z])).toEqual(plain.map(({ id, x, z }) => [id, x, z]))
  })
})

describe('beacons and curves', () => {
  it('falls off straight, steep or round from its strength to 0', () => {
    for (const [falloff, of] of [['straight', (t: number) => 1 - t], ['steep', (t: number) => (1 - t) ** 2], ['round', (t: number) => Math.sqrt(1 - t * t)]] as const)
      for (const t of [0, 0.3, 0.7, 0.999]) expect(beaconValue({ ...beacon, falloff }, 30 * t)).toBeCloseTo(0.9 * of(t), 9)
    expect(beaconValue(beacon, 30)).toBe(0)
  })

  it('a curve passes through its points, is straight between, and stays inside its ends', () => {
    for (const { points } of CURVES) expect(isCurve(points)).toBe(true)
    fc.assert(
      fc.property(fc.double({ min: -1, max: 2, noNaN: true }), (t) => {
        expect(bend([0, 0, 1, 1], t)).toBeCloseTo(clamp(t), 12)
        expect(bend([0, 1, 0.5, 0, 1, 1], t)).toBeCloseTo(Math.abs(1 - 2 * clamp(t)), 12)
      }),
    )
    expect(bend([0, 0.25, 1, 1], NaN)).toBe(0.25)
    for (const bad of [[], [0, 0], [0, 0, 0, 1], [0.1, 0, 1, 1], [0, 0, 0.5, 2, 1, 1], [0, 0, 0.7, 0, 0.3, 0, 1, 1]]) expect(isCurve(bad)).toBe(false)
  })
})
