import * as THREE from 'three'
import { assetOf, boxShape, growAll, hilly, outlineOf, rowsOf, solidOf, spreadOf } from '../../testing/fields.ts'
import type { Solid } from '../grounds/solid.ts'
import { heightAt } from '../grounds/terrain.ts'
import type { Planting } from '../meadow.ts'

/** Shifts of what is thrown by rule. */

const terrain = hilly(200, 201)
const assets = ['a', 'b'].map((id) => assetOf(id, 0.4))
const UPRIGHT = { follow: 0, lean: { from: 0, to: 0 }, seat: 'centre', room: 0 } as const
const LINE = outlineOf('path', [[-80, -30, 10, 20, 80, -20]], { id: 'line' })
const grow = (planting: Planting, solids: readonly Solid[] = []) => rowsOf(growAll(planting, terrain, { assets, outlines: [LINE], surroundings: { solids } }))
const axis = (rotation: readonly number[], x: number, y: number, z: number) => new THREE.Vector3(x, y, z).applyQuaternion(new THREE.Quaternion(...(rotation as [number, number, number, number])))

describe('things that are thrown by rule are shifted', () => {
  it.each([
    ['spread', { spacing: 4 }, {}],
    ['spread', { placing: 'random', by: 'density', density: 0.05 }, {}],
    ['spread', { placing: 'natural', arrangement: 0.8, by: 'density', density: 0.05 }, {}],
    ['strewn', { every: 0.5, toSides: 6 }, { along: ['line'] }],
  ] as const)('along their own axes, from–to, onto the ground there: %s %j', (kind, params, rest) => {
    const of = (shift: Planting['params']) => grow(spreadOf({ ...UPRIGHT, ...params, ...shift }, { kind, ...rest, along: [...('along' in rest ? rest.along : [])] }))
    const homes = new Map(of({}).map((row) => [row.id, row]))
    const shifted = of({ eastBy: { from: -1, to: -1 }, southBy: { from: 2, to: 5 } })
    const ways: number[] = []
    for (const { id, x, y, z, rotation, asset } of shifted) {
      const home = homes.get(id)
      // What comes in over the rim was thrown beyond it.
      if (!home) continue
      expect(asset).toBe(home.asset)
      const way = new THREE.Vector3(x - home.x, 0, z - home.z)
      ways.push((way.dot(axis(rotation, 0, 0, 1)) - 2) / 3)
      expect(way.dot(axis(rotation, 1, 0, 0))).toBeCloseTo(-1, 3)
      expect(y).toBeCloseTo(heightAt(terrain, x, z), 3)
    }
    // Only by the rim any are lost or come in.
    const inner = ({ x, z }: { x: number; z: number }) => Math.max(Math.abs(x), Math.abs(z)) < 100 - 5.1
    const there = new Set(shifted.map(({ id }) => id))
    expect([...homes.values()].filter((home) => inner(home) && !there.has(home.id))).toEqual([])
    expect(shifted.filter((row) => inner(row) && !homes.has(row.id))).toEqual([])
    expect(ways.length).toBeGreaterThan(250)
    // Kolmogorov–Smirnov against even, false in one of ten thousand.
    ways.sort((a, b) => a - b)
    expect(Math.max(...ways.map((value, k) => Math.abs(value - (k + 0.5) / ways.length)))).toBeLessThan(2.23 / Math.sqrt(ways.length))
  })

  it('and keep their rooms where they come to lie, which no longer keep the spacing', () => {
    const planting = spreadOf({ ...UPRIGHT, spacing: 1, room: 1, size: { from: 1, to: 1 }, eastBy: { from: -2, to: 2 }, southBy: { from: -2, to: 2 } })
    const rows = grow(planting)
    expect(rows.length).toBeGreaterThan(10000)
    let least = Infinity
    const cells = new Map<string, typeof rows>()
    for (const row of rows) {
      const key = `${Math.floor(row.x)} ${Math.floor(row.z)}`
      cells.set(key, [...(cells.get(key) ?? []), row])
    }
    for (const row of rows)
      for (let i = -1; i <= 1; i++)
        for (let j = -1; j <= 1; j++)
          for (const other of cells.get(`${Math.floor(row.x) + i} ${Math.floor(row.z) + j}`) ?? []) if (other !== row) least = Math.min(least, Math.hypot(other.x - row.x, other.z - row.z))
    // Two rooms of 0.4 m.
    expect(least).toBeGreaterThan(0.8 - 1e-6)
    expect(least).toBeLessThan(0.81)
  })

  it('over a mesh all over, each staying on its surface; what would go over an edge stays', () => {
    const block = solidOf(boxShape(10, 4, 7), { id: 'block', position: [0, 30, 0], turn: [20, 30, 40] })
    const of = (shift: Planting['params']) => grow(spreadOf({ ...UPRIGHT, fill: 'all-over', placing: 'random', by: 'density', density: 2, ...shift }, { grounds: ['block'] }), [block])
    const homes = new Map(of({}).map((row) => [row.id, row]))
    const shifted = of({ eastBy: { from: 0.5, to: 0.5 }, southBy: { from: -1.2, to: -1.2 } })
    expect(shifted.length).toBe(homes.size)
    let moved = 0
    const back = new THREE.Quaternion().setFromRotationMatrix(new THREE.Matrix4().set(...(Array.from({ length: 4 }, (_, r) => [...(r < 3 ? [...block.matrix.slice(3 * r, 3 * r + 3), 0] : [0, 0, 0, 1])]).flat() as Parameters<THREE.Matrix4['set']>))).invert()
    for (const { id, x, y, z } of shifted) {
      const home = homes.get(id)
      if (!home) throw new Error('one that was not there')
      const own = new THREE.Vector3(x, y - 30, z).applyQuaternion(back)
      // On the surface of the box.
      expect(Math.max(Math.abs(own.x) - 10, Math.abs(own.y) - 4, Math.abs(own.z) - 7)).toBeCloseTo(0, 4)
      const way = Math.hypot(x - home.x, y - home.y, z - home.z)
      if (way > 1e-6) {
        expect(way).toBeCloseTo(1.3, 4)
        moved++
      }
    }
    expect(moved / shifted.length).toBeGreaterThan(0.75)
    expect(moved / shifted.length).toBeLessThan(1)
  })
})
