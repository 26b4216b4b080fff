import fc from 'fast-check'
import type { Vector } from '../../core/hand/frames.ts'
import type { Quaternion } from '../../core/math/quaternion.ts'
import { multiply, turned } from '../../core/math/quaternion.ts'
import type { Group } from '../../core/meadow.ts'
import { membersFrom } from '../../core/things/members.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import { chosenOf, countChosen } from '../../state/chosen.ts'
import { groupMeant, groupsAround, groupsIn, membersOfGroup, withGroups } from '../../state/groups.ts'
import type { FieldSession } from '../../state/field-session.ts'
import type { Drawn, HandleWay } from '../../state/field-tool.ts'
import { terrainOf } from '../../testing/fields.ts'
import { atRandom, compassOf, leant, setTo, turnAbout } from './acts.ts'
import { alongAxis, angleAbout, onPlane, plus } from './handle-math.ts'
import { drawnTo, undrawn } from './handles.ts'
import { centred, matched, turnedLike } from './like.ts'

const terrain = terrainOf(() => 0, 200, 3)
const session = { store: { getState: () => ({ terrain }) }, meadow: () => ({ meshes: [] }) } as unknown as FieldSession
const number = fc.double({ min: -20, max: 20, noNaN: true })
const vector = fc.tuple(number, number, number) as fc.Arbitrary<Vector>
const turn: fc.Arbitrary<Quaternion> = fc.tuple(vector, fc.double({ min: -180, max: 180, noNaN: true })).map(([axis, degrees]) => {
  const long = Math.hypot(...axis)
  return long > 0.1 ? turnAbout([axis[0] / long, axis[1] / long, axis[2] / long], degrees) : [0, 0, 0, 1]
})
const one = (rest: Partial<InstanceAt> = {}): InstanceAt => ({ planting: 'p', low: 1, high: 0, ground: 'terrain', asset: 0, tint: 0xffffffff, place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1], ...rest })
const instance = fc.tuple(vector, turn, fc.nat()).map(([place, own, low]) => one({ place, turn: own, low }))
const close = (a: readonly number[], b: readonly number[], by = 1e-6) => a.forEach((value, c) => expect(Math.abs(value - b[c])).toBeLessThan(by))
/** Whether two quaternions are the same turn. */
const sameTurn = (a: Quaternion, b: Quaternion) => expect(Math.abs(a.reduce((sum, value, c) => sum + value * b[c], 0))).toBeGreaterThan(1 - 1e-9)

describe('handles', () => {
  it('mean the place on an axis that a line of sight passes nearest to, by brute force', () => {
    fc.assert(
      fc.property(vector, vector, vector, turn, (origin, from, through, own) => {
        const axis = turned(own, [1, 0, 0])
        const long = Math.hypot(...through)
        fc.pre(long > 1)
        const direction = through.map((value) => value / long) as unknown as Vector
        const t = alongAxis({ origin, direction }, from, axis)
        fc.pre(t !== null && Math.abs(t) < 200 && Math.abs(direction.reduce((sum, value, c) => sum + value * axis[c], 0)) < 0.99)
        const away = (s: number) => {
          const way = plus(from, axis, s).map((value, c) => value - origin[c])
          const along = way.reduce((sum, value, c) => sum + value * direction[c], 0)
          return way.reduce((sum, value) => sum + value * value, 0) - along * along
        }
        for (const step of [-0.05, 0.05]) expect(away(t as number)).toBeLessThanOrEqual(away((t as number) + step) + 1e-9)
      }),
    )
    close(onPlane({ origin: [0, 10, 0], direction: [0.6, -0.8, 0] }, [0, 2, 0], [0, 1, 0]) as Vector, [6, 2, 0])
    expect(onPlane({ origin: [0, 10, 0], direction: [0, 1, 0] }, [0, 2, 0], [0, 1, 0])).toBeNull()
    expect(angleAbout([0, 5, 3], [0, 5, 0], [[1, 0, 0], [0, 0, 1]])).toBeCloseTo(90, 9)
  })

  it('move along the axes of the world or their own, turn about the middle or themselves, and size one way or all', () => {
    fc.assert(
      fc.property(fc.array(instance, { minLength: 1, maxLength: 6 }), vector, fc.double({ min: -170, max: 170, noNaN: true }), fc.double({ min: 0.1, max: 5, noNaN: true }), (things, move, degrees, factor) => {
        const drawn = (what: Drawn['what'], way: HandleWay, rest: Partial<Drawn>) => ({ ...undrawn(what, way), ...rest })
        const become = (axes: 'world' | 'own' | 'ground', about: 'own' | 'middle', of: Drawn) => things.map(drawnTo(session, things, { axes, about }, of)) as Partial<InstanceAt>[]
        become('world', 'own', drawn('move', 'xy', { move })).forEach(({ place }, k) => close(place as Vector, plus(things[k].place, move)))
        become('own', 'own', drawn('move', 'x', { move })).forEach(({ place }, k) => close(turned([-things[k].turn[0], -things[k].turn[1], -things[k].turn[2], things[k].turn[3]], (place as Vector).map((value, c) => value - things[k].place[c]) as unknown as Vector), move))
        const middle = [0, 1, 2].map((c) => things.reduce((sum, { place }) => sum + place[c], 0) / things.length)
        const about = become('world', 'middle', drawn('turn', 'z', { degrees }))
        about.forEach(({ place, turn: now }, k) => {
          // As far from the middle as before, turned as a whole.
          expect(Math.hypot(...(place as Vector).map((value, c) => value - middle[c]))).toBeCloseTo(Math.hypot(...things[k].place.map((value, c) => value - middle[c])), 6)
          sameTurn(now as Quaternion, multiply(turnAbout([0, 0, 1], degrees), things[k].turn))
        })
        become('own', 'own', drawn('turn', 'y', { degrees })).forEach(({ turn: now, place }, k) => {
          expect(place).toBeUndefined()
          sameTurn(now as Quaternion, multiply(things[k].turn, turnAbout([0, 1, 0], degrees)))
        })
        become('world', 'own', drawn('size', 'y', { factor })).forEach(({ size }) => close(size as Vector, [1, factor, 1]))
        become('world', 'middle', drawn('size', 'all', { factor })).forEach(({ place, size }, k) => {
          close(size as Vector, [factor, factor, factor])
          close((place as Vector).map((value, c) => value - middle[c]), things[k].place.map((value, c) => (value - middle[c]) * factor), 1e-5)
        })
      }),
    )
  })
})

describe('numbers and models', () => {
  it('set the middle, the compass direction and the size, and leave what is not given', () => {
    fc.assert(
      fc.property(fc.array(instance, { minLength: 1, maxLength: 5 }), number, fc.double({ min: 0, max: 359, noNaN: true }), (things, east, degrees) => {
        const set = things.map(setTo(things, { east })) as Partial<InstanceAt>[]
        expect(set.reduce((sum, { place }, k) => sum + (place ?? things[k].place)[0], 0) / things.length).toBeCloseTo(east, 6)
        for (const thing of things) {
          if (Math.abs(turned(thing.turn, [0, 0, 1])[1]) > 0.9) continue
          const { turn: now } = setTo([thing], { turn: degrees })(thing) as { turn: Quaternion }
          const off = Math.abs(compassOf(now) - degrees) % 360
          expect(Math.min(off, 360 - off)).toBeLessThan(1e-4)
          // It leans as it did.
          expect(turned(now, [0, 1, 0])[1]).toBeCloseTo(turned(thing.turn, [0, 1, 0])[1], 9)
        }
        expect(setTo(things, { size: 2 })(things[0])).toEqual({ size: [2, 2, 2] })
      }),
    )
  })

  it('take over what is asked for, come to the middle, and turn with a face’s edge', () => {
    const model = one({ place: [5, 6, 7], turn: turnAbout([0, 1, 0], 40), size: [2, 3, 2] })
    expect(matched({ thing: model }, ['size', 'height'])(one({ place: [1, 1, 1] }))).toEqual({ size: [2, 3, 2], place: [1, 6, 1] })
    const two = [one({ place: [0, 0, 0] }), one({ place: [2, 0, 4] })]
    expect(two.map(centred(two, { thing: model }))).toEqual([{ place: [4, 6, 5] }, { place: [6, 6, 9] }])
    const normal: Vector = [0, 0.6, 0.8]
    const { turn: onFace } = turnedLike({ face: { ground: 'm', place: { x: 0, y: 0, z: 0, normal }, on: { kind: 'face', direction: [1, 0, 0] } } })(two[0]) as { turn: Quaternion }
    close(turned(onFace, [0, 1, 0]), normal)
    close(turned(onFace, [1, 0, 0]), [1, 0, 0])
  })

  it('lean by so much towards a direction; at random each within from–to, the same by the same throw', () => {
    close(turned(leant([0, 0, 0, 1], 30, 90), [0, 1, 0]), [0.5, Math.cos(Math.PI / 6), 0])
    close(turned(leant([0, 0, 0, 1], 30, 0), [0, 1, 0]), [0, Math.cos(Math.PI / 6), -0.5])
    const spans = { turn: [10, 20], size: [2, 3], lean: [5, 15] } as const
    const many = Array.from({ length: 500 }, (_, low) => one({ low }))
    const thrown = many.map(atRandom(7, spans)) as { turn: Quaternion; size: Vector }[]
    expect(many.map(atRandom(7, spans))).toEqual(thrown)
    expect(many.map(atRandom(8, spans))).not.toEqual(thrown)
    const leans = thrown.map(({ turn: now }) => (Math.acos(turned(now, [0, 1, 0])[1]) * 180) / Math.PI)
    for (const [values, [from, to]] of [[leans, spans.lean], [thrown.map(({ size }) => size[0]), spans.size]] as const) {
      expect(Math.min(...values)).toBeGreaterThanOrEqual(from - 1e-6)
      expect(Math.max(...values)).toBeLessThanOrEqual(to + 1e-6)
      // Uniform: the mean of 500 lies within four standard errors of the middle.
      expect(Math.abs(values.reduce((sum, value) => sum + value, 0) / 500 - (from + to) / 2)).toBeLessThan((4 * (to - from)) / Math.sqrt(12 * 500))
    }
  })
})

describe('groups', () => {
  const id = (low: number) => ({ planting: 'p', low, high: 0 })
  const group = (name: string, ids: readonly number[], groups: string[] = []): Group => ({ id: name, name, groups, ...membersFrom(ids.map(id)) })
  const groups = [group('inner', [1, 2]), group('outer', [3], ['inner']), group('other', [7, 8])]

  it('nest: a click means the outermost, then what is in the one that was entered', () => {
    expect(groupsAround(groups, id(1))).toEqual(['outer', 'inner'])
    expect([null, 'outer', 'inner'].map((entered) => groupMeant(groups, id(1), entered))).toEqual(['outer', 'inner', null])
    expect(groupMeant(groups, id(5), null)).toBeNull()
    expect(membersOfGroup(groups, 'outer').map(({ low }) => low).sort()).toEqual([1, 2, 3])
  })

  it('are chosen whole wherever any of them is, and compose', () => {
    const lows = (chosen: ReturnType<typeof withGroups>) => [...(chosen.get('p') ?? [])].map(([low]) => low).sort((a, b) => a - b)
    expect(lows(withGroups(groups, chosenOf([id(1), id(5)]), null))).toEqual([1, 2, 3, 5])
    expect(lows(withGroups(groups, chosenOf([id(1)]), 'outer'))).toEqual([1, 2])
    expect(lows(withGroups(groups, chosenOf([id(1)]), 'inner'))).toEqual([1])
    expect(groupsIn(groups, chosenOf([id(2), id(8)]), null).sort()).toEqual(['other', 'outer'])
    const whole = withGroups(groups, chosenOf([id(7)]), null)
    expect(countChosen(withGroups(groups, whole, null))).toBe(countChosen(whole))
  })

  it('that hold each other end where the circle closes', () => {
    const round = [group('a', [1], ['b']), group('b', [2], ['a'])]
    expect(groupsAround(round, id(1)).length).toBe(2)
    expect(membersOfGroup(round, 'a').map(({ low }) => low).sort()).toEqual([1, 2])
  })
})
