import * as THREE from 'three'
import { outlineOf } from '../../testing/fields.ts'
import { framesOfTrail } from '../order/trail.ts'
import type { Trail } from '../order/trail.ts'
import { alongSpace, leavesGround, linesInSpace } from './space.ts'

const TRAIL: Trail = { by: 'spacing', count: 5, spacing: 2, fit: false, from: 0, to: 1, sides: 'on', abreast: 1, off: 0, facing: 'ahead', stands: 'square', uneven: 0, aside: 0, between: false, land: 0 }
const flat = () => 0

/** A helix of a radius that climbs so much in a round, as a line through so many points. */
const RADIUS = 4
const CLIMB = 6
const helixAt = (angle: number) => [RADIUS * Math.cos(angle), (CLIMB * angle) / (2 * Math.PI), RADIUS * Math.sin(angle)] as const
const helix = (rounds: number, points: number) => Array.from({ length: points + 1 }, (_, k) => helixAt((2 * Math.PI * rounds * k) / points)).flat()

describe('a line through space', () => {
  it('has the frames of a helix, which turn against its own by its torsion, within a tenth of a degree', () => {
    const along = alongSpace(helix(3, 900), false, true)
    const [a, b] = [RADIUS, CLIMB / (2 * Math.PI)]
    const slant = Math.sqrt(a * a + b * b)
    expect(along.length / (3 * 2 * Math.PI * slant)).toBeCloseTo(1, 4)
    // r′ · (r″ × r‴) / |r′ × r″|² at the angle 0: it winds from x to z, against the right hand.
    const [first, second, third] = [new THREE.Vector3(0, b, a), new THREE.Vector3(-a, 0, 0), new THREE.Vector3(0, 0, -a)]
    const torsion = first.dot(second.clone().cross(third)) / first.clone().cross(second).lengthSq()
    let worst = 0
    let begun = 0
    for (let k = 0; k <= 300; k++) {
      const s = (along.length * k) / 300
      const angle = s / slant
      const { place, way, up } = along.at(s)
      const [x, y, z] = helixAt(angle * ((3 * 2 * Math.PI * slant) / along.length))
      expect(new THREE.Vector3(...place).distanceTo(new THREE.Vector3(x, y, z))).toBeLessThan(2e-3)
      const tangent = new THREE.Vector3(-a * Math.sin(angle), b, a * Math.cos(angle)).divideScalar(slant)
      expect(new THREE.Vector3(...way).angleTo(tangent)).toBeLessThan(0.011)
      // About its way, from the normal of the curve (to its axis) on.
      const normal = new THREE.Vector3(-Math.cos(angle), 0, -Math.sin(angle))
      const binormal = tangent.clone().cross(normal)
      const own = new THREE.Vector3(...up)
      const turned = Math.atan2(own.dot(binormal), own.dot(normal))
      if (k === 0) begun = turned
      const wanted = begun - torsion * s
      const off = Math.abs(Math.atan2(Math.sin(turned - wanted), Math.cos(turned - wanted)))
      worst = Math.max(worst, (off * 180) / Math.PI)
    }
    expect(worst).toBeLessThan(0.1)
  })

  it('has a length and places by it as summed over a million pieces', () => {
    // Climbing waves through twelve points, curved.
    const points = Array.from({ length: 12 }, (_, k) => [5 * k, 6 * Math.sin(1.3 * k)]).flat()
    const outline = outlineOf('path', [points], { smooth: true, above: [Array.from({ length: 12 }, (_, k) => (k % 3) * 2.5 + 0.5)] })
    const [line] = linesInSpace(outline, flat)
    const along = alongSpace(line, false, true)
    const corners = line.length / 3 - 1
    const each = Math.ceil(1e6 / corners)
    let sum = 0
    const at: { readonly gone: number; readonly place: readonly number[] }[] = []
    for (let i = 0; i < corners; i++)
      for (let k = 0; k < each; k++) {
        const of = (t: number) => [0, 1, 2].map((c) => line[3 * i + c] + t * (line[3 * i + 3 + c] - line[3 * i + c]))
        const [from, to] = [of(k / each), of((k + 1) / each)]
        if ((i * each + k) % 40000 === 0) at.push({ gone: sum, place: from })
        sum += Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2])
      }
    expect(Math.abs(along.length / sum - 1)).toBeLessThan(1e-9)
    expect(at.length).toBeGreaterThan(20)
    for (const { gone, place } of at) expect(Math.hypot(...along.at(gone).place.map((value, c) => value - place[c]))).toBeLessThan(1e-6)
  })

  it('goes through its points, so high over the ground as they lie, whatever the ground does in between', () => {
    const hill = (x: number) => 3 * Math.sin(x)
    const points = [0, 0, 4, 1, 4, 1, 9, 0, 14, 6]
    for (const smooth of [false, true]) {
      const outline = outlineOf('path', [points], { smooth, above: [[2, 0, 0, 5, 1]] })
      const [line] = linesInSpace(outline, hill)
      for (const [x, z, above] of [[0, 0, 2], [4, 1, 0], [9, 0, 5], [14, 6, 1]]) {
        const k = Array.from({ length: line.length / 3 }, (_, i) => i).find((i) => Math.hypot(line[3 * i] - x, line[3 * i + 2] - z) < 1e-9) ?? -1
        expect(line[3 * k + 1]).toBeCloseTo(hill(x) + above, 9)
      }
    }
    const straight = linesInSpace(outlineOf('path', [[0, 0, 10, 0]], { above: [[1, 3]] }), hill)[0]
    expect(straight).toEqual([0, 1, 0, 10, hill(10) + 3, 0])
    expect([leavesGround(outlineOf('path', [points])), leavesGround(outlineOf('path', [points], { above: [[0, 0, 0, 0, 0]] })), leavesGround(outlineOf('path', [points], { above: [[0, 0, 0.1, 0, 0]] }))]).toEqual([false, false, true])
  })

  it('has no seam where it is closed, and never flips', () => {
    const knot = Array.from({ length: 400 }, (_, k) => {
      const t = (2 * Math.PI * k) / 400
      return [(6 + 2 * Math.cos(3 * t)) * Math.cos(2 * t), 3 * Math.sin(3 * t), (6 + 2 * Math.cos(3 * t)) * Math.sin(2 * t)]
    }).flat()
    const along = alongSpace(knot, true, true)
    const ups = Array.from({ length: 2001 }, (_, k) => new THREE.Vector3(...along.at((along.length * k) / 2000).up))
    for (let k = 1; k < ups.length; k++) expect(ups[k].angleTo(ups[k - 1])).toBeLessThan(0.05)
    expect(ups[0].angleTo(ups[2000])).toBeLessThan(1e-6)
    for (let k = 0; k <= 2000; k += 100) expect(ups[k].dot(new THREE.Vector3(...along.at((along.length * k) / 2000).way))).toBeCloseTo(0, 9)
  })

  it('goes along its own pieces where it is straight, with up square to them', () => {
    const along = alongSpace([0, 0, 0, 4, 3, 0, 4, 3, 8, 0, 9, 8], false, false)
    for (const [gone, way] of [[1, [0.8, 0.6, 0]], [4.99, [0.8, 0.6, 0]], [5.01, [0, 0, 1]], [12.9, [0, 0, 1]], [13.5, [-4, 6, 0].map((value) => value / Math.sqrt(52))]] as const) {
      const at = along.at(gone)
      at.way.forEach((value, c) => expect(value).toBeCloseTo(way[c], 9))
      expect(at.up.reduce((sum, value, c) => sum + value * way[c], 0)).toBeCloseTo(0, 9)
      expect(Math.hypot(...at.up)).toBeCloseTo(1, 9)
    }
  })

  it('turns up with the way round sharp corners: what was up looks back where it goes straight up, and down beyond', () => {
    const along = alongSpace([0, 0, 0, 4, 0, 0, 4, 3, 0, 4, 6, 0, 0, 6, 0, -3, 6, 0], false, false)
    for (const [gone, up] of [[1, [0, 1, 0]], [8, [-1, 0, 0]], [15.5, [0, -1, 0]]] as const) along.at(gone).up.forEach((value, c) => expect(value).toBeCloseTo(up[c], 6))
  })

  it('bears a trail: places by length through space, fronts along it, upright or square to it, aside to its own side', () => {
    const rise = outlineOf('path', [[0, 0, 12, 0]], { above: [[1, 10]] })
    const slope = Math.atan2(9, 12)
    for (const stands of ['square', 'upright'] as const) {
      const frames = framesOfTrail([rise], { ...TRAIL, stands, spacing: 3 }, 1, flat)
      expect(frames.count).toBe(6)
      for (let k = 0; k < 6; k++) {
        const turn = new THREE.Quaternion(...(Array.from(frames.turn.subarray(4 * k, 4 * k + 4)) as [number, number, number, number]))
        const [front, up] = [new THREE.Vector3(0, 0, 1).applyQuaternion(turn), new THREE.Vector3(0, 1, 0).applyQuaternion(turn)]
        expect([frames.place[3 * k], frames.place[3 * k + 1]]).toEqual([expect.closeTo(3 * k * Math.cos(slope), 9), expect.closeTo(1 + 3 * k * Math.sin(slope), 9)])
        const by = stands === 'square' ? slope : 0
        expect([front.x, front.y, up.x, up.y]).toEqual([expect.closeTo(Math.cos(by), 6), expect.closeTo(Math.sin(by), 6), expect.closeTo(-Math.sin(by), 6), expect.closeTo(Math.cos(by), 6)])
      }
    }
    // To the left of one who goes east is the north.
    const beside = framesOfTrail([rise], { ...TRAIL, sides: 'left', off: 2, facing: 'left' }, 1, flat)
    expect(beside.place[2]).toBeCloseTo(-2, 9)
    expect(new THREE.Vector3(0, 0, 1).applyQuaternion(new THREE.Quaternion(...(Array.from(beside.turn.subarray(0, 4)) as [number, number, number, number]))).z).toBeCloseTo(-1, 6)
    // Straight up a wall they stand all the same.
    const mast = framesOfTrail([outlineOf('path', [[0, 0, 1e-7, 0]], { above: [[0, 8]] })], { ...TRAIL, spacing: 2 }, 1, flat)
    expect(Array.from({ length: mast.count }, (_, k) => Math.round(mast.place[3 * k + 1]))).toEqual([0, 2, 4, 6, 8])
    expect(mast.turn.every((value) => Number.isFinite(value))).toBe(true)
  })
})
