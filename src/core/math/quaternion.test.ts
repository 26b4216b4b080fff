import fc from 'fast-check'
import * as THREE from 'three'
import { turnMatrix } from '../grounds/solid.ts'
import type { Quaternion } from './quaternion.ts'
import { between, conjugate, multiply, normalised, ofMatrix, turned } from './quaternion.ts'

const part = fc.double({ min: -1, max: 1, noNaN: true })
const quaternion = fc.tuple(part, part, part, part).filter((q) => q.some((value) => Math.abs(value) > 0.05)).map((q) => normalised(q as unknown as Quaternion))
const vector = fc.tuple(part, part, part).filter((v) => Math.hypot(...v) > 0.05)
const three = (q: Quaternion) => new THREE.Quaternion(...(q as [number, number, number, number]))
const close = (a: readonly number[], b: readonly number[]) => a.forEach((value, k) => expect(value).toBeCloseTo(b[k], 9))

describe('quaternions', () => {
  it('multiply and turn as those of another library', () => {
    fc.assert(
      fc.property(quaternion, quaternion, vector, (a, b, v) => {
        close(multiply(a, b), three(a).multiply(three(b)).toArray())
        close(turned(a, v), new THREE.Vector3(...v).applyQuaternion(three(a)).toArray())
        close(multiply(a, conjugate(a)), [0, 0, 0, 1])
      }),
      { numRuns: 300, seed: 1 },
    )
  })

  it('take a vector the shortest way to another', () => {
    fc.assert(
      fc.property(vector, vector, (a, b) => {
        const [from, to] = [a, b].map((v) => new THREE.Vector3(...v).normalize().toArray() as [number, number, number])
        const turn = between(from, to)
        turned(turn, from).forEach((value, k) => expect(value).toBeCloseTo(to[k], 6))
        expect(2 * Math.acos(Math.min(1, Math.abs(turn[3])))).toBeCloseTo(new THREE.Vector3(...from).angleTo(new THREE.Vector3(...to)), 5)
      }),
      { numRuns: 300, seed: 2 },
    )
    close(turned(between([0, 1, 0], [0, -1, 0]), [0, 1, 0]), [0, -1, 0])
  })

  it('are made of matrices: of those that meshes are turned by', () => {
    const angle = fc.double({ min: -360, max: 360, noNaN: true })
    fc.assert(
      fc.property(angle, angle, angle, vector, (x, y, z, v) => {
        const m = turnMatrix([x, y, z])
        close(turned(ofMatrix(m), v), [0, 3, 6].map((r) => m[r] * v[0] + m[r + 1] * v[1] + m[r + 2] * v[2]))
      }),
      { numRuns: 300, seed: 3 },
    )
  })
})
