import type { Outline } from '../core/meadow.ts'
import { createLineIndex } from '../core/outlines/distance.ts'
import { isClosed, polylines } from '../core/outlines/outline.ts'
import { outlineOf } from '../testing/fields.ts'
import { patchArea } from '../core/outlines/measure.ts'
import { degreeReference } from '../core/grounds/georeference.ts'
import { geojsonOutlines } from './geojson-outlines.ts'
import { readOutlines } from './outline-files.ts'
import { placeOutlines, placingOf } from './outline-placing.ts'
import { svgOutlines } from './svg-outlines.ts'

const bytes = (text: string) => new TextEncoder().encode(text)
const ground = { sizeX: 100, sizeZ: 80 }

const outlines: Outline[] = [
  outlineOf('patch', [[0, 0, 20, 0, 20, 20, 0, 20], [5, 5, 10, 5, 10, 10]], { name: 'Landing <place> & "quay"' }),
  outlineOf('path', [[-10.5, 3, 4, 8, 9, -2]], { name: 'Causeway', width: 3.5 }),
  outlineOf('patch', [[-30, -30, -10, -32, -12, -12, -28, -10]], { name: 'Round', smooth: true }),
  outlineOf('path', [[30, 0, 40, 0, 35, 9]], { name: 'Loop', closed: true, smooth: true }),
]

/** Largest difference of the signed distance to two outlines over a lattice of places. */
function apart(a: Outline, b: Outline): number {
  const places = Array.from({ length: 400 }, (_, i) => [((i % 20) - 10) * 5.13, (Math.floor(i / 20) - 10) * 4.07])
  const [da, db] = [a, b].map((one) => {
    const out = new Float64Array(places.length)
    createLineIndex(polylines(one), isClosed(one)).distances(Float64Array.from(places, (p) => p[0]), Float64Array.from(places, (p) => p[1]), places.length, one.kind === 'patch', Infinity, out)
    return out
  })
  return da.reduce((most, d, i) => Math.max(most, Math.abs(d - db[i])), 0)
}

describe('GeoJSON', () => {
  it('gives back what was written, smooth ones with their points', () => {
    const read = readOutlines(bytes(geojsonOutlines.write(outlines, ground)), 'a.geojson')
    expect(placingOf(read, { ...ground, georeference: null })).toBe('numbers')
    read.outlines.forEach((one, i) => {
      const { kind, name, smooth, closed, lines, width, colour } = outlines[i]
      const full = outlineOf(kind, one.lines, { ...one, lines: [...one.lines] })
      expect(full).toMatchObject({ kind, name, smooth, closed, lines, colour, ...(kind === 'path' ? { width } : {}) })
    })
  })

  it('is what any reader of RFC 7946 expects: closed rings, y to the north', () => {
    const { features } = JSON.parse(geojsonOutlines.write(outlines, ground)) as { features: { geometry: { type: string; coordinates: number[][][] } }[] }
    expect(features.map(({ geometry }) => geometry.type)).toEqual(['Polygon', 'LineString', 'Polygon', 'LineString'])
    const [ring] = features[0].geometry.coordinates
    expect(ring).toEqual([[0, 0], [20, 0], [20, -20], [0, -20], [0, 0]])
  })

  it('takes collections, multiple areas and bare geometries', () => {
    const square = (x: number) => [[[x, 0], [x + 1, 0], [x + 1, 1], [x, 0]]]
    const read = (value: unknown) => readOutlines(bytes(JSON.stringify(value)), 'b.json').outlines
    expect(read({ type: 'MultiPolygon', coordinates: [square(0), square(5)] })).toEqual([
      { kind: 'patch', lines: [[0, 0, 1, 0, 1, -1]] },
      { kind: 'patch', lines: [[5, 0, 6, 0, 6, -1]] },
    ])
    expect(read({ type: 'GeometryCollection', geometries: [{ type: 'Point', coordinates: [0, 0] }, { type: 'LineString', coordinates: [[0, 1], [2, 3]] }] })).toEqual([
      { kind: 'path', closed: false, lines: [[0, -1, 2, -3]] },
    ])
  })
})

describe('SVG', () => {
  it('gives back the same shapes to a millimetre', () => {
    const read = readOutlines(bytes(svgOutlines.write(outlines, ground)), 'a.svg').outlines
    // A closed path is an area to SVG.
    expect(read.map(({ kind, name }) => [kind, name])).toEqual([
      ['patch', outlines[0].name],
      ['path', 'Causeway'],
      ['patch', 'Round'],
      ['patch', 'Loop'],
    ])
    for (const i of [0, 1, 2]) expect(apart(outlines[i], outlineOf(read[i].kind, read[i].lines))).toBeLessThan(0.0015)
  })

  it('follows curves and arcs: a circle drawn three ways', () => {
    const ways = [
      'M 10 0 A 10 10 0 1 1 -10 0 A 10 10 0 1 1 10 0 Z',
      'm10,0 a10,10 0 0 1 -20,0 a10,10 0 0 1 20,0z',
      'M10,0C10,5.5228 5.5228,10 0,10S-10,5.5228 -10,0S-5.5228,-10 0,-10S10,-5.5228 10,0Z',
    ]
    for (const d of ways) {
      const [circle] = readOutlines(bytes(`<svg><path d='${d}'/></svg>`), 'c.svg').outlines
      expect(circle.kind).toBe('patch')
      const index = createLineIndex(circle.lines, true)
      const out = new Float64Array(3)
      index.distances(Float64Array.of(0, 3, 20), Float64Array.of(0, 4, 0), 3, true, Infinity, out)
      expect(out[0]).toBeCloseTo(-10, 1)
      expect(out[1]).toBeCloseTo(-5, 1)
      expect(out[2]).toBeCloseTo(10, 1)
    }
  })

  it('takes polygons and polylines, and holes within one path', () => {
    const read = readOutlines(bytes('<svg><!-- <path d="M0 0L9 9"/> --><polygon points="0,0 4,0 4,4"/><polyline points="1 1 2 2"/><path d="M0 0h9v9h-9z M2 2h2v2h-2z"/></svg>'), 'd.svg').outlines
    expect(read).toEqual([
      { kind: 'patch', lines: [[0, 0, 4, 0, 4, 4]] },
      { kind: 'path', lines: [[1, 1, 2, 2]] },
      { kind: 'patch', lines: [[0, 0, 9, 0, 9, 9, 0, 9], [2, 2, 4, 2, 4, 4, 2, 4]] },
    ])
  })
})

describe('where outlines of a file belong', () => {
  const square = (x: number, y: number, side: number) => ({ type: 'Polygon', coordinates: [[[x, y], [x + side, y], [x + side, y + side], [x, y + side], [x, y]]] })
  const read = (geometry: object, more = {}) => readOutlines(bytes(JSON.stringify({ type: 'FeatureCollection', ...more, features: [{ type: 'Feature', properties: {}, geometry }] })), 'a.json')
  const local = { sizeX: 400, sizeZ: 300, georeference: null }
  const north = { ...local, georeference: { system: 'EPSG:3067', degrees: false, x: 385200, y: 6672350, metresX: 1, metresY: 1 } }
  const crs = (name: string) => ({ crs: { type: 'name', properties: { name } } })

  it('meets the ground of the same reference, by name or by where it lies', () => {
    for (const more of [{}, crs('urn:ogc:def:crs:EPSG::3067'), crs('EPSG:3067')]) {
      const found = read(square(385210, 6672330, 10), more)
      expect(placingOf(found, north)).toBe('reference')
      expect(placeOutlines(found.outlines, 'reference', north, 'a.json')[0].lines).toEqual([[10, 20, 20, 20, 20, 10, 10, 10]])
    }
  })

  it('asks when the reference is another, when the ground has none, or when both would do', () => {
    expect(placingOf(read(square(385210, 6672330, 10), crs('EPSG:32635')), north)).toBeNull()
    expect(placingOf(read(square(385210, 6672330, 10)), local)).toBeNull()
    expect(placingOf(read(square(24.9, 60.1, 0.01), crs('urn:ogc:def:crs:OGC:1.3:CRS84')), north)).toBeNull()
    expect(placingOf(read(square(3, 3, 10)), { ...north, georeference: { ...north.georeference, x: 0, y: 0 } })).toBeNull()
  })

  it('takes small numbers for metres from the middle where nothing speaks against it', () => {
    expect(placingOf(read(square(3, 3, 10)), local)).toBe('numbers')
    expect(placingOf(read(square(3, 3, 10)), north)).toBe('numbers')
  })

  it('turns degrees into metres: a hundredth of a degree at 60° north is 557 × 1,114 m', () => {
    const [patch] = placeOutlines(read(square(24.9, 59.995, 0.01)).outlines, 'degrees', local, 'a.json')
    const [x0, z0, x1, z1] = [patch.lines[0][0], patch.lines[0][1], patch.lines[0][4], patch.lines[0][5]]
    expect(x1 - x0).toBeCloseTo(558, -1)
    expect(z0 - z1).toBeCloseTo(1114.1, 0)
    expect(x0 + x1).toBeCloseTo(0, 6)
    const globe = { ...local, sizeX: 2000, sizeZ: 2000, georeference: degreeReference(24.905, 60, 'EPSG:4326') }
    const found = read(square(24.9, 59.995, 0.01), crs('urn:ogc:def:crs:OGC:1.3:CRS84'))
    expect(placingOf(found, globe)).toBe('reference')
    expect(placeOutlines(found.outlines, 'reference', globe, 'a.json')[0].lines[0][0]).toBeCloseTo(x0, 0)
  })

  it('puts any of them in the middle, and refuses places beyond a meadow', () => {
    const { outlines } = read(square(385210, 6672330, 10))
    expect(placeOutlines(outlines, 'middle', local, 'a.json')[0].lines).toEqual([[-5, 5, 5, 5, 5, -5, -5, -5]])
    expect(() => placeOutlines(outlines, 'numbers', local, 'a.json')).toThrow('more than 1000 km from the middle')
  })

  it('says how many points are left out', () => {
    const found = readOutlines(bytes(JSON.stringify({ type: 'GeometryCollection', geometries: [{ type: 'MultiPoint', coordinates: [[0, 0], [1, 1]] }, { type: 'Point', coordinates: [2, 2] }, square(0, 0, 4)] })), 'p.json')
    expect(found.notes).toEqual(['3 points are left out: only areas and lines become outlines.'])
  })

  it('measures areas with holes and islands in them, whichever way their rings run', () => {
    const ring = (a: number, b: number, turned = false) => (turned ? [a, a, a, b, b, b, b, a] : [a, a, b, a, b, b, a, b])
    for (const turned of [false, true]) expect(patchArea(outlineOf('patch', [ring(2, 8, turned), ring(0, 10), ring(4, 5), ring(20, 22, turned)]))).toBeCloseTo(100 - 36 + 1 + 4, 9)
    // Far from the middle, as in a national grid.
    expect(patchArea(outlineOf('patch', [ring(900000, 900010)]))).toBeCloseTo(100, 6)
  })
})

describe('bad outline files', () => {
  const long = Array.from({ length: 30001 }, (_, i) => [i, i % 7])
  const cases: [string, string, string, RegExp][] = [
    ['an unknown ending', 'a.dxf', 'x', /is of no kind that holds outlines/],
    ['0 bytes', 'a.svg', '', /is empty/],
    ['no JSON', 'a.geojson', '{', /is no JSON/],
    ['another JSON', 'a.json', '{"type":"Mood"}', /“Mood” is no type/],
    ['words for numbers', 'a.json', '{"type":"LineString","coordinates":[["a",1],[2,3]]}', /no pair of numbers/],
    ['two points for an area', 'a.json', '{"type":"Polygon","coordinates":[[[0,0],[1,1],[0,0]]]}', /a patch needs at least 3/],
    ['a huge outline', 'a.json', JSON.stringify({ type: 'LineString', coordinates: long }), /30,001 points; at most 20,000/],
    ['degrees beyond all metres', 'a.json', '{"type":"LineString","coordinates":[[0,0],[1e12,3]]}', /a point at no possible place/],
    ['only points', 'a.json', '{"type":"Point","coordinates":[0,0]}', /holds no outline/],
    ['no drawing', 'a.svg', '<html></html>', /is no SVG drawing/],
    ['transforms', 'a.svg', '<svg><g transform="scale(2)"><path d="M0 0L1 1"/></g></svg>', /moves its shapes by transforms/],
    ['GeoJSON nested without end', 'a.json', `${'{"type":"GeometryCollection","geometries":['.repeat(3000)}${']}'.repeat(3000)}`, /more than 32 deep/],
    ['a broken path', 'a.svg', '<svg><path id="p" d="M0 0 L nonsense"/></svg>', /has a path \(“p”\) that cannot be read/],
  ]
  it('walks long texts once: a word of 100 kB, 2 MB of comments that never end, Latin-1', () => {
    const started = performance.now()
    expect(() => readOutlines(bytes(`<svg ${'a'.repeat(200_000)}>`), 'a.svg')).toThrow(/holds no outline/)
    expect(() => readOutlines(bytes(`<svg>${'<!--'.repeat(500_000)}`), 'a.svg')).toThrow(/holds no outline/)
    expect(() => readOutlines(bytes(`<svg><path ${'a:'.repeat(200_000)}/>`), 'a.svg')).toThrow(/holds no outline/)
    const latin = Uint8Array.from('<svg><path id="Gr\xe4n" d="M0 0L9 9"/></svg>', (letter) => letter.charCodeAt(0))
    expect(readOutlines(latin, 'a.svg').outlines[0].name).toBe('Grän')
    // Far above what a pass over the text takes, far below what a pass for each letter would.
    expect(performance.now() - started).toBeLessThan(5000)
  })

  it.each(cases)('says what is wrong with %s', (_what, name, text, sentence) => {
    expect(() => readOutlines(bytes(text), name)).toThrow(sentence)
  })
})
