import { encode } from 'fast-png'
import { readFileSync } from 'node:fs'
import { metresPerDegree } from '../core/grounds/georeference.ts'
import { doubt, guessDistance, latitudeOf, referenceOf, settleHeights, sizeOf } from './height-settle.ts'
import { makeTiff as tiff } from '../testing/tiff.ts'
import { readHeights } from './heights.ts'

const bytes = (text: string) => new TextEncoder().encode(text) as Uint8Array<ArrayBuffer>
const png = (width: number, height: number, data: Uint8Array | Uint16Array, depth: 8 | 16, channels: 1 | 3 = 1) =>
  new Uint8Array(encode({ width, height, data, depth, channels }))
const asc = (body: string, header = 'ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 20\nNODATA_value -9999\n') => bytes(header + body)

/** A TIFF in which one entry of the directory has another value. */
function lyingTiff(tag: number, value: number): Uint8Array<ArrayBuffer> {
  const file = tiff(2, 2, [1, 2, 3, 4])
  const view = new DataView(file.buffer)
  const directory = view.getUint32(4, true)
  for (let k = 0; k < view.getUint16(directory, true); k++) {
    const at = directory + 2 + 12 * k
    if (view.getUint16(at, true) !== tag) continue
    if (view.getUint16(at + 2, true) === 3) view.setUint16(at + 8, value, true)
    else view.setUint32(at + 8, value, true)
  }
  return file
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
    expect(grid).toMatchObject({ columns: 3, rows: 2, spacing: { stepX: 20, stepY: 20 }, metres: true, missing: 1, lowest: -6.25, highest: 5 })
    expect([...grid.values]).toEqual([1.5, 2, 3, NaN, 5, -6.25])
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
    expect(grid).toMatchObject({ columns: 3, rows: 2, spacing: { stepX: 20, stepY: 20 }, metres: true, missing: 0, lowest: -5, highest: 60 })
  })

  it('reads the words and the number that mark cells without data, and text behind a mark of byte order', async () => {
    const grid = await readHeights(bytes('\ufeffncols 4\nnrows 2\ncellsize 5\nNODATA_value nan\n1 nan NaN nodata\n-9999 2 NA -nan\n'), 'h.asc')
    expect([...grid.values]).toEqual([1, NaN, NaN, NaN, NaN, 2, NaN, NaN])
    expect(grid.missing).toBe(6)
  })

  it('keeps dx and dy apart, and where the grid lies', async () => {
    const wide = await readHeights(asc('1 2 3 4 5 6', 'ncols 3\nnrows 2\nxllcorner 385000\nyllcorner 6672000\ndx 20\ndy 35\n'), 'w.asc')
    expect(sizeOf(wide, 'metres', 0)).toEqual({ sizeX: 40, sizeZ: 35 })
    expect(wide.spacing?.georeference).toMatchObject({ degrees: false, x: 385030, y: 6672035 })
    const centred = await readHeights(asc('1 2 3 4 5 6', 'ncols 3\nnrows 2\nxllcenter 385010\nyllcenter 6672017.5\ndx 20\ndy 35\n'), 'c.asc')
    expect(centred.spacing?.georeference).toMatchObject({ x: 385030, y: 6672035 })
    expect(referenceOf(wide, 'metres', { sizeX: 80, sizeZ: 35 })).toMatchObject({ metresX: 2, metresY: 1 })
  })

  it('sees degrees, and turns them into metres at the middle latitude: 1″ at 48° north', async () => {
    const grid = await readHeights(asc('1 2 3 4', `ncols 2\nnrows 2\nxllcorner 9\nyllcorner 48\ncellsize ${1 / 3600}\n`), 'arc.asc')
    expect(guessDistance(grid)).toBe('degrees')
    const size = sizeOf(grid, 'degrees', latitudeOf(grid) ?? 0)
    // Lengths of a second of arc on the ellipsoid at 48°, from its radii of curvature.
    expect(size.sizeX).toBeCloseTo(20.74, 1)
    expect(size.sizeZ).toBeCloseTo(30.88, 1)
    expect(referenceOf(grid, 'degrees', size)).toMatchObject({ degrees: true })
  })

  it('does not take a small grid in metres for one in degrees', async () => {
    const near = await readHeights(asc('1 2 3 4', 'ncols 2\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 5\n'), 'm.asc')
    expect(guessDistance(near)).toBe('metres')
    expect(guessDistance(await readHeights(asc('1 2 3 4', 'ncols 2\nnrows 2\ncellsize 5\n'), 'm.asc'))).toBe('metres')
  })

  it('knows a degree at the equator and at the pole, as published for the ellipsoid', () => {
    expect(metresPerDegree(0).x).toBeCloseTo(111319.5, 0)
    expect(metresPerDegree(0).y).toBeCloseTo(110574.3, 0)
    expect(metresPerDegree(90).y).toBeCloseTo(111693.9, 0)
    expect(metresPerDegree(45).x).toBeCloseTo(78846.8, 0)
  })

  it('questions a ground that can hardly be', () => {
    expect(doubt(0.34, 0.29, 840)).toContain('0.34 m × 0.29 m with 840 m between its lowest and highest point can hardly be')
    expect(doubt(1, 1, 0.2)).toContain('smaller than a person')
    expect(doubt(900_000, 900_000, 3000)).toContain('larger than a province')
    expect(doubt(8000, 8000, 350)).toBeNull()
  })

  it('leaves gaps as holes, or fills them from the nearest, smoothly or to a level; the others stay as they are', async () => {
    const grid = await readHeights(asc('1 -9999 -9999\n1 -9999 7\n'), 'h.asc')
    const settled = (gaps: 'holes' | 'nearest' | 'smooth' | 'level', factor = 1) => settleHeights(grid, { gaps, level: -2, factor, lowest: 0, highest: 0 })
    expect([...settled('holes').heights]).toEqual([1, NaN, NaN, 1, NaN, 7])
    expect([...settled('nearest').heights]).toEqual([1, 1, 7, 1, 1, 7])
    expect([...settled('level').heights]).toEqual([1, -2, -2, 1, -2, 7])
    expect(settled('level')).toMatchObject({ lowest: -2, highest: 7 })
    const smooth = [...settled('smooth', 2).heights]
    expect([smooth[0], smooth[3], smooth[5]]).toEqual([2, 2, 14])
    for (const v of smooth) expect(v >= 2 && v <= 14).toBe(true)
    expect(() => settled('holes', 5000)).toThrow('within 12,000 m of 0')
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
    ['a TIFF height that cannot be', tiff(2, 2, [1, 2, 32000, 4]), 'x.tif', 'a height of 32000 m at row 2, column 1, which cannot be'],
    ['an endless TIFF height', tiff(2, 2, [1, Infinity, 3, 4]), 'x.tif', 'a height of Infinity m at row 1, column 2'],
    ['a TIFF whose strip lies beyond its end', lyingTiff(273, 4_000_000_000), 'x.tif', 'damaged, cut short'],
    ['a TIFF with too few bytes in its strip', lyingTiff(279, 4), 'x.tif', 'damaged, cut short'],
    ['a TIFF of a billion samples a pixel', lyingTiff(277, 60000), 'x.tif', 'damaged, cut short'],
    ['an absurd size', asc('1', 'ncols 999999\nnrows 2\ncellsize 1\n'), 'x.asc', 'at most 4096 × 4096'],
    ['a broken column count', asc('1', 'ncols 2.5\nnrows 2\ncellsize 1\n'), 'x.asc', 'must be a whole number'],
    ['a cell size of 0', asc('1 2 3 4', 'ncols 2\nnrows 2\ncellsize 0\n'), 'x.asc', 'cell size of 0'],
    ['an odd raw file', new Uint8Array(7), 'x.r16', 'odd number of bytes'],
    ['a raw file that is no square', new Uint8Array(12), 'x.r16', 'which is no square; say the sides in its name'],
    ['a raw file unlike its name', new Uint8Array(12), 'x_4x4.raw', 'not the 4 × 4 of its name'],
    ['text called TIFF', bytes('hello there'), 'x.tif', 'is not a TIFF'],
    ['a cut-short TIFF', tiff(3, 2, [1, 2, 3, 4, 5, 6]).slice(0, 40), 'x.tif', 'damaged, cut short'],
    ['a TIFF without data', tiff(2, 2, [-9999, -9999, NaN, -9999]), 'x.tiff', 'no data in any of its cells'],
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

  it('refuses a PNG that inflates to more than its sides take, before it is inflated whole', async () => {
    const { zlibSync } = await import('fflate')
    const honest = png(4, 4, new Uint8Array(16), 8)
    const bomb = zlibSync(new Uint8Array(64 * 1024 * 1024), { level: 9 })
    const at = honest.findIndex((_, i) => String.fromCharCode(...honest.subarray(i, i + 4)) === 'IDAT')
    const chunk = new Uint8Array(bomb.length + 12)
    new DataView(chunk.buffer).setUint32(0, bomb.length)
    chunk.set([73, 68, 65, 84], 4)
    chunk.set(bomb, 8)
    const file = new Uint8Array([...honest.subarray(0, at - 4), ...chunk, ...honest.subarray(honest.length - 12)])
    await expect(readHeights(file, 'bomb.png')).rejects.toThrow('damaged or cut short')
  })

  it('keeps to its own licence list: every dependency of the project is on it', () => {
    const wanted = Object.keys((JSON.parse(readFileSync('package.json', 'utf8')) as { dependencies: object }).dependencies)
    const list = readFileSync('docs/dependencies.md', 'utf8')
    expect(wanted.filter((name) => !list.includes(`\`${name}\``))).toEqual([])
  })
})
