import { outlineOf, spreadOf } from '../../testing/fields.ts'
import type { Meadow } from '../../core/meadow.ts'
import { newCondition, newDriver, newMeadow } from '../new-planting.ts'
import { addBeacon } from './beacons.ts'
import { addOutlines } from './outlines.ts'
import { keepView } from './views.ts'
import { whatWaits } from './waiting.ts'
import { produce } from 'immer'

function deskWith(plantings: Meadow['plantings']) {
  let meadow: Meadow = { ...newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 80 }), plantings, views: [] }
  const edits: string[] = []
  return {
    edits,
    meadow: () => meadow,
    edit(name: string, recipe: (draft: Meadow) => void) {
      meadow = produce(meadow, recipe)
      edits.push(name)
      return true
    },
  }
}

const waiting = (id: string, rest: Partial<Meadow['plantings'][number]> = {}) => spreadOf({}, { id, name: id, habitat: [newCondition('path', {}, `${id}-path`), newCondition('patch', {}, `${id}-patch`)], ...rest })

describe('conditions and drivers that name nothing yet', () => {
  it('take the next thing of their sort, in the edit that makes it, and no other', () => {
    const desk = deskWith([
      waiting('a'),
      waiting('b', { mix: [{ asset: 'x', share: 1, where: newCondition('path', {}, 'w'), elsewhere: 0 }], drivers: [newDriver('path', 'size', { id: 'd' }), newDriver('beacon', 'size', { id: 'e' })] }),
      waiting('locked', { locked: true }),
    ])
    const first = addOutlines(desk, 'Draw a path', [{ kind: 'path', lines: [[0, 0, 5, 5]] }]) as string
    const [a, b, locked] = desk.meadow().plantings
    expect(a.habitat.map(({ params }) => params.path ?? params.patch)).toEqual([first, ''])
    expect([b.habitat[0].params.path, b.mix[0].where?.params.path, b.drivers[0].params.path, b.drivers[1].params.beacon]).toEqual([first, first, first, ''])
    expect(locked.habitat[0].params.path).toBe('')
    // What has one keeps it.
    addOutlines(desk, 'Draw a path', [{ kind: 'path', lines: [[1, 1, 5, 5]] }])
    expect(desk.meadow().plantings[0].habitat[0].params.path).toBe(first)
    const patch = addOutlines(desk, 'Draw a patch', [{ kind: 'patch', lines: [[0, 0, 5, 0, 5, 5]] }])
    const beacon = addBeacon(desk, 1, 2)
    expect(desk.meadow().plantings[1].habitat[1].params.patch).toBe(patch)
    expect(desk.meadow().plantings[1].drivers[1].params.beacon).toBe(beacon)
    expect(desk.edits).toEqual(['Draw a path', 'Draw a path', 'Draw a patch', 'Set a beacon'])
  })

  it('fill a patch that is made, where none is filled yet and nothing is locked', () => {
    const bed = (id: string, rest: Partial<Meadow['plantings'][number]> = {}) => spreadOf({}, { id, kind: 'bed', ...rest })
    const desk = deskWith([bed('waits'), bed('has', { along: ['other'] }), bed('locked', { locked: true }), spreadOf({}, { id: 'trail', kind: 'trail' })])
    const filled = () => desk.meadow().plantings.map(({ along }) => along)
    addOutlines(desk, 'Draw a path', [{ kind: 'path', lines: [[0, 0, 5, 5]] }])
    expect(filled()).toEqual([[], ['other'], [], []])
    const patch = addOutlines(desk, 'Draw a patch', [{ kind: 'patch', lines: [[0, 0, 5, 0, 5, 5]] }]) as string
    expect(filled()).toEqual([[patch], ['other'], [], []])
    const next = addOutlines(desk, 'Draw a patch', [{ kind: 'patch', lines: [[0, 0, 5, 0, 5, 5]] }], 'has') as string
    expect(filled()).toEqual([[patch], ['other', next], [], []])
  })

  it('take a view that is kept', () => {
    const desk = deskWith([spreadOf({}, { habitat: [newCondition('view', {}, 'v')] })])
    keepView(desk, { position: [1, 2, 3], target: [0, 0, 0] })
    expect(desk.meadow().plantings[0].habitat[0].params.view).toBe(desk.meadow().views[0].id)
  })

  it('are told of as long as they are on', () => {
    const [one] = [waiting('a')]
    expect(whatWaits(one)).toBe('“Distance to a path” names no path yet, so it changes nothing; make one, and it is taken.')
    expect(whatWaits({ ...one, habitat: one.habitat.map((use) => ({ ...use, on: false })) })).toBeNull()
    expect(whatWaits({ ...one, habitat: [newCondition('path', { path: outlineOf('path', [[0, 0, 1, 1]]).id })] })).toBeNull()
  })
})
