import * as THREE from 'three'
import type { InstanceAt } from '../../document/edits/hands.ts'
import { copiesOf, stepped } from './duplicate.ts'

const one: InstanceAt = { planting: 'p', low: 1, high: 2, ground: 'terrain', asset: 3, tint: 0xaabbccff, place: [2, 5, -1], turn: [0, 0, 0, 1], size: [1, 2, 1] }

describe('copies by a step', () => {
  it('stand where the power of a matrix puts them: moved, turned and sized, each from the one before', () => {
    const step = { move: [1.5, 0.2, -0.4] as const, turn: 24, size: 0.93 }
    const matrix = new THREE.Matrix4().compose(new THREE.Vector3(...step.move), new THREE.Quaternion().setFromAxisAngle(new THREE.Vector3(0, 1, 0), (step.turn * Math.PI) / 180), new THREE.Vector3(step.size, step.size, step.size))
    const power = new THREE.Matrix4()
    for (let k = 1; k <= 40; k++) {
      power.multiply(matrix)
      const [at, turn, size] = [new THREE.Vector3(), new THREE.Quaternion(), new THREE.Vector3()]
      power.decompose(at, turn, size)
      const { place, turn: own, size: [x, y] } = stepped(one, step, k)
      at.add(new THREE.Vector3(...one.place)).toArray().forEach((value, c) => expect(place[c]).toBeCloseTo(value, 6))
      expect(Math.abs(turn.dot(new THREE.Quaternion(...(own as [number, number, number, number]))))).toBeCloseTo(1, 9)
      expect([x, y / 2]).toEqual([expect.closeTo(size.x, 9), expect.closeTo(size.y, 9)])
    }
  })

  it('eleven posts 2.25 m apart are just that, on the ground that rises under them', () => {
    const copies = copiesOf([one], { move: [2.25, 0, 0], turn: 0, size: 1 }, 10, (x) => 0.1 * x)
    expect(copies.length).toBe(10)
    copies.forEach(({ place }, k) => expect(place).toEqual([2 + 2.25 * (k + 1), expect.closeTo(5 + 0.225 * (k + 1), 9), -1]))
  })
})
