import { produce } from 'immer'
import type { Meadow } from '../../core/meadow.ts'
import { assetOf, spreadOf } from '../../testing/fields.ts'
import { newMeadow } from '../new-planting.ts'
import { addToMix, moveBorder, partsOf, setElsewhere, setPreference, setShare, takeOutOfMix } from './mixes.ts'

function deskWith(shares: readonly number[]) {
  const names = ['a', 'b', 'c', 'd', 'e']
  let meadow: Meadow = {
    ...newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 80 }),
    assets: names.map((id) => assetOf(id, 0.2)),
    plantings: [spreadOf({}, { mix: shares.map((share, i) => ({ asset: names[i], share })) })],
  }
  return {
    meadow: () => meadow,
    mix: () => meadow.plantings[0].mix,
    edit: (_name: string, recipe: (draft: Meadow) => void) => {
      meadow = produce(meadow, recipe)
      return true
    },
  }
}

const shares = (desk: ReturnType<typeof deskWith>) => desk.mix().map(({ share }) => share)
const sum = (values: readonly number[]) => values.reduce((all, value) => all + value, 0)

describe('shares of a mix', () => {
  it('stay as they were typed, whatever the others are', () => {
    const desk = deskWith([1, 1, 1])
    for (const [i, share] of [60, 30, 10].entries()) setShare(desk, 'spread', i, share)
    expect(shares(desk)).toEqual([60, 30, 10])
    expect(partsOf(desk.mix())).toEqual([0.6, 0.3, 0.1])
    setShare(desk, 'spread', 1, 0)
    expect(shares(desk)).toEqual([60, 0, 10])
    expect(sum(partsOf(desk.mix()))).toBeCloseTo(1, 12)
  })

  it('are equal parts where all are 0', () => expect(partsOf(deskWith([0, 0, 0, 0]).mix())).toEqual([0.25, 0.25, 0.25, 0.25]))

  it('move between two neighbours when a border is dragged, and the others keep theirs', () => {
    const desk = deskWith([60, 30, 10])
    moveBorder(desk, 'spread', 0, 0.5)
    expect(shares(desk)).toEqual([50, 40, 10])
    moveBorder(desk, 'spread', 1, 0.95)
    expect(shares(desk)).toEqual([50, 45, 5])
    // No farther than the borders beside it.
    moveBorder(desk, 'spread', 1, 0.2)
    expect(shares(desk)).toEqual([50, 0, 50])
    moveBorder(desk, 'spread', 0, 3)
    expect(shares(desk)).toEqual([50, 0, 50])
  })

  it('keep their sum over a long drag', () => {
    const desk = deskWith([2, 3, 5])
    for (let k = 0; k < 200; k++) moveBorder(desk, 'spread', k % 2, 0.3 + 0.4 * Math.sin(k))
    expect(sum(shares(desk))).toBeCloseTo(10, 2)
    expect(Math.min(...shares(desk))).toBeGreaterThanOrEqual(0)
  })

  it('give one that joins as much as the others have in the middle', () => {
    const desk = deskWith([60, 30, 10])
    addToMix(desk, 'spread', 'd')
    expect(shares(desk)).toEqual([60, 30, 10, 33.3])
    takeOutOfMix(desk, 'spread', 0)
    expect(desk.mix().map(({ asset }) => asset)).toEqual(['b', 'c', 'd'])
    const none = deskWith([])
    addToMix(none, 'spread', 'e')
    expect(none.mix()).toEqual([{ asset: 'e', share: 1 }])
  })
})

describe('preferences', () => {
  it('leave some elsewhere at first, keep that when the condition is another, and go without a trace', () => {
    const desk = deskWith([1, 1])
    setPreference(desk, 'spread', 0, 'slope')
    expect(desk.mix()[0]).toMatchObject({ share: 1, where: { kind: 'slope' }, elsewhere: 0.1 })
    setElsewhere(desk, 'spread', 0, 0.4)
    setPreference(desk, 'spread', 0, 'height')
    expect(desk.mix()[0]).toMatchObject({ where: { kind: 'height' }, elsewhere: 0.4 })
    setPreference(desk, 'spread', 0, null)
    expect(desk.mix()[0]).toEqual({ asset: 'a', share: 1 })
    setElsewhere(desk, 'spread', 1, 0.4)
    expect(desk.mix()[1]).toEqual({ asset: 'b', share: 1 })
  })
})
