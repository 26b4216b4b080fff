import type { Extent } from './drop-place.ts'
import { dropPlace } from './drop-place.ts'

/** Cards under each other. */
function stack(...heights: number[]): Extent[] {
  let top = 0
  return heights.map((height) => {
    const card = { top, height }
    top += height
    return card
  })
}

describe('where a dragged card lands', () => {
  it('is the first place when it is dragged to the top, however tall the first card is', () => {
    for (const tall of [31, 60, 200, 500]) {
      const cards = stack(tall, 31, 31, 31)
      for (const from of [1, 2, 3]) {
        expect(dropPlace(cards, from, { top: 0, height: 31 })).toBe(0)
        expect(dropPlace(cards, from, { top: -80, height: 31 })).toBe(0)
      }
      // And an open card below all when it is dragged to the end.
      expect(dropPlace(cards, 0, { top: tall + 93 - tall, height: tall })).toBe(3)
    }
  })

  it('is after a tall card once it is clear of its upper edge, however much of it lies below', () => {
    const cards = stack(300, 31, 31)
    expect(dropPlace(cards, 2, { top: 20, height: 31 })).toBe(0)
    expect(dropPlace(cards, 2, { top: 40, height: 31 })).toBe(1)
    expect(dropPlace(cards, 2, { top: 140, height: 31 })).toBe(1)
  })

  it('is where it was for small moves, and the next for half a card', () => {
    const cards = stack(31, 31, 31, 31)
    for (const by of [-14, -5, 0, 5, 14]) expect(dropPlace(cards, 2, { top: 62 + by, height: 31 })).toBe(2)
    expect(dropPlace(cards, 2, { top: 62 - 17, height: 31 })).toBe(1)
    expect(dropPlace(cards, 2, { top: 62 + 17, height: 31 })).toBe(3)
  })

  it('lands where its top or bottom is, for every place of cards of one height', () => {
    const cards = stack(...Array.from({ length: 12 }, () => 40))
    for (let from = 0; from < 12; from++) for (let to = 0; to < 12; to++) expect(dropPlace(cards, from, { top: 40 * to, height: 40 })).toBe(to)
  })
})
