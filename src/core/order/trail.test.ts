import fc from 'fast-check'
import * as THREE from 'three'
import type { Outline } from '../meadow.ts'
import { outlineOf } from '../../testing/fields.ts'
import type { Trail } from './trail.ts'
import { countOfTrail, framesOfTrail } from './trail.ts'

const base: Trail = { by: 'spacing', count: 5, spacing: 2, fit: false, from: 0, to: 1, sides: 'on', abreast: 1, off: 0, facing: 'ahead', stands: 'upright', uneven: 0, aside: 0, between: false, land: 1 }
const level = () => 0
const path = (line: number[], rest: Partial<Outline> = {}) => outlineOf('path', [line], { id: 'p', ...rest })
const bent = path([0, 0, 10, 0, 10, 10, 30, 10])
const places = (frames: ReturnType<typeof framesOfTrail>) => Array.from({ length: frames.count }, (_, k) => [...frames.place.subarray(3 * k, 3 * k + 3)])
const axis = (frames: ReturnType<typeof framesOfTrail>, k: number, own: [number, number, number]) => new THREE.Vector3(...own).applyQuaternion(new THREE.Quaternion(...frames.turn.subarray(4 * k, 4 * k + 4)))

describe('a trail', () => {
  it('by spacing: every so many metres of the line, round its corners; by count: evenly from end to end', () => {
    expect(places(framesOfTrail([bent], { ...base, spacing: 8 }, 1, level)).map(([x, , z]) => [x, z])).toEqual([[0, 0], [8, 0], [10, 6], [14, 10], [22, 10], [30, 10]])
    expect(places(framesOfTrail([bent], { ...base, by: 'count', count: 3, from: 0.25, to: 0.75 }, 1, level)).map(([x, , z]) => [x, z])).toEqual([[10, 0], [10, 10], [20, 10]])
    // Of 40 m at 9 m the last one stands 4 m before the end; fitted, at the end.
    expect(countOfTrail([bent], { ...base, spacing: 9 })).toBe(5)
    expect(places(framesOfTrail([bent], { ...base, spacing: 9, fit: true }, 1, level)).at(-1)).toEqual([30, 0, 10])
  })

  it('goes along a curve evenly: its steps are off by less than a thousandth, against an integration in a million pieces', () => {
    const curve = path([0, 0, 12, 9, 20, -6, 41, 3], { smooth: true })
    const frames = framesOfTrail([curve], { ...base, by: 'count', count: 41 }, 1, level)
    // The line as its own dense polyline: what the picture and strewn things go by.
    const dense = framesOfTrail([curve], { ...base, by: 'count', count: 400_000 }, 1, level)
    const gone = new Float64Array(dense.count)
    for (let k = 1; k < dense.count; k++) gone[k] = gone[k - 1] + Math.hypot(dense.place[3 * k] - dense.place[3 * k - 3], dense.place[3 * k + 2] - dense.place[3 * k - 1])
    const step = gone[dense.count - 1] / 40
    for (let k = 0; k <= 40; k++) {
      const near = Math.min(dense.count - 1, gone.findIndex((long) => long >= k * step - 1e-9))
      expect(Math.hypot(frames.place[3 * k] - dense.place[3 * near], frames.place[3 * k + 2] - dense.place[3 * near + 2])).toBeLessThan(1e-3 * step)
    }
  })

  it('goes round a circle that a curve draws through 64 points by equal angles, within a thousandth of a step', () => {
    const circle = path(Array.from({ length: 64 }, (_, k) => (2 * Math.PI * k) / 64).flatMap((angle) => [20 * Math.cos(angle), 20 * Math.sin(angle)]), { smooth: true, closed: true })
    const frames = framesOfTrail([circle], { ...base, by: 'count', count: 25 }, 1, level)
    for (let k = 0; k < 25; k++) {
      const [x, z] = [frames.place[3 * k], frames.place[3 * k + 2]]
      const off = Math.atan2(z, x) - (2 * Math.PI * k) / 25
      // Along it; across, a curve is drawn to within a hundredth of a metre.
      expect(Math.abs(off - 2 * Math.PI * Math.round(off / (2 * Math.PI)))).toBeLessThan(1e-3 * ((2 * Math.PI) / 25))
      expect(Math.abs(Math.hypot(x, z) - 20)).toBeLessThan(0.011)
    }
  })

  it('round a closed line has none at its end, which is its beginning', () => {
    const square = path([0, 0, 10, 0, 10, 10, 0, 10], { closed: true })
    expect(places(framesOfTrail([square], { ...base, by: 'count', count: 4 }, 1, level)).map(([x, , z]) => [x, z])).toEqual([[0, 0], [10, 0], [10, 10], [0, 10]])
    expect(countOfTrail([square], { ...base, spacing: 8 })).toBe(5)
    expect(countOfTrail([square], { ...base, spacing: 7, fit: true })).toBe(6)
  })

  it('on its sides: left, right, both, by turns; its members look ahead, back, to the sides', () => {
    const east = path([0, 0, 10, 0])
    const sides = (of: Trail['sides']) => places(framesOfTrail([east], { ...base, spacing: 5, sides: of, off: 3 }, 1, level)).map(([, , z]) => z)
    // Left of one who goes east is the north.
    expect([sides('left'), sides('right'), sides('both'), sides('turns')]).toEqual([[-3, -3, -3], [3, 3, 3], [-3, 3, -3, 3, -3, 3], [-3, 3, -3]])
    const looks = (facing: Trail['facing'], line = east) => axis(framesOfTrail([line], { ...base, facing }, 1, level), 0, [0, 0, 1]).toArray().map((value) => Math.round(value) + 0)
    expect([looks('ahead'), looks('back'), looks('left'), looks('right'), looks('same')]).toEqual([[1, 0, 0], [-1, 0, 0], [0, 0, -1], [0, 0, 1], [0, 0, 1]])
    expect([looks('ahead', path([0, 0, 0, 10])), looks('ahead', path([0, 0, 0, -10])), looks('left', path([0, 0, 0, 10]))]).toEqual([[0, 0, 1], [0, 0, -1], [1, 0, 0]])
  })

  it('takes a path of one point, or of points that fall together, for what it is', () => {
    for (const line of [[4, 5], [4, 5, 4, 5, 4, 5]])
      for (const trail of [base, { ...base, by: 'count' as const }, { ...base, fit: true }, { ...base, between: true }]) {
        const frames = framesOfTrail([path(line)], trail, 1, level)
        for (const [x, , z] of places(frames)) expect([x, z]).toEqual([4, 5])
        expect([...frames.turn].every(Number.isFinite)).toBe(true)
      }
    expect(places(framesOfTrail([path([0, 0, 10, 0, 10, 0, 10, 10, 30, 10, 30, 10])], base, 1, level))).toEqual(places(framesOfTrail([bent], base, 1, level)))
  })

  it('fills a width, so many abreast at each place, each with an address of its own that stays', () => {
    const straight = path([0, 0, 20, 0])
    const frames = framesOfTrail([straight], { ...base, spacing: 5, sides: 'across', abreast: 4, off: 3 }, 1, level)
    expect(frames.count).toBe(20)
    for (let k = 0; k < 20; k++) expect([frames.place[3 * k], frames.place[3 * k + 2]]).toEqual([5 * Math.floor(k / 4), expect.closeTo(-3 + 2 * (k % 4), 9)])
    const address = ({ low, high }: typeof frames, k: number) => `${high[k]}:${low[k]}`
    const all = new Set(Array.from({ length: 20 }, (_, k) => address(frames, k)))
    expect(all.size).toBe(20)
    const longer = framesOfTrail([path([0, 0, 40, 0])], { ...base, spacing: 5, sides: 'across', abreast: 4, off: 3 }, 1, level)
    for (let k = 0; k < 20; k++) expect(address(longer, k)).toBe(address(frames, k))
    const one = framesOfTrail([straight], { ...base, spacing: 5, sides: 'across', abreast: 1, off: 3 }, 1, level)
    expect([one.count, one.place[2]]).toEqual([5, 0])
  })

  it('has heights of its own, straight from one end to the other over all dips, level all round where it is closed', () => {
    const height = (x: number, z: number) => 3 * Math.sin(x / 4) + 0.2 * z
    const own = places(framesOfTrail([bent], base, 1, height))
    own.forEach(([, y], k) => expect(y).toBeCloseTo(height(0, 0) + ((height(30, 10) - height(0, 0)) * 2 * k) / 40, 9))
    const closed = path([0, 0, 10, 0, 10, 10], { kind: 'patch', closed: true })
    for (const [, y] of places(framesOfTrail([closed], base, 1, height))) expect(y).toBeCloseTo(height(0, 0), 9)
    // What reaches comes as much of the way to the ground as is asked.
    for (const land of [0, 0.5]) {
      const rails = framesOfTrail([bent], { ...base, between: true, land }, 1, height)
      const at = (k: number) => own[k][1] + land * (height(own[k][0], own[k][2]) - own[k][1])
      for (let k = 0; k < rails.count; k++) expect(rails.place[3 * k + 1]).toBeCloseTo((at(k) + at(k + 1)) / 2, 9)
    }
  })

  it('between its places: each reaches straight from one to the next, over hill and dale, whichever way its front looks', () => {
    const height = (x: number, z: number) => 3 * Math.sin(x / 4) + 0.2 * z
    for (const facing of ['ahead', 'back', 'left', 'right', 'same'] as const) {
      // What stands at the places comes down to the ground later; what reaches goes by the ground already.
      const posts = places(framesOfTrail([bent], base, 1, height)).map(([x, , z]) => [x, height(x, z), z])
      const rails = framesOfTrail([bent], { ...base, between: true, facing }, 1, height)
      expect(rails.count).toBe(posts.length - 1)
      for (let k = 0; k < rails.count; k++) {
        const way = posts[k + 1].map((value, c) => value - posts[k][c])
        expect(rails.reach[k]).toBeCloseTo(Math.hypot(...way), 9)
        const [own, sign] = { ahead: [[0, 0, 1], 1], back: [[0, 0, 1], -1], left: [[1, 0, 0], -1], right: [[1, 0, 0], 1], same: [[1, 0, 0], -1] }[facing] as [[number, number, number], number]
        expect(axis(rails, k, own).multiplyScalar(sign * rails.reach[k]).distanceTo(new THREE.Vector3(...way))).toBeLessThan(1e-6)
        // Not rolled over: its own side that lies across the line stays level.
        expect(Math.abs(axis(rails, k, own[0] === 1 ? [0, 0, 1] : [1, 0, 0]).y)).toBeLessThan(1e-9)
        for (let c = 0; c < 3; c++) expect(rails.place[3 * k + c]).toBeCloseTo((posts[k][c] + posts[k + 1][c]) / 2, 9)
      }
    }
  })

  it('member k stays the member k, whatever their number; uneven ones stray by no more than they may', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 30 }), fc.integer({ min: 1, max: 20 }), fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 2, noNaN: true }), (count, more, uneven, aside) => {
        const trail = { ...base, uneven, aside, spacing: 40 / (count - 1) }
        const few = framesOfTrail([bent], { ...trail, to: 0.5 }, 7, level)
        const many = framesOfTrail([bent, path([0, 50, more, 50], { id: 'q' })], trail, 7, level)
        for (let k = 0; k < few.count; k++) {
          expect([few.low[k], few.high[k]]).toEqual([many.low[k], many.high[k]])
          expect([...few.place.subarray(3 * k, 3 * k + 3)]).toEqual([...many.place.subarray(3 * k, 3 * k + 3)])
          const even = framesOfTrail([bent], { ...base, spacing: trail.spacing }, 7, level)
          expect(Math.hypot(few.place[3 * k] - even.place[3 * k], few.place[3 * k + 2] - even.place[3 * k + 2])).toBeLessThan(uneven * trail.spacing + aside + 1e-9)
        }
      }),
      { numRuns: 40 },
    )
  })
})
