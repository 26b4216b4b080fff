import { assetOf } from '../../testing/fields.ts'
import { isFound, rowsByCategory, rowsOf } from './asset-rows.ts'

const asset = (name: string, category: string, tags: string[] = []) => ({ ...assetOf(name, 0.1), name, category, tags })

describe('the shelf', () => {
  it('is found by all words, in any order, wherever they stand', () => {
    const thrift = asset('Thrift', 'Flowers', ['marsh', 'pink'])
    for (const words of ['', 'thri', 'PINK flow', ' marsh  thrift ']) expect(isFound(thrift, words)).toBe(true)
    for (const words of ['thrifty', 'pink reed']) expect(isFound(thrift, words)).toBe(false)
  })

  it('keeps every asset once, in rows under its category', () => {
    const assets = Array.from({ length: 23 }, (_, i) => asset(`a${i}`, ['Trees', 'Debris', 'Flowers'][i % 3]))
    for (const columns of [1, 2, 5]) {
      const rows = rowsByCategory(assets, columns)
      let heading = ''
      const seen: string[] = []
      for (const row of rows)
        if ('heading' in row) heading = row.heading
        else {
          expect(row.assets.length).toBeLessThanOrEqual(columns)
          for (const { id, category } of row.assets) {
            expect(category).toBe(heading)
            seen.push(id)
          }
        }
      expect(rows.flatMap((row) => ('heading' in row ? [row.heading] : []))).toEqual(['Debris', 'Flowers', 'Trees'])
      expect([...seen].sort()).toEqual(assets.map(({ id }) => id).sort())
      expect(new Set(rows.map(({ key }) => key)).size).toBe(rows.length)
    }
    expect(rowsOf([], 3)).toEqual([])
  })
})
