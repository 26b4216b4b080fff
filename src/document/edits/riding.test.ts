import fc from 'fast-check'
import * as THREE from 'three'
import { meshOf } from '../../testing/fields.ts'
import type { Meadow, PatternBase } from '../../core/meadow.ts'
import type { Stand } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import { newPlanting } from '../new-planting.ts'
import { amend, edit, redo, startHistory, undo } from '../history.ts'
import { baseAt } from './base.ts'
import type { InstanceAt } from './hands.ts'
import { followPegs, mounted, ridersToMove, ridesOnItself } from './riding.ts'

const heightAt = (x: number, z: number) => 0.3 * x - 0.2 * z + 0.01 * x * z
const metres = fc.double({ min: -50, max: 50, noNaN: true })
const turn = fc.tuple(...[0, 1, 2, 3].map(() => fc.double({ min: -1, max: 1, noNaN: true }))).filter((q) => Math.hypot(...q) > 0.1).map((q) => q.map((one) => one / Math.hypot(...q)) as [number, number, number, number])
const stand = fc.record({ place: fc.tuple(metres, metres, metres), turn, size: fc.double({ min: 0.2, max: 5, noNaN: true }).map((one): Stand['size'] => [one, one, one]) })
const ground = fc.constantFrom('terrain', 'hull', 'hut')
const MESHES = [meshOf({ id: 'hull', position: [3, 1, -8], turn: [10, 70, -30], size: 2.5 }), meshOf({ id: 'hut', position: [-9, 2, 20], turn: [0, -50, 5], size: 0.7 })]

function meadowOf(base: PatternBase | null, rest: Partial<Meadow> = {}): Meadow {
  return { plantings: [{ ...newPlanting({ name: 'Ring', colour: '#000000', seed: 1, kind: 'ring' }), id: 'ring', base }], meshes: MESHES, pegs: [], ...rest } as Meadow
}

/** As it is told of what has grown: in single floats, so that a turn is not quite of length 1. */
const rounded = ({ place, turn: q, size }: Stand): Stand => ({ place: place.map(Math.fround) as unknown as Stand['place'], turn: q.map(Math.fround) as unknown as Stand['turn'], size: size.map(Math.fround) as unknown as Stand['size'] })
const instance = (of: Stand, on: string): InstanceAt => ({ ...rounded(of), planting: 'posts', low: 3, high: 9, ground: on, asset: 0, tint: 0xffffffff })

function matrix(place: readonly number[], q: readonly number[], size: number): THREE.Matrix4 {
  return new THREE.Matrix4().compose(new THREE.Vector3(...(place as [number, number, number])), new THREE.Quaternion(...(q as [number, number, number, number])), new THREE.Vector3(size, size, size))
}

const standing = (of: Stand) => {
  const { place, turn: q, size } = rounded(of)
  return matrix(place, new THREE.Quaternion(...q).normalize().toArray(), size[0])
}

/** The frame of a base in the world, from what the core says of it. */
function frameOf(base: PatternBase): THREE.Matrix4 {
  const frame = groundFrame(base.host, MESHES, heightAt)
  if (!frame) throw new Error(`no ${base.host}`)
  return matrix(frame.placeToWorld(base.place), frame.turnToWorld(base.turn), frame.size / base.size)
}

describe('a pattern that rides on something', () => {
  it('goes along with a thing that is moved, turned, sized, set on another ground: by the matrices of both', () => {
    fc.assert(
      fc.property(stand, stand, stand, ground, ground, (before, after, pattern, from, to) => {
        const host = groundFrame(from, MESHES, heightAt)
        if (!host) return
        const base = mounted({ ...baseAt(from, host, pattern.place, pattern.turn), size: pattern.size[0] }, instance(before, from), meadowOf(null), heightAt)
        if (!base) throw new Error('not mounted')
        const meadow = meadowOf(base)
        expect(ridersToMove(meadow, () => instance(before, from), heightAt)).toEqual([])
        const [moved] = ridersToMove(meadow, (planting, low, high) => (planting === 'posts' && low === 3 && high === 9 ? instance(after, to) : null), heightAt)
        const wanted = standing(after).multiply(standing(before).invert()).multiply(frameOf(base))
        const far = 1 + Math.max(...wanted.elements.map(Math.abs))
        frameOf(moved.base).elements.forEach((value, k) => expect(Math.abs(value - wanted.elements[k]) / far).toBeLessThan(1e-9))
        expect(moved.base.host).toBe(to)
        // And once it has, it is there.
        expect(ridersToMove(meadowOf(moved.base), () => instance(after, to), heightAt)).toEqual([])
      }),
    )
  })

  it('stays where it was where that is gone', () => {
    const base = mounted({ host: 'terrain', place: [1, 0, 2], turn: [0, 0, 0, 1], size: 1 }, instance({ place: [1, 1, 2], turn: [0, 0, 0, 1], size: [1, 1, 1] }, 'terrain'), meadowOf(null), heightAt)
    expect(ridersToMove(meadowOf(base), () => null, heightAt)).toEqual([])
  })

  it('goes along with a peg in the same step of undo; another peg is none of its', () => {
    const pegs = ['one', 'two'].map((id) => ({ id, name: id, ground: 'hull', place: [1, 2, 3] as [number, number, number] }))
    const base = mounted({ host: 'hull', place: [1.5, 2, 3], turn: [0, 0.6, 0, 0.8], size: 1 }, { peg: 'one' }, meadowOf(null, { pegs }), heightAt)
    const first = startHistory(meadowOf(base, { pegs }))
    const move = (id: string) => edit(first, 'Move a peg', (draft) => void draft.pegs.filter((peg) => peg.id === id).forEach((peg) => (peg.place = [2, 2, 5])), null, [followPegs(() => heightAt)])
    expect(move('two').meadow.plantings[0].base).toEqual(base)
    const moved = move('one')
    const [x, y, z] = moved.meadow.plantings[0].base?.place ?? [NaN, NaN, NaN]
    for (const [value, wanted] of [[x, 2.5], [y, 2], [z, 5]]) expect(value).toBeCloseTo(wanted, 9)
    expect(moved.past.length).toBe(1)
    expect(undo(moved).meadow.plantings[0].base).toEqual(base)
    expect(mounted({ host: 'hut', place: [0, 0, 0], turn: [0, 0, 0, 1], size: 1 }, { peg: 'one' }, meadowOf(null, { pegs }), heightAt)).toBeNull()
  })

  it('never on itself, through others neither', () => {
    const on = (id: string, ridden: string) => ({ ...newPlanting({ name: id, colour: '#000000', seed: 1, kind: 'ring' }), id, base: { host: 'terrain', place: [0, 0, 0] as [number, number, number], turn: [0, 0, 0, 1] as PatternBase['turn'], size: 1, rides: { thing: 'instance' as const, id: ridden, low: 0, high: 0, place: [0, 0, 0] as [number, number, number], turn: [0, 0, 0, 1] as PatternBase['turn'], size: 1 } } })
    const plantings = [on('a', 'b'), on('b', 'c'), on('d', 'e'), on('e', 'd')]
    expect(ridesOnItself(plantings, 'a', 'a')).toBe(true)
    expect(ridesOnItself(plantings, 'c', 'a')).toBe(true)
    expect(ridesOnItself(plantings, 'x', 'a')).toBe(false)
    // A circle that it is no part of ends.
    expect(ridesOnItself(plantings, 'x', 'd')).toBe(false)
  })
})

describe('what joins a step later', () => {
  const named = (name: string) => (draft: Meadow) => void (draft.name = name)
  it('is taken back and made again with it; what was taken back can still be made again', () => {
    const start = startHistory({ ...meadowOf(null), name: 'first' })
    const one = amend(edit(start, 'one', named('second')), (draft) => void (draft.plantings[0].name = 'Moved'))
    expect(one.past.map(({ name }) => name)).toEqual(['one'])
    const back = undo(one)
    expect([back.meadow.name, back.meadow.plantings[0].name]).toEqual(['first', 'Ring'])
    const again = redo(back)
    expect([again.meadow.name, again.meadow.plantings[0].name]).toEqual(['second', 'Moved'])
    // Without a step to join it is no step; and nothing changed is nothing.
    expect(amend(start, (draft) => void (draft.plantings[0].name = 'Moved')).past).toEqual([])
    expect(amend(one, named('second'))).toBe(one)
    const later = amend(back, (draft) => void (draft.plantings[0].seed = 5))
    expect(redo(later).meadow.name).toBe('second')
  })
})
