import fc from 'fast-check'
import * as THREE from 'three'
import { framesOfRing } from './ring.ts'
import type { Direction } from './row.ts'
import { framesOfRow, outgrown } from './row.ts'
import type { Step } from './step.ts'
import { powersOf, runOfSteps, stepOfRun } from './step.ts'

const metres = fc.double({ min: -10, max: 10, noNaN: true })
const step: fc.Arbitrary<Step> = fc.record({
  move: fc.tuple(metres, metres, metres),
  axis: fc.constantFrom('up', 'east', 'south'),
  degrees: fc.double({ min: -90, max: 90, noNaN: true }),
  factor: fc.double({ min: 0.9, max: 1.1, noNaN: true }),
})

/** A step as a matrix of another library: moved, turned, sized. */
function matrixOf({ move, axis, degrees, factor }: Step): THREE.Matrix4 {
  const about = { up: new THREE.Vector3(0, -1, 0), east: new THREE.Vector3(1, 0, 0), south: new THREE.Vector3(0, 0, 1) }[axis]
  return new THREE.Matrix4().compose(new THREE.Vector3(...move), new THREE.Quaternion().setFromAxisAngle(about, (degrees * Math.PI) / 180), new THREE.Vector3(factor, factor, factor))
}

const matrixAt = (place: ArrayLike<number>, turn: ArrayLike<number>, size: number) =>
  new THREE.Matrix4().compose(new THREE.Vector3(place[0], place[1], place[2]), new THREE.Quaternion(turn[0], turn[1], turn[2], turn[3]), new THREE.Vector3(size, size, size))
const close = (a: THREE.Matrix4, b: THREE.Matrix4, by: number) => a.elements.forEach((value, k) => expect(Math.abs(value - b.elements[k])).toBeLessThan(by * (1 + Math.abs(value))))

describe('steps', () => {
  it('compose: member k is the step to the power of k, by matrices of another library', () => {
    fc.assert(
      fc.property(step, fc.integer({ min: 1, max: 60 }), (one, count) => {
        const powers = powersOf(one, count)
        const matrix = new THREE.Matrix4()
        for (let k = 0; k < count; k++) {
          const [x, y, z, ...rest] = powers.subarray(8 * k, 8 * k + 8)
          close(matrixAt([x, y, z], rest.slice(0, 4), rest[4]), matrix, 1e-9)
          matrix.multiply(matrixOf(one))
        }
      }),
    )
  })

  it('a hundred thousand of them stay exact: they close a circle of 360,000 steps by a quarter of its radius', () => {
    const [count, degrees] = [90_001, 0.001]
    const powers = powersOf({ move: [1, 0, 0], axis: 'up', degrees, factor: 1 }, count)
    // In closed form: chords of 1 m under angles that rise by a thousandth of a degree.
    const radius = 1 / (2 * Math.sin((degrees * Math.PI) / 360))
    const last = powers.subarray(8 * (count - 1))
    const half = (degrees * Math.PI) / 360
    expect(last[0] / radius).toBeCloseTo(Math.sin(Math.PI / 2 - half) + Math.sin(half), 9)
    expect(last[2] / radius).toBeCloseTo(Math.cos(half) - Math.cos(Math.PI / 2 - half), 9)
  })

  it('of a whole run lead to its last member, and back', () => {
    fc.assert(
      fc.property(step, fc.integer({ min: 1, max: 60 }), (run, steps) => {
        const one = stepOfRun(run, steps)
        if (!one) return
        const again = runOfSteps(one, steps)
        again.move.forEach((value, c) => expect(Math.abs(value - run.move[c])).toBeLessThan(1e-6 * (1 + Math.hypot(...run.move))))
        expect(again.degrees).toBeCloseTo(run.degrees, 9)
        expect(again.factor).toBeCloseTo(run.factor, 9)
      }),
    )
    expect(stepOfRun({ move: [3, 0, 0], axis: 'up', degrees: 360, factor: 1 }, 9)).toBeNull()
    expect(stepOfRun({ move: [0, 3, 0], axis: 'up', degrees: 720, factor: 1 }, 16)).toBeNull()
  })

  it('tell which member is none any more', () => {
    expect(outgrown(0.5, 100, 0.001, 1000)).toBe(10)
    expect(outgrown(2, 100, 0.001, 1000)).toBe(10)
    expect(outgrown(2, 10, 0.001, 1000)).toBeNull()
    expect(outgrown(1, 1e9, 0.001, 1000)).toBeNull()
  })
})

describe('a row', () => {
  it('in three directions has each member where the steps of all three lead, named by its numbers', () => {
    fc.assert(
      fc.property(fc.array(fc.record({ count: fc.integer({ min: 1, max: 5 }), step }), { minLength: 1, maxLength: 3 }), (directions: Direction[]) => {
        const frames = framesOfRow(directions)
        expect(frames.count).toBe(directions.reduce((all, { count }) => all * count, 1))
        for (let k = 0; k < frames.count; k++) {
          const numbers = [frames.low[k], frames.high[k] & 0xffff, frames.high[k] >>> 16]
          const matrix = new THREE.Matrix4()
          for (const d of [2, 1, 0]) for (let n = 0; n < numbers[d]; n++) matrix.multiply(matrixOf(directions[d].step))
          close(matrixAt(frames.place.subarray(3 * k), frames.turn.subarray(4 * k), frames.size[3 * k]), matrix, 1e-8)
        }
      }),
      { numRuns: 40 },
    )
  })
})

const clock = ([x, , z]: ArrayLike<number> & Iterable<number>) => ((Math.atan2(x, -z) * 180) / Math.PI + 360) % 360

describe('a ring', () => {
  const ring = { count: 9, radius: 5, across: 5, start: 30, arc: 360, facing: 'out' as const }
  const placeOf = (frames: ReturnType<typeof framesOfRing>, k: number) => [...frames.place.subarray(3 * k, 3 * k + 3)]
  /** Where the front of a member looks, degrees by the clock. */
  const front = (frames: ReturnType<typeof framesOfRing>, k: number) => clock(new THREE.Vector3(0, 0, 1).applyQuaternion(new THREE.Quaternion(...frames.turn.subarray(4 * k, 4 * k + 4))).toArray())
  const apart = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180)

  it('of nine has nine, 40° apart, none doubled; an arc has both its ends', () => {
    const whole = framesOfRing(ring)
    for (let k = 0; k < 9; k++) expect(apart(clock(placeOf(whole, k)), 30 + 40 * k)).toBeLessThan(1e-9)
    const arc = framesOfRing({ ...ring, arc: -90, count: 4 })
    expect([0, 1, 2, 3].map((k) => Math.round(clock(placeOf(arc, k))))).toEqual([30, 0, 330, 300])
    expect(framesOfRing({ ...ring, count: 1 }).count).toBe(1)
  })

  it('lets its members look out, in or ahead, whichever way it goes round', () => {
    for (const arc of [360, -360, 200, -200])
      for (let k = 0; k < 9; k++) {
        const at = (facing: 'out' | 'in' | 'ahead' | 'same') => front(framesOfRing({ ...ring, arc, facing }), k)
        const out = clock(placeOf(framesOfRing({ ...ring, arc }), k))
        expect(apart(at('out'), out)).toBeLessThan(1e-6)
        expect(apart(at('in'), out + 180)).toBeLessThan(1e-6)
        expect(apart(at('ahead'), out + (arc > 0 ? 90 : -90))).toBeLessThan(1e-6)
        expect(apart(at('same'), 180)).toBeLessThan(1e-9)
      }
  })

  it('with two radii goes evenly along the ellipse: against its length in a million pieces', () => {
    const [radius, across, count] = [8, 3, 24]
    const frames = framesOfRing({ ...ring, radius, across, count, start: 10 })
    const gone = new Float64Array(1_000_001)
    const at = (k: number) => [across * Math.sin(((10 + (360 * k) / 1e6) * Math.PI) / 180), -radius * Math.cos(((10 + (360 * k) / 1e6) * Math.PI) / 180)]
    for (let k = 1; k <= 1e6; k++) gone[k] = gone[k - 1] + Math.hypot(at(k)[0] - at(k - 1)[0], at(k)[1] - at(k - 1)[1])
    for (let k = 0; k < count; k++) {
      const near = gone.findIndex((long) => long >= (gone[1e6] * k) / count)
      const [x, z] = at(near)
      expect(Math.hypot(frames.place[3 * k] - x, frames.place[3 * k + 2] - z)).toBeLessThan(1e-3 * (gone[1e6] / count))
    }
  })
})

describe('a spiral', () => {
  it('lies on the helix that its step winds: as far from its axis, as high and as far turned as that says', () => {
    const [radius, degrees, rise, count] = [2.4, 17, 0.19, 200]
    const angle = (degrees * Math.PI) / 180
    // From one place of a circle to the next: the front looks along it, the axis lies to the west of the first.
    const chord = 2 * radius * Math.sin(angle / 2)
    const frames = framesOfRow([{ count, step: { move: [-chord * Math.sin(angle / 2), rise, chord * Math.cos(angle / 2)], axis: 'up', degrees, factor: 1 } }])
    for (let k = 0; k < count; k++) {
      const [x, y, z] = frames.place.subarray(3 * k, 3 * k + 3)
      // About the axis at (−radius, 0): clockwise seen from above, from the east over the south.
      const wanted = [-radius + radius * Math.cos(k * angle), k * rise, radius * Math.sin(k * angle)]
      expect(Math.hypot(x - wanted[0], y - wanted[1], z - wanted[2])).toBeLessThan(1e-9)
      const front = new THREE.Vector3(0, 0, 1).applyQuaternion(new THREE.Quaternion(...frames.turn.subarray(4 * k, 4 * k + 4)))
      const tangent = new THREE.Vector3(-Math.sin(k * angle), 0, Math.cos(k * angle))
      expect((front.angleTo(tangent) * 180) / Math.PI).toBeLessThan(1e-5)
    }
  })
})
