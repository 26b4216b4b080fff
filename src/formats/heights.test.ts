import { encode } from 'fast-png'
import { readFileSync } from 'node:fs'
import { fillMissing } from './height-grid.ts'
import { readHeights } from './heights.ts'

const bytes = (text: string) => new TextEncoder().encode(text) as Uint8Array<ArrayBuffer>
const png = (width: number, height: number, data: Uint8Array | Uint16Array, depth: 8 | 16, channels: 1 | 3 = 1) =>
  new Uint8Array(encode({ width, height, data, depth, channels }))
const asc = (body: string, header = 'ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 20\nNODATA_value -9999\n') => bytes(header + body)

describe('height files', () => {
  it('reads 8- and 16-bit PNG as shares of the full range', () => {
    const eight = readHeights(png(2, 2, Uint8Array.of(0, 51, 204, 255), 8), 'a.png')
    expect([...eight.values].map((v) => Number(v.toFixed(6)))).toEqual([0, 0.2, 0.8, 1])
    const sixteen = readHeights(png(2, 2, Uint16Array.of(0, 1, 32768, 65535), 16), 'a.PNG')
    expect([...sixteen.values]).toEqual([0, Math.fround(1 / 65535), Math.fround(32768 / 65535), 1])
    expect(sixteen.form).toBe('16-bit PNG')
    expect(readHeights(png(2, 2, Uint8Array.from([9, 1, 1, 51, 1, 1, 1, 1, 1, 255, 0, 0]), 8, 3), 'c.png').values[1]).toBeCloseTo(0.2)
  })

  it('reads an ESRI ASCII grid with its cell size', () => {
    const grid = readHeights(asc('1 2 3\r\n4.5 -5 6e1\r\n'), 'hills.asc')
    expect([...grid.values]).toEqual([1, 2, 3, 4.5, -5, 60])
    expect(grid).toMatchObject({ columns: 3, rows: 2, cell: 20, metres: true, missing: 0 })
  })

  it('fills cells without data from their nearest neighbour', () => {
    const grid = readHeights(asc('1 -9999 -9999\n1 -9999 7\n'), 'h.asc')
    expect(grid.missing).toBe(3)
    expect([...fillMissing(grid)]).toEqual([1, 1, 7, 1, 1, 7])
  })

  const bad: [string, Uint8Array<ArrayBuffer>, string, string][] = [
    ['an empty file', bytes(''), 'x.png', 'is empty (0 bytes)'],
    ['text called PNG', bytes('hello'), 'x.png', 'is not a PNG picture'],
    ['a cut-short PNG', png(40, 40, new Uint8Array(1600).fill(7), 8).slice(0, 60), 'x.png', 'damaged or cut short'],
    ['a PNG that ends in its header', png(4, 4, new Uint8Array(16), 8).slice(0, 20), 'x.png', 'ends too early'],
    ['a PNG of one sample', png(1, 1, Uint8Array.of(1), 8), 'x.png', 'at least 2 × 2'],
    ['a grid without a header', bytes('1 2 3'), 'x.asc', 'NCOLS is not in its header'],
    ['a grid that ends early', asc('1 2 3 4'), 'x.asc', 'ends at row 2, column 2'],
    ['a grid with too much', asc('1 2 3 4 5 6 7'), 'x.asc', 'more heights than the 3 × 2'],
    ['a word among the heights', asc('1 2 3 4 soup 6'), 'x.asc', '“soup” where a height should be, at row 2, column 2'],
    ['a height that cannot be', asc('1 2 3 4 99999 6'), 'x.asc', 'which cannot be'],
    ['no data at all', asc('-9999 -9999 -9999 -9999 nan -9999'), 'x.asc', 'no data in any'],
    ['an absurd size', asc('1', 'ncols 999999\nnrows 2\ncellsize 1\n'), 'x.asc', 'at most 4096 × 4096'],
    ['a broken column count', asc('1', 'ncols 2.5\nnrows 2\ncellsize 1\n'), 'x.asc', 'must be a whole number'],
    ['a cell size of 0', asc('1 2 3 4', 'ncols 2\nnrows 2\ncellsize 0\n'), 'x.asc', 'cell size of 0'],
    ['an unknown ending', bytes('1'), 'x.doc', 'of no kind that is known as heights'],
  ]
  for (const [what, data, name, sentence] of bad)
    it(`refuses ${what} in one sentence`, () => {
      expect(() => readHeights(data, name)).toThrow(sentence)
      expect(() => readHeights(data, name)).toThrow(`“${name}”`)
    })

  it('refuses a PNG that claims to be huge before it is unpacked', () => {
    const lie = png(2, 2, new Uint8Array(4), 8)
    new DataView(lie.buffer).setUint32(16, 4_000_000_000)
    expect(() => readHeights(lie, 'big.png')).toThrow('at most 4096 × 4096')
  })

  it('keeps to its own licence list: every dependency of the project is on it', () => {
    const wanted = Object.keys((JSON.parse(readFileSync('package.json', 'utf8')) as { dependencies: object }).dependencies)
    const list = readFileSync('docs/dependencies.md', 'utf8')
    expect(wanted.filter((name) => !list.includes(`\`${name}\``))).toEqual([])
  })
})
