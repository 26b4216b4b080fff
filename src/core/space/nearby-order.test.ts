import fc from 'fast-check'
import { nearbyOrder } from './nearby-order.ts'

const number = fc.integer({ min: -5000, max: 5000 }).map((n) => n / 100)

describe('the order of places by where they lie', () => {
  it('names each just once', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(number, number, number), { maxLength: 200 }), (places) => {
        const order = nearbyOrder(places.length, Float64Array.from(places.flat()))
        expect([...order].sort((a, b) => a - b)).toEqual(places.map((_, i) => i))
      }),
    )
  })

  it('makes the way from one to the next much shorter than that through places as they came', () => {
    const dice = (n: number) => ((Math.imul(n, 0x9e3779b1) >>> 0) % 10007) / 10007
    const places = Float64Array.from({ length: 3 * 3000 }, (_, i) => 40 * dice(i + 1))
    const way = (order: ArrayLike<number>) => {
      let sum = 0
      for (let k = 1; k < order.length; k++) sum += Math.hypot(...[0, 1, 2].map((c) => places[3 * order[k] + c] - places[3 * order[k - 1] + c]))
      return sum
    }
    expect(way(nearbyOrder(3000, places))).toBeLessThan(0.25 * way(Uint32Array.from({ length: 3000 }, (_, i) => i)))
  })
})
