import { boxShape, condition, hilly, solidOf, spreadOf, terrainOf, surroundingsOf } from '../../testing/fields.ts'
import { DRIVERS } from '../fields/drivers/index.ts'
import { heightAt } from '../grounds/terrain.ts'
import { defaultsOf } from '../kinds.ts'
import type { DriverUse } from '../meadow.ts'
import { bareSurroundings, NOTHING_AROUND } from '../surroundings.ts'
import type { Sight } from '../grounds/ground.ts'
import { askPlace, placeSeen } from './ask.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import { placeOnTerrain } from '../grounds/terrain-ground.ts'

const sightTo = (origin: [number, number, number], to: [number, number, number]): Sight => {
  const way = to.map((value, c) => value - origin[c])
  const length = Math.hypot(...way)
  return { origin, direction: [way[0] / length, way[1] / length, way[2] / length], reach: 1000 }
}

const driverBy = (kind: string, rest: Partial<DriverUse>): DriverUse => ({
  id: kind,
  kind,
  on: true,
  params: defaultsOf(DRIVERS.get(kind).params),
  target: 'size',
  over: { from: 0, to: 1 },
  curve: [0, 0, 1, 1],
  low: 1,
  high: 2,
  ...rest,
})

describe('asking why here, why not here', () => {
  const hills = hilly()
  const box = solidOf(boxShape(2, 3, 4), { position: [10, 20, -5], turn: [0, 90, 0], size: 2 })
  const surroundings = surroundingsOf(hills, { solids: [box] })
  const onMesh = spreadOf({}, { grounds: ['mesh'] })

  it('a line of sight meets the terrain where it goes under it', () => {
    const place = placeSeen(spreadOf({}), surroundings, sightTo([5, 60, 40], [-12, 0, -20]))?.place
    expect(place?.normal).toBeNull()
    expect(Math.abs((place?.y ?? NaN) - heightAt(hills, place?.x ?? 0, place?.z ?? 0))).toBeLessThan(1e-6)
  })

  it('a planting on meshes is asked at the first side of them that is seen', () => {
    // Turned by 90° and doubled, the box reaches 8 m along x, 6 m up and 4 m along z from its middle.
    const top = placeSeen(onMesh, surroundings, sightTo([12, 100, -6], [12, 0, -6]))?.place
    expect([top?.x, top?.y, top?.z]).toEqual([expect.closeTo(12, 5), expect.closeTo(26, 4), expect.closeTo(-6, 5)])
    expect(top?.normal?.[1]).toBeCloseTo(1, 6)
    const side = placeSeen(onMesh, surroundings, sightTo([90, 21, -5], [10, 21, -5]))?.place
    expect([side?.x, side?.y, side?.z]).toEqual([expect.closeTo(18, 4), expect.closeTo(21, 5), expect.closeTo(-5, 5)])
    expect(side?.normal?.[0]).toBeCloseTo(1, 6)
    expect(placeSeen(onMesh, surroundings, sightTo([90, 90, -5], [10, 90, -5]))).toBeNull()
    expect(placeSeen(spreadOf({}, { grounds: ['another'] }), surroundings, sightTo([12, 100, -6], [12, 0, -6]))).toBeNull()
  })

  it('of terrain and mesh together the nearer one is met', () => {
    const both = spreadOf({}, { grounds: ['mesh', TERRAIN_ID] })
    expect(placeSeen(both, surroundings, sightTo([12, 100, -6], [12, 0, -6]))?.ground).toBe('mesh')
    expect(placeSeen(both, surroundings, sightTo([-30, 100, -6], [-30, 0, -6]))?.ground).toBe(TERRAIN_ID)
  })

  it('on a mesh the slope and the facing are those of its side', () => {
    const planting = spreadOf({}, { grounds: ['mesh'], habitat: [condition('slope', { slope: { from: null, to: 40 } }), condition('facing', { towards: 90 })] })
    const top = placeSeen(planting, surroundings, sightTo([12, 100, -6], [12, 0, -6]))
    const side = placeSeen(planting, surroundings, sightTo([90, 21, -5], [10, 21, -5]))
    if (!top || !side) throw new Error('the box is not met')
    const found = (place: typeof top) => Object.fromEntries(askPlace(planting, surroundings, NOTHING_AROUND, place).verdicts.map(({ use, finding, weight }) => [use, { finding, weight }]))
    expect(found(top).slope).toEqual({ finding: 'a slope of 0.0°', weight: 1 })
    expect(found(side).slope).toEqual({ finding: 'a slope of 90.0°', weight: 0 })
    expect(found(side).facing).toEqual({ finding: 'facing 90°', weight: 1 })
  })

  it('drivers say what they measure and what it makes of the place', () => {
    const ramp = terrainOf((x) => 0.5 * x + 30, 100, 101)
    const drivers = [
      driverBy('height', { over: { from: 20, to: 40 }, low: 0.5, high: 2.5 }),
      driverBy('above-water', { target: 'lift', over: { from: 0, to: 100 }, low: -1, high: 1 }),
      driverBy('slope', { target: 'tint', over: { from: 0, to: 1 }, low: '#000000', high: '#4080c0' }),
      { ...driverBy('formula', {}), on: false },
    ]
    const here = bareSurroundings(ramp, 5)
    const { readings } = askPlace(spreadOf({}, { drivers }), here, NOTHING_AROUND, { ground: TERRAIN_ID, place: placeOnTerrain(ramp, 10, 3) })
    // 35 m high is three quarters of the way from 20 to 40; 30 m above the water are three tenths.
    expect(readings).toEqual([
      { use: 'height', value: expect.closeTo(35, 4), amount: expect.closeTo(2, 4) },
      { use: 'above-water', value: expect.closeTo(30, 4), amount: expect.closeTo(-0.4, 4) },
      { use: 'slope', value: expect.closeTo((Math.atan(0.5) * 180) / Math.PI, 3), amount: '#4080c0' },
    ])
  })
})
