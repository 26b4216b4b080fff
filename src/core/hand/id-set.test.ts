import fc from 'fast-check'
import { idSet } from './id-set.ts'

const word = fc.oneof(fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 0xffffffff }))

describe('a set of ids', () => {
  it('holds what a set of their texts holds, in the order in which they came in', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(word, word), { maxLength: 300 }), fc.array(fc.tuple(word, word), { maxLength: 30 }), (ids, others) => {
        const texts = new Set(ids.map(String))
        const set = idSet(ids)
        expect(set.size).toBe(texts.size)
        expect([...set].map(String)).toEqual([...texts])
        for (const [low, high] of [...ids, ...others]) expect(set.has(low, high)).toBe(texts.has(String([low, high])))
      }),
    )
  })

  it('of a hundred thousand that differ in their high halves only, or are neighbours, is none mistaken', () => {
    const many = 100_000
    for (const half of [(k: number) => [7, k], (k: number) => [k, k >>> 8], (k: number) => [k << 16, k]]) {
      const set = idSet(Array.from({ length: many }, (_, k) => half(2 * k).map((one) => one >>> 0) as [number, number]))
      expect(set.size).toBe(many)
      for (let k = 0; k < 2 * many; k++) {
        const [low, high] = half(k).map((one) => one >>> 0)
        if (set.has(low, high) !== (k % 2 === 0)) throw new Error(`${low} ${high}`)
      }
    }
  })
})
