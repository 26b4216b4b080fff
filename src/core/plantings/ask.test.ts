import { boxShape, condition, hilly, slowNormal, solidOf, spreadOf, terrainOf, surroundingsOf } from '../../testing/fields.ts'
import { DRIVERS } from '../fields/drivers/index.ts'
import { heightAt } from '../grounds/terrain.ts'
import { defaultsOf } from '../kinds.ts'
import type { DriverUse } from '../meadow.ts'
import { bareSurroundings, NOTHING_AROUND } from '../surroundings.ts'
import type { Sight } from '../grounds/ground.ts'
import { askPlace, placeSeen } from './ask.ts'
import { tintPlaces } from './tint.ts'
import { createArena } from '../stages/arena.ts'
import { groundsOf } from '../grounds/index.ts'
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

  it('a place that nothing is thrown onto is told, whatever the conditions say', () => {
    const at = (fill: string, place: [number, number, number], from: [number, number, number], rest: object = {}) => {
      const planting = spreadOf({ fill, ...rest }, { grounds: ['mesh'] })
      const seen = placeSeen(planting, surroundings, sightTo(from, place))
      if (!seen) throw new Error('the box is not met')
      return askPlace(planting, surroundings, NOTHING_AROUND, seen).barred
    }
    const [above, beside, below] = [[12, 100, -6], [90, 21, -5], [12, -60, -6]] as [number, number, number][]
    const [top, side, under] = [[12, 0, -6], [10, 21, -5], [12, 40, -6]] as [number, number, number][]
    for (const fill of ['above', 'levels', 'all-over']) expect(at(fill, top, above)).toBeNull()
    expect(at('all-over', side, beside)).toBeNull()
    expect(at('above', side, beside)).toContain('is filled from above only')
    expect(at('above', under, below)).toContain('is filled from above only')
    expect(at('levels', under, below)).toContain('this side looks down')
    // Thrown from the east, level: the eastern side is met, the top is not.
    const east = { fromCompass: 90, fromAbove: 0 }
    expect(at('side', side, beside, east)).toBeNull()
    expect(at('side', top, above, east)).toContain('filled from one side only')
  })

  it('a place within a ground that comes first is told', () => {
    // The terrain first: what of the box lies below it is no place of its own any more.
    const high = terrainOf(() => 24, 100, 11)
    const around = surroundingsOf(high, { solids: [box] })
    const planting = spreadOf({ fill: 'all-over' }, { grounds: [TERRAIN_ID, 'mesh'] })
    const buried = { ground: 'mesh', place: { x: 18, y: 18, z: -5, normal: [1, 0, 0] as const } }
    expect(askPlace(planting, around, NOTHING_AROUND, buried).barred).toContain('within another of its grounds that comes first')
    const free = { ground: 'mesh', place: { x: 18, y: 25, z: -5, normal: [1, 0, 0] as const } }
    expect(askPlace(planting, around, NOTHING_AROUND, free).barred).toBeNull()
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

describe('conditions at places', () => {
  const bumpy = hilly(100, 101)

  it('hold where the height says so, by itself and with others, on a mesh by the direction that is given', () => {
    const own = spreadOf({}, { habitat: [{ ...condition('height', { height: { from: 0, to: 3 }, soft: 0 }), id: 'h' }, { ...condition('slope', { slope: { from: null, to: 20 }, soft: 0 }), id: 's' }] })
    const places = Array.from({ length: 500 }, (_, k) => [((k * 37) % 96) - 47.63, ((k * 53) % 90) - 44.79] as const)
    const asked = Float64Array.from(places.flatMap(([x, z]) => [x, 0, z, 0, 1, 0]))
    const around = surroundingsOf(bumpy)
    const [ground] = groundsOf([TERRAIN_ID], around)
    const arena = createArena()
    const height = tintPlaces(own, 'h', around, NOTHING_AROUND, ground, asked, arena)
    const both = tintPlaces(own, null, around, NOTHING_AROUND, ground, asked, arena)
    let held = 0
    places.forEach(([x, z], k) => {
      const y = heightAt(bumpy, x, z)
      expect(height[k]).toBe(y >= 0 && y <= 3 ? 255 : 0)
      const [nx, ny, nz] = slowNormal(bumpy, x, z)
      const steep = (Math.atan2(Math.hypot(nx, nz), ny) * 180) / Math.PI
      if (Math.abs(steep - 20) > 1) expect(both[k]).toBe(height[k] > 0 && steep < 20 ? 255 : 0)
      if (both[k] > 0) held++
    })
    expect(held).toBeGreaterThan(20)
    const solid = solidOf(boxShape(4, 4, 4), { id: 'block' })
    const onMesh = surroundingsOf(bumpy, { solids: [solid] })
    const [mesh] = groundsOf(['block'], onMesh)
    const sides = Float64Array.of(0, 4, 0, 0, 1, 0, 4, 0, 0, 1, 0, 0)
    expect([...tintPlaces(own, 's', onMesh, NOTHING_AROUND, mesh, sides, arena)]).toEqual([255, 0])
  })
})
