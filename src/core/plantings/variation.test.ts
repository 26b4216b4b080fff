import * as THREE from 'three'
import { assetOf, growAll, hilly, outlineOf, rowsOf, spreadOf } from '../../testing/fields.ts'
import { DRIVERS } from '../fields/drivers/index.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import { heightAt } from '../grounds/terrain.ts'
import { defaultsOf } from '../kinds.ts'
import type { ParamValue } from '../kinds.ts'
import type { DriverUse, PatternBase, Planting } from '../meadow.ts'
import { PLANTINGS } from './index.ts'

/** How members of patterns differ, and what else is thrown for each. */

const terrain = hilly(200, 201)
const BASE: PatternBase = { host: TERRAIN_ID, place: [0, 0, 0], turn: [0, 0, 0, 1], size: 1 }
const ABC = ['a', 'b', 'c'].map((id) => assetOf(id, 0.2))

function pattern(kind: string, params: Planting['params'], rest: Partial<Planting> = {}): Planting {
  return spreadOf(params, { kind, base: PLANTINGS.get(kind).based ? BASE : null, ...rest })
}
const grow = (planting: Planting, rest: Parameters<typeof growAll>[2] = {}) => rowsOf(growAll(planting, terrain, { assets: ABC, ...rest }))
const driver = (kind: string, params: Record<string, ParamValue>, over: DriverUse['over'], low = 0.5, high = 2): DriverUse => ({ id: kind, kind, on: true, target: 'size', over, curve: [0, 0, 1, 1], low, high, params: { ...defaultsOf(DRIVERS.get(kind).params), ...params } })
const LINE = outlineOf('path', [[-40, 0, 40, 0], [-40, 20, 40, 20]], { id: 'line' })
/** How far an own axis of a unit quaternion looks. */
const axis = (rotation: readonly number[], x: number, y: number, z: number) => new THREE.Vector3(x, y, z).applyQuaternion(new THREE.Quaternion(...(rotation as [number, number, number, number])))

describe('place in the run as a field', () => {
  it('drives a row by number and by how far along, the middle row as the first', () => {
    const params = { count1: 9, east1: 2, directions: '2', count2: 3, south2: 5 }
    const along = grow(pattern('row', params, { drivers: [driver('along-run', {}, { from: 0, to: 1 })] }))
    const numbered = grow(pattern('row', params, { drivers: [driver('number-in-run', {}, { from: 0, to: 4 })] }))
    expect([along.length, numbered.length]).toEqual([27, 27])
    // Those that are left out change nothing of the others.
    for (const { x, size } of grow(pattern('row', { ...params, leftOut: 0.5 }, { drivers: [driver('along-run', {}, { from: 0, to: 1 })] }))) expect(size).toBeCloseTo(0.5 + (1.5 * Math.round(x / 2)) / 8, 5)
    for (const { x, size } of along) expect(size).toBeCloseTo(0.5 + (1.5 * Math.round(x / 2)) / 8, 5)
    for (const { x, size } of numbered) expect(size).toBeCloseTo(0.5 + 1.5 * Math.min(1, Math.round(x / 2) / 4), 5)
  })

  it('drives a ring by its angle, wherever it begins', () => {
    const rows = grow(pattern('ring', { count: 12, radius: 10, start: 90, arc: 180 }, { drivers: [driver('round-ring', {}, { from: 90, to: 270 })] }))
    expect(rows.length).toBe(12)
    for (const { x, z, size } of rows) {
      const degrees = ((Math.atan2(x, -z) * 180) / Math.PI + 360) % 360
      expect(size).toBeCloseTo(0.5 + (1.5 * (degrees - 90)) / 180, 3)
    }
  })

  it('is known to formulas: index, count, along, angle, of each line for itself; conditions take members by it', () => {
    const text = 'index / count + 10 * along'
    const rows = grow(pattern('trail', { by: 'count', count: 5 }, { along: ['line'], drivers: [driver('formula', { text }, { from: 0, to: 100 }, 1, 101)] }), { outlines: [LINE] })
    expect(rows.length).toBe(10)
    for (const { x, size } of rows) {
      const k = Math.round((x + 40) / 20)
      expect(size).toBeCloseTo(1 + k / 5 + (10 * k) / 4, 4)
    }
    const where = { id: 'w', kind: 'formula', on: true, invert: false, params: { text: 'index % 2 < 0.5 && angle < 200', size: 20 } }
    const some = grow(pattern('ring', { count: 8, radius: 5 }, { habitat: [where] }))
    expect(some.map(({ x, z }) => Math.round((((Math.atan2(x, -z) * 180) / Math.PI + 360) % 360))).sort((a, b) => a - b)).toEqual([0, 90, 180])
    // What stands in no run is the first of none.
    expect(grow(spreadOf({ spacing: 20 }, { habitat: [{ ...where, params: { text: 'index + count + along + angle == 0', size: 20 } }] })).length).toBeGreaterThan(20)
  })
})

describe('a mix in order', () => {
  const mix = [{ asset: 'a', share: 2 }, { asset: 'b', share: 1 }, { asset: 'c', share: 1 }]
  const picks = (takes: string, count: number, rest: Partial<Planting> = {}) => grow(pattern('row', { count1: count, east1: 0.1, takes, land: 0 }, { mix, ...rest })).sort((a, b) => a.x - b.x).map(({ asset }) => 'abc'[asset]).join('')

  it('comes by turns as evenly as the shares let it: no stretch is off by more than one', () => {
    const all = picks('turns', 400)
    expect(all.slice(0, 8)).toBe('abcaabca')
    for (const [letter, share] of [['a', 0.5], ['b', 0.25], ['c', 0.25]] as const)
      for (let k = 1; k <= 400; k++) expect(Math.abs([...all.slice(0, k)].filter((one) => one === letter).length - share * k)).toBeLessThanOrEqual(1)
    // Member k has the same one however many there are.
    expect(all.startsWith(picks('turns', 57))).toBe(true)
  })

  it('comes by place: each has its stretch of the run', () => {
    expect(picks('place', 9)).toBe('aaaabbccc')
    expect(picks('place', 401)).toMatch(/^a{200}b{100}c{101}$/)
  })
})

describe('thrown for each', () => {
  it('width, height and depth alone: even from one end to the other, each for itself, and rooms with them', () => {
    const spans = { wide: { from: 0.5, to: 1.5 }, tall: { from: 2, to: 4 }, deep: { from: 1, to: 3 }, size: { from: 1, to: 1 } }
    for (const planting of [spreadOf({ ...spans, spacing: 2, room: 0 }), pattern('row', { ...spans, count1: 4000, east1: 0.01 })]) {
      const blocks = growAll(planting, terrain, { assets: ABC })
      const scales = blocks.flatMap(({ scale, count }) => Array.from({ length: count }, (_, i) => [...scale.subarray(3 * i, 3 * i + 3)]))
      expect(scales.length).toBeGreaterThan(2000)
      for (const [c, from, to] of [[0, 0.5, 1.5], [1, 2, 4], [2, 1, 3]] as const) {
        const values = scales.map((one) => (one[c] - from) / (to - from)).sort((a, b) => a - b)
        // Kolmogorov–Smirnov against even, false in one of ten thousand.
        const away = Math.max(...values.map((value, k) => Math.max(Math.abs(value - k / values.length), Math.abs(value - (k + 1) / values.length))))
        expect(away).toBeLessThan(2.23 / Math.sqrt(values.length))
      }
      const mean = (of: (one: number[]) => number) => scales.reduce((sum, one) => sum + of(one), 0) / scales.length
      const [x, z] = [mean(([a]) => a), mean(([, , b]) => b)]
      const correlation = mean(([a, , b]) => (a - x) * (b - z)) / Math.sqrt(mean(([a]) => (a - x) ** 2) * mean(([, , b]) => (b - z) ** 2))
      expect(Math.abs(correlation)).toBeLessThan(4 / Math.sqrt(scales.length))
    }
    for (const { room, size } of grow(spreadOf({ wide: { from: 3, to: 3 }, size: { from: 1, to: 1 }, spacing: 3, room: 1 }))) expect(room / size).toBeCloseTo(0.2, 6)
  })

  it('a shift along its own axes, on the ground where it comes to lie', () => {
    const straight = new Map(grow(pattern('ring', { count: 500, radius: 30 })).map((row) => [row.id, row]))
    const shifted = grow(pattern('ring', { count: 500, radius: 30, southBy: { from: 2, to: 5 }, eastBy: { from: -1, to: -1 } }))
    expect(shifted.length).toBe(500)
    const ways: number[] = []
    for (const { id, x, y, z, rotation } of shifted) {
      const home = straight.get(id)
      if (!home) throw new Error('a member that was not there')
      const way = new THREE.Vector3(x - home.x, 0, z - home.z)
      ways.push((way.dot(axis(rotation, 0, 0, 1)) - 2) / 3)
      expect(way.dot(axis(rotation, 1, 0, 0))).toBeCloseTo(-1, 3)
      expect(y).toBeCloseTo(heightAt(terrain, x, z), 3)
    }
    ways.sort((a, b) => a - b)
    expect(Math.max(...ways.map((value, k) => Math.abs(value - (k + 0.5) / ways.length)))).toBeLessThan(2.23 / Math.sqrt(500))
  })
})
