import { nameOfMix } from './mix-name.ts'

describe('the name of a mix', () => {
  const assets = [['a', 'Sea lavender'], ['b', 'Thrift'], ['c', 'Samphire'], ['long', 'x'.repeat(300)]].map(([id, name]) => ({ id, name }))
  const mix = (...ids: string[]) => ids.map((asset, i) => ({ asset, share: 10 - i }))
  it('tells the largest share first and counts what does not fit', () => {
    expect(nameOfMix(mix('a'), assets)).toBe('Sea lavender')
    expect(nameOfMix(mix('a', 'b'), assets)).toBe('Sea lavender and thrift')
    expect(nameOfMix([{ asset: 'a', share: 1 }, { asset: 'b', share: 3 }, { asset: 'c', share: 2 }], assets)).toBe('Thrift, samphire and 1 more')
    expect(nameOfMix([], assets)).toBe('New planting')
    expect(nameOfMix(mix('gone'), assets)).toBe('New planting')
    expect(nameOfMix(mix('long'), assets).length).toBeLessThanOrEqual(200)
  })
})
