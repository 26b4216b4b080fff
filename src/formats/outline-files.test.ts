import type { Outline } from '../core/meadow.ts'
import { createLineIndex } from '../core/outlines/distance.ts'
import { isClosed, polylines } from '../core/outlines/outline.ts'
import { outlineOf } from '../testing/fields.ts'
import { geojsonOutlines } from './geojson-outlines.ts'
import { readOutlines } from './outline-files.ts'
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
    read.forEach((one, i) => {
      const { kind, name, smooth, closed, lines, width, colour } = outlines[i]
      const full = outlineOf(kind, one.lines, one)
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
    const read = (value: unknown) => readOutlines(bytes(JSON.stringify(value)), 'b.json')
    expect(read({ type: 'MultiPolygon', coordinates: [square(0), square(5)] })).toEqual([
      { kind: 'patch', lines: [[0, 0, 1, 0, 1, -1], [5, 0, 6, 0, 6, -1]] },
    ])
    expect(read({ type: 'GeometryCollection', geometries: [{ type: 'Point', coordinates: [0, 0] }, { type: 'LineString', coordinates: [[0, 1], [2, 3]] }] })).toEqual([
      { kind: 'path', closed: false, lines: [[0, -1, 2, -3]] },
    ])
  })
})

describe('SVG', () => {
  it('gives back the same shapes to a millimetre', () => {
    const read = readOutlines(bytes(svgOutlines.write(outlines, ground)), 'a.svg')
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
      const [circle] = readOutlines(bytes(`<svg><path d='${d}'/></svg>`), 'c.svg')
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
    const read = readOutlines(bytes('<svg><!-- <path d="M0 0L9 9"/> --><polygon points="0,0 4,0 4,4"/><polyline points="1 1 2 2"/><path d="M0 0h9v9h-9z M2 2h2v2h-2z"/></svg>'), 'd.svg')
    expect(read).toEqual([
      { kind: 'patch', lines: [[0, 0, 4, 0, 4, 4]] },
      { kind: 'path', lines: [[1, 1, 2, 2]] },
      { kind: 'patch', lines: [[0, 0, 9, 0, 9, 9, 0, 9], [2, 2, 4, 2, 4, 4, 2, 4]] },
    ])
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
    ['degrees beyond all metres', 'a.json', '{"type":"LineString","coordinates":[[0,0],[1e12,3]]}', /no place within 1,000 km/],
    ['only points', 'a.json', '{"type":"Point","coordinates":[0,0]}', /holds no outline/],
    ['no drawing', 'a.svg', '<html></html>', /is no SVG drawing/],
    ['transforms', 'a.svg', '<svg><g transform="scale(2)"><path d="M0 0L1 1"/></g></svg>', /moves its shapes by transforms/],
    ['a broken path', 'a.svg', '<svg><path id="p" d="M0 0 L nonsense"/></svg>', /has a path \(“p”\) that cannot be read/],
  ]
  it.each(cases)('says what is wrong with %s', (_what, name, text, sentence) => {
    expect(() => readOutlines(bytes(text), name)).toThrow(sentence)
  })
})
