import fc from 'fast-check'
import * as THREE from 'three'
import type { Stand } from '../hand/frames.ts'
import type { Quaternion } from '../math/quaternion.ts'
import { fitRing, fitRow } from './fit.ts'
import { framesOfRing } from './ring.ts'
import { framesOfRow } from './row.ts'

const shuffled = <T,>(list: readonly T[], seed: number) => list.map((one, k) => ({ one, key: Math.sin(seed + 12.9898 * k) * 43758.5453 })).sort((a, b) => (a.key % 1) - (b.key % 1)).map(({ one }) => one)
const about = (degrees: number): Quaternion => new THREE.Quaternion().setFromAxisAngle(new THREE.Vector3(0, 1, 0), (-degrees * Math.PI) / 180).toArray() as unknown as Quaternion

/** Members of frames about a place, as things. */
function things(frames: ReturnType<typeof framesOfRow>, [x, y, z]: readonly number[], turn: Quaternion, turnOf: (k: number) => Quaternion = () => [0, 0, 0, 1]): Stand[] {
  const outer = new THREE.Quaternion(...turn)
  return Array.from({ length: frames.count }, (_, k) => {
    const at = new THREE.Vector3(...frames.place.subarray(3 * k, 3 * k + 3)).applyQuaternion(outer)
    const own = outer.clone().multiply(new THREE.Quaternion(...frames.turn.subarray(4 * k, 4 * k + 4))).multiply(new THREE.Quaternion(...turnOf(k)))
    const size = frames.size[3 * k]
    return { place: [x + at.x, y + at.y, z + at.z], turn: own.toArray() as unknown as Quaternion, size: [size, size, size] }
  })
}

describe('a row that things fit', () => {
  it('is found again of what was let go: straight, bent, rising, shrinking, in whichever order', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
    fc.assert(
      fc.property(number(0.5, 3), number(-0.4, 0.4), number(-25, 25), number(0.93, 1.05), fc.integer({ min: 3, max: 14 }), fc.nat(1000), (east, up, degrees, factor, count, seed) => {
        // What comes back to itself has no order of its own.
        if (Math.abs(degrees) * count > 300) return
        const all = things(framesOfRow([{ count, step: { move: [east, up, 0], axis: 'up', degrees, factor } }]), [3, 40, -7], about(33))
        const fit = fitRow(shuffled(all, seed))
        expect(fit?.off).toBeLessThan(0.02 * east * count)
        if (Math.abs(degrees) > 2) expect(Math.abs(Math.abs(fit?.step.degrees ?? 0) - Math.abs(degrees))).toBeLessThan(1e-6)
        if (Math.abs(degrees) > 2 || Math.abs(factor - 1) < 1e-9) expect(fit?.off).toBeLessThan(1e-6)
      }),
    )
  })

  it('is the best straight one of what is turned at random and a little off: by least squares', () => {
    const wobble = (k: number) => 0.05 * Math.sin(17 * k)
    const all: Stand[] = Array.from({ length: 12 }, (_, k) => ({ place: [2 + 1.5 * k + wobble(k), 10 + wobble(k + 20), 4 + 0.5 * k + wobble(k + 40)], turn: about(97 * k * k), size: [1, 1, 1] }))
    const fit = fitRow(shuffled(all, 3))
    expect(fit?.alike).toBe(false)
    expect(Math.abs(Math.abs(fit?.step.move[0] ?? 0) - 1.5)).toBeLessThan(0.01)
    expect(fit?.off).toBeLessThan(0.09)
    // No straight row of this count comes nearer in the mean of squares.
    const badness = (dx: number, dz: number) => all.reduce((sum, { place: [x, , z] }, k) => sum + (x - (2 + 1.5 * k + dx)) ** 2 + (z - (4 + 0.5 * k + dz)) ** 2, 0)
    expect(badness(0, 0)).toBeLessThan(badness(0.1, 0))
    expect(fitRow(all.slice(0, 1))).toBeNull()
  })
})

describe('a bent row that things nearly fit', () => {
  it('is off as little to one side as to the other', () => {
    const exact = things(framesOfRow([{ count: 8, step: { move: [1.5, 0.2, 0], axis: 'up', degrees: 15, factor: 1 } }]), [3, 40, -7], about(0))
    // All but the first, which the row begins at, stand a little to the east.
    const fit = fitRow(exact.map((one, k) => ({ ...one, place: [one.place[0] + (k === 0 ? 0 : 0.08), one.place[1], one.place[2]] })))
    if (!fit) throw new Error('no row')
    const frames = framesOfRow([{ count: 8, step: fit.step }])
    const gaps = things(frames, fit.place, fit.turn).map(({ place }, k) => exact[fit.order[k]].place.map((value, c) => value + (c === 0 && fit.order[k] > 0 ? 0.08 : 0) - place[c]))
    for (let c = 0; c < 3; c++) expect(gaps.reduce((sum, gap) => sum + gap[c], 0)).toBeCloseTo(0, 9)
    expect(fit.off).toBeCloseTo(Math.max(...gaps.map((gap) => Math.hypot(...gap))), 9)
    expect(fit.off).toBeLessThan(0.12)
  })
})

describe('a ring that things fit', () => {
  it.each([
    ['whole', { count: 9, radius: 4, across: 4, start: 25, arc: 360, facing: 'out' as const }],
    ['with a gap', { count: 7, radius: 2.5, across: 2.5, start: -120, arc: 200, facing: 'in' as const }],
    ['looking ahead', { count: 5, radius: 3, across: 3, start: 0, arc: 360, facing: 'ahead' as const }],
  ])('%s, is found again: middle, radius, arc, facing', (_, ring) => {
    const fit = fitRing(shuffled(things(framesOfRing(ring), [12, 5, -3], [0, 0, 0, 1]), 5))
    if (!fit) throw new Error('no ring')
    expect(fit.off).toBeLessThan(1e-6)
    ;[12, 5, -3].forEach((value, c) => expect(fit.place[c]).toBeCloseTo(value, 6))
    expect(fit.ring.radius).toBeCloseTo(ring.radius, 6)
    expect(fit.ring.arc).toBeCloseTo(ring.arc, 5)
    expect([fit.ring.facing, fit.alike]).toEqual([ring.facing, true])
    if (ring.arc < 360) expect((((fit.ring.start - ring.start) % 360) + 360.0001) % 360).toBeCloseTo(0.0001, 4)
  })

  it('is none of what lies on a line', () => {
    expect(fitRing(things(framesOfRow([{ count: 6, step: { move: [1, 0, 0.5], axis: 'up', degrees: 0, factor: 1 } }]), [0, 0, 0], [0, 0, 0, 1]))).toBeNull()
  })
})
