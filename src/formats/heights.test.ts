import { encode } from 'fast-png'
import { readFileSync } from 'node:fs'
import { fillMissing } from './height-grid.ts'
import { readHeights } from './heights.ts'

const bytes = (text: string) => new TextEncoder().encode(text) as Uint8Array<ArrayBuffer>
const png = (width: number, height: number, data: Uint8Array | Uint16Array, depth: 8 | 16, channels: 1 | 3 = 1) =>
  new Uint8Array(encode({ width, height, data, depth, channels }))
const asc = (body: string, header = 'ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 20\nNODATA_value -9999\n') => bytes(header + body)

/** A GeoTIFF written out by hand: one strip of 32-bit floats, a pixel scale and a no-data mark of −9999. */
function tiff(columns: number, rows: number, values: readonly number[]): Uint8Array<ArrayBuffer> {
  const tags: [tag: number, type: number, count: number, value: number][] = []
  const strip = 8
  const scale = strip + 4 * values.length
  const mark = scale + 24
  const directory = mark + 6
  tags.push([256, 3, 1, columns], [257, 3, 1, rows], [258, 3, 1, 32], [259, 3, 1, 1], [262, 3, 1, 1], [273, 4, 1, strip], [277, 3, 1, 1])
  tags.push([278, 3, 1, rows], [279, 4, 1, 4 * values.length], [339, 3, 1, 3], [33550, 12, 3, scale], [42113, 2, 6, mark])
  const out = new DataView(new ArrayBuffer(directory + 2 + 12 * tags.length + 4))
  out.setUint16(0, 0x4949, true)
  out.setUint16(2, 42, true)
  out.setUint32(4, directory, true)
  values.forEach((value, i) => out.setFloat32(strip + 4 * i, value, true))
  ;[20, 20, 0].forEach((value, i) => out.setFloat64(scale + 8 * i, value, true))
  ;[...'-9999'].forEach((letter, i) => out.setUint8(mark + i, letter.charCodeAt(0)))
  out.setUint16(directory, tags.length, true)
  tags.forEach(([tag, type, count, value], i) => {
    const at = directory + 2 + 12 * i
    out.setUint16(at, tag, true)
    out.setUint16(at + 2, type, true)
    out.setUint32(at + 4, count, true)
    if (type === 3) out.setUint16(at + 8, value, true)
    else out.setUint32(at + 8, value, true)
  })
  return new Uint8Array(out.buffer)
}

describe('height files', () => {
  it('reads raw 16 bits, square or with its sides in its name', async () => {
    const raw = (values: number[]) => new Uint8Array(Uint16Array.from(values).buffer)
    const square = await readHeights(raw([0, 65535, 6553.5, 13107]), 'dunes.r16')
    expect(square).toMatchObject({ columns: 2, rows: 2, metres: false })
    expect([...square.values].map((v) => Number(v.toFixed(3)))).toEqual([0, 1, 0.1, 0.2])
    expect(await readHeights(raw([1, 2, 3, 4, 5, 6]), 'dunes 3x2.raw')).toMatchObject({ columns: 3, rows: 2 })
  })

  it('reads a GeoTIFF with its cell size and its cells without data', async () => {
    const grid = await readHeights(tiff(3, 2, [1.5, 2, 3, -9999, 5, -6.25]), 'hills.TIF')
    expect(grid).toMatchObject({ columns: 3, rows: 2, cell: 20, metres: true, missing: 1 })
    expect([...fillMissing(grid)]).toEqual([1.5, 2, 3, 1.5, 5, -6.25])
  })

  it('reads 8- and 16-bit PNG as shares of the full range', async () => {
    const eight = await readHeights(png(2, 2, Uint8Array.of(0, 51, 204, 255), 8), 'a.png')
    expect([...eight.values].map((v) => Number(v.toFixed(6)))).toEqual([0, 0.2, 0.8, 1])
    const sixteen = await readHeights(png(2, 2, Uint16Array.of(0, 1, 32768, 65535), 16), 'a.PNG')
    expect([...sixteen.values]).toEqual([0, Math.fround(1 / 65535), Math.fround(32768 / 65535), 1])
    expect(sixteen.form).toBe('16-bit PNG')
    expect((await readHeights(png(2, 2, Uint8Array.from([9, 1, 1, 51, 1, 1, 1, 1, 1, 255, 0, 0]), 8, 3), 'c.png')).values[1]).toBeCloseTo(0.2)
  })

  it('reads an ESRI ASCII grid with its cell size', async () => {
    const grid = await readHeights(asc('1 2 3\r\n4.5 -5 6e1\r\n'), 'hills.asc')
    expect([...grid.values]).toEqual([1, 2, 3, 4.5, -5, 60])
    expect(grid).toMatchObject({ columns: 3, rows: 2, cell: 20, metres: true, missing: 0 })
  })

  it('fills cells without data from their nearest neighbour', async () => {
    const grid = await readHeights(asc('1 -9999 -9999\n1 -9999 7\n'), 'h.asc')
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
    ['an odd raw file', new Uint8Array(7), 'x.r16', 'odd number of bytes'],
    ['a raw file that is no square', new Uint8Array(12), 'x.r16', 'which is no square; say the sides in its name'],
    ['a raw file unlike its name', new Uint8Array(12), 'x_4x4.raw', 'not the 4 × 4 of its name'],
    ['text called TIFF', bytes('hello there'), 'x.tif', 'is not a TIFF'],
    ['a cut-short TIFF', tiff(3, 2, [1, 2, 3, 4, 5, 6]).slice(0, 40), 'x.tif', 'damaged, cut short'],
    ['a TIFF without data', tiff(2, 2, [-9999, -9999, NaN, -9999]), 'x.tiff', 'no data in any cell'],
    ['an unknown ending', bytes('1'), 'x.doc', 'of no kind that is known as heights'],
  ]
  for (const [what, data, name, sentence] of bad)
    it(`refuses ${what} in one sentence`, async () => {
      await expect(readHeights(data, name)).rejects.toThrow(sentence)
      await expect(readHeights(data, name)).rejects.toThrow(`“${name}”`)
    })

  it('refuses a PNG that claims to be huge before it is unpacked', async () => {
    const lie = png(2, 2, new Uint8Array(4), 8)
    new DataView(lie.buffer).setUint32(16, 4_000_000_000)
    await expect(readHeights(lie, 'big.png')).rejects.toThrow('at most 4096 × 4096')
  })

  it('keeps to its own licence list: every dependency of the project is on it', () => {
    const wanted = Object.keys((JSON.parse(readFileSync('package.json', 'utf8')) as { dependencies: object }).dependencies)
    const list = readFileSync('docs/dependencies.md', 'utf8')
    expect(wanted.filter((name) => !list.includes(`\`${name}\``))).toEqual([])
  })
})
