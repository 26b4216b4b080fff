import { boxShape, meshOf } from '../../testing/fields.ts'
import type { Vector } from '../hand/frames.ts'
import { featuresOf } from './mesh-features.ts'
import { treeOf } from './mesh-tree.ts'
import { faceAt, featureSeen, inWorld } from './snap.ts'
import { createSolid } from './solid.ts'

const solid = createSolid(meshOf({ position: [10, 3, -4], turn: [20, 35, -10], size: 1.5 }), boxShape(2, 1, 3), treeOf)
const all = featuresOf(solid.shape).map((one) => inWorld(solid, one))
const unit = (v: readonly number[]): Vector => v.map((one) => one / Math.hypot(...v)) as unknown as Vector
const WISH = { kinds: ['corner', 'edge', 'face'], within: 0.03 } as const

/** Whether a place of the box is seen from an eye outside: a short way before it is outside of the box. */
function isSeen(eye: Vector, at: Vector): boolean {
  const faces = all.filter(({ kind }) => kind === 'face')
  // Of a convex body, what lies on a face that looks to the eye.
  return faces.some(({ place, normal }) => Math.abs(normal.reduce((sum, n, c) => sum + n * (at[c] - place[c]), 0)) < 1e-4 && normal.reduce((sum, n, c) => sum + n * (eye[c] - at[c]), 0) > 1e-9)
}

describe('what is seen near a line of sight', () => {
  it('is the feature at the least angle of all that are seen, by brute force, and none beyond reach', () => {
    let dice = 9
    const roll = () => (dice = (dice * 48271) % 2147483647) / 2147483647
    let met = 0
    for (let k = 0; k < 400; k++) {
      const eye: Vector = [10 + 40 * (roll() - 0.5), 3 + 30 * (roll() - 0.2), -4 + 40 * (roll() - 0.5)]
      if (Math.hypot(eye[0] - 10, eye[1] - 3, eye[2] + 4) < 8) continue
      const goal = all[Math.floor(roll() * all.length)]
      const direction = unit(goal.place.map((one, c) => one - eye[c] + 0.5 * (roll() - 0.5)))
      const found = featureSeen(solid, { origin: eye, direction }, WISH, 1e6)
      const offs = all
        .filter(({ place }) => isSeen(eye, place))
        .map((one) => ({ one, off: Math.acos(Math.min(1, unit(one.place.map((v, c) => v - eye[c])).reduce((sum, v, c) => sum + v * direction[c], 0))) }))
        .filter(({ off }) => off <= WISH.within)
        .sort((a, b) => a.off - b.off)
      if (offs.length === 0) expect(found).toBeNull()
      else {
        met++
        expect(found?.off).toBeCloseTo(offs[0].off, 6)
        expect(found?.place).toEqual(offs[0].one.place)
      }
    }
    expect(met).toBeGreaterThan(80)
  })

  it('keeps to the kinds that are wished, and to what is not beyond a limit', () => {
    const [face] = all.filter(({ kind }) => kind === 'face')
    const eye = face.place.map((one, c) => one + 5 * face.normal[c]) as unknown as Vector
    const sight = { origin: eye, direction: unit(face.normal.map((one) => -one)) }
    expect(featureSeen(solid, sight, WISH, 100)).toMatchObject({ kind: 'face', off: expect.closeTo(0, 6) })
    expect(featureSeen(solid, sight, { ...WISH, kinds: ['corner'] }, 100)).toBeNull()
    expect(featureSeen(solid, sight, WISH, 4)).toBeNull()
  })

  it('tells the face that a place lies on, with its centre, normal and longest edge', () => {
    for (const face of all.filter(({ kind }) => kind === 'face')) {
      const beside = face.place.map((one, c) => one + 0.4 * face.direction[c]) as unknown as Vector
      expect(faceAt(solid, beside, face.normal)).toEqual(face)
    }
    expect(faceAt(solid, [10, 3, -4], [0, 1, 0])).toBeNull()
  })
})
