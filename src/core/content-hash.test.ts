import fc from 'fast-check'
import { hashString, hashValue } from './content-hash.ts'

/** The same value in new objects, its keys the other way round. */
function again(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(again)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).reverse().map(([key, one]) => [key, again(one)]))
}

/** Equal as JSON is: 0 and −0 are one number, keys have no order. */
const canonical = (value: unknown): string =>
  JSON.stringify(value, (_, one: unknown) => (typeof one === 'object' && one !== null && !Array.isArray(one) ? Object.fromEntries(Object.entries(one).sort(([a], [b]) => (a < b ? -1 : 1))) : one))

const plain = fc.jsonValue({ maxDepth: 4 })

describe('names of content', () => {
  it('are the same for equal values', () => {
    fc.assert(fc.property(plain, (value) => expect(hashValue(again(value))).toBe(hashValue(value))), { seed: 1, numRuns: 300 })
  })

  it('differ where values differ', () => {
    const names = new Map<string, string>()
    fc.assert(
      fc.property(plain, (value) => {
        const text = canonical(value)
        const name = hashValue(value)
        expect(names.get(name) ?? text).toBe(text)
        names.set(name, text)
      }),
      { seed: 2, numRuns: 3000 },
    )
    expect(names.size).toBeGreaterThan(500)
    // What could be taken for each other when pieces are strung together.
    const near: unknown[] = [[], {}, '', null, 0, false, [0], ['0'], [[0]], [null], [1, 2], [12], ['1 2'], ['1', '2'], { a: 1 }, { a: '1' }, { a: [1] }, { 'a 1': 2 }, { a: { b: 1 } }, { a: 1, b: 1 }, [{ a: 1 }, { b: 1 }], 'number:0', [0, 1e-300], [1e-300, 0]]
    expect(new Set(near.map(hashValue)).size).toBe(near.length)
  })

  it('change with every single number of a long list', () => {
    const points = Array.from({ length: 2000 }, (_, i) => Math.sin(i) * 300)
    const names = new Set([hashValue(points)])
    for (let i = 0; i < points.length; i++) names.add(hashValue(points.map((one, k) => (k === i ? one + 1e-9 : one))))
    expect(names.size).toBe(2001)
    expect(hashString('ab')).not.toBe(hashString('ba'))
  })
})
