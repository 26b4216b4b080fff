import fc from 'fast-check'
import * as THREE from 'three'
import { meshOf } from '../../testing/fields.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import type { PatternBase } from '../../core/meadow.ts'
import { newPlanting } from '../new-planting.ts'
import { leaveHost, turnOfBase, withTurn } from './base.ts'

const turn = fc.tuple(...[0, 1, 2, 3].map(() => fc.double({ min: -1, max: 1, noNaN: true }))).filter((q) => Math.hypot(...q) > 0.1).map((q) => q.map((one) => one / Math.hypot(...q)) as PatternBase['turn'])
const metres = fc.double({ min: -50, max: 50, noNaN: true })
const base = fc.tuple(fc.tuple(metres, metres, metres), turn.filter(([, y, , w]) => Math.hypot(y, w) > 0.05)).map(([place, own]): PatternBase => ({ host: 'mesh', place: [...place], turn: own, size: 1.5 }))
const quaternion = ([x, y, z, w]: readonly number[]) => new THREE.Quaternion(x, y, z, w)

describe('a base', () => {
  it('is turned about its own up, which stays: so far as is said, whatever it was before', () => {
    fc.assert(
      fc.property(base, fc.double({ min: -179, max: 179, noNaN: true }), (one, degrees) => {
        const other = withTurn(one, degrees)
        const up = (of: PatternBase) => new THREE.Vector3(0, 1, 0).applyQuaternion(quaternion(of.turn))
        expect(up(one).distanceTo(up(other))).toBeLessThan(1e-6)
        expect(turnOfBase(other).degrees).toBeCloseTo(degrees, 6)
        expect(withTurn(one, turnOfBase(one).degrees).turn.reduce((sum, value, c) => sum + value * one.turn[c], 0) ** 2).toBeCloseTo(1, 9)
      }),
    )
    // By the clock, seen from above: what looked to the south looks to the west.
    expect(new THREE.Vector3(0, 0, 1).applyQuaternion(quaternion(withTurn({ host: 'terrain', place: [0, 0, 0], turn: [0, 0, 0, 1], size: 1 }, 90).turn)).x).toBeCloseTo(-1, 9)
  })

  it('that leaves its host stands where it stood, and is as large', () => {
    fc.assert(
      fc.property(base, fc.tuple(metres, metres, metres), fc.double({ min: 0.2, max: 4, noNaN: true }), (one, degrees, size) => {
        const mesh = meshOf({ id: 'mesh', position: [3, 1, -8], turn: [degrees[0], degrees[1], degrees[2]], size })
        const height = (x: number, z: number) => 0.1 * x - 0.2 * z
        const planting = newPlanting({ name: '', colour: '#000000', seed: 1, kind: 'ring', base: one })
        leaveHost(planting, { meshes: [mesh] }, height)
        const left = planting.base as PatternBase
        const [before, after] = [groundFrame('mesh', [mesh], height), groundFrame('terrain', [], height)]
        const [from, to] = [before?.placeToWorld(one.place) ?? [], after?.placeToWorld(left.place) ?? []]
        from.forEach((value, c) => expect(Math.abs(value - to[c])).toBeLessThan(1e-9))
        expect(Math.abs(quaternion(before?.turnToWorld(one.turn) ?? []).dot(quaternion(left.turn)))).toBeCloseTo(1, 9)
        expect(1 / left.size).toBeCloseTo(size / 1.5, 9)
      }),
    )
  })
})
