import fc from 'fast-check'
import { createSpaceCells } from './space-cells.ts'

const place = fc.tuple(fc.double({ min: -40, max: 40, noNaN: true }), fc.double({ min: -10, max: 10, noNaN: true }), fc.double({ min: -40, max: 40, noNaN: true }), fc.double({ min: 0, max: 3, noNaN: true }))
const squared = (a: readonly number[], b: readonly number[]) => (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2

describe('places in cubes of a hashed grid', () => {
  it('find the nearest as trying every one does, as far as the radius goes', () => {
    fc.assert(
      fc.property(fc.array(place, { maxLength: 120 }), fc.array(place, { minLength: 1, maxLength: 12 }), fc.double({ min: 0.2, max: 9, noNaN: true }), (entered, asked, side) => {
        // Few are expected, so that room has to be made.
        const cells = createSpaceCells(side, 8)
        for (const [x, y, z, room] of entered) cells.add(x, y, z, room)
        for (const at of asked) {
          const true_ = entered.reduce((best, one) => Math.min(best, squared(one, at)), Infinity)
          const found = cells.nearest(at[0], at[1], at[2], side, 0)
          expect(found).toBe(true_ < side * side ? true_ : Infinity)
        }
      }),
      { numRuns: 150, seed: 20261126 },
    )
  })

  it('any that is near enough will do, but only such a one', () => {
    fc.assert(
      fc.property(fc.array(place, { minLength: 1, maxLength: 80 }), place, (entered, at) => {
        const cells = createSpaceCells(8, 80)
        for (const [x, y, z] of entered) cells.add(x, y, z, 0)
        const nearest = entered.reduce((best, one) => Math.min(best, squared(one, at)), Infinity)
        const found = cells.nearest(at[0], at[1], at[2], 8, 3)
        if (nearest < 9) expect(found).toBeLessThan(9)
        else expect(found).toBe(nearest < 64 ? nearest : Infinity)
        expect(found === Infinity || entered.some((one) => squared(one, at) === found)).toBe(true)
      }),
      { numRuns: 200, seed: 7 },
    )
  })

  it('tell whether balls meet as trying every pair does', () => {
    fc.assert(
      fc.property(fc.array(place, { maxLength: 120 }), fc.array(place, { minLength: 1, maxLength: 12 }), (entered, asked) => {
        const most = entered.reduce((largest, [, , , room]) => Math.max(largest, room), 0)
        const cells = createSpaceCells(4, entered.length)
        for (const [x, y, z, room] of entered) cells.add(x, y, z, room)
        for (const [x, y, z, room] of asked) expect(cells.meets(x, y, z, room, most)).toBe(entered.some((one) => squared(one, [x, y, z]) < (one[3] + room) ** 2))
      }),
      { numRuns: 150, seed: 11 },
    )
  })
})
