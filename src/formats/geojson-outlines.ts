import type { Outline } from '../core/meadow.ts'
import { isClosed, polylines } from '../core/outlines/outline.ts'
import { LIMITS, shortened } from '../core/limits.ts'
import { ProblemError } from '../document/problem.ts'
import type { OutlineCoordinates, OutlineFormat, ReadOutline } from './outline-format.ts'

/** Says in a file of ours that its numbers are metres from the middle of the ground. */
const LOCAL = 'metres from the middle of the ground'
/** Deeper than any collection of collections that means something. */
const MOST_DEPTH = 32

/** GeoJSON (RFC 7946): as written by us in local metres, x to the east, y to the north of the middle of the ground, so y is −z. */
export const geojsonOutlines: OutlineFormat = {
  kind: 'geojson',
  label: 'GeoJSON in metres',
  extensions: ['.geojson', '.json'],
  mime: 'application/geo+json',
  read(text, name) {
    let value: unknown
    try {
      value = JSON.parse(text)
    } catch (error) {
      throw new ProblemError(`“${name}” is no JSON; copy it again.`, error)
    }
    const into: Found = { outlines: [], points: 0, name }
    collect(value, {}, into, 0)
    const notes = into.points > 0 ? [`${into.points === 1 ? 'One point is' : `${into.points.toLocaleString('en')} points are`} left out: only areas and lines become outlines.`] : []
    return { outlines: into.outlines, coordinates: coordinatesOf(value), notes }
  },
  write(outlines) {
    const features = outlines.map((outline) => {
      const closed = isClosed(outline)
      const rings = polylines(outline).map((line) => {
        const points = Array.from({ length: line.length / 2 }, (_, i) => [line[2 * i], -line[2 * i + 1]])
        return closed ? [...points, points[0]] : points
      })
      const { name, colour, smooth, width, lines } = outline
      return {
        type: 'Feature',
        properties: { name, colour, smooth, ...(outline.kind === 'path' ? { width, closed } : {}), ...(smooth ? { points: lines } : {}) },
        geometry: outline.kind === 'patch' ? { type: 'Polygon', coordinates: rings } : { type: 'LineString', coordinates: rings[0] ?? [] },
      }
    })
    return JSON.stringify({ type: 'FeatureCollection', coordinates: LOCAL, features }, null, 1)
  },
}

type Properties = Record<string, unknown>

interface Found {
  readonly outlines: ReadOutline[]
  /** Points that were passed over. */
  points: number
  readonly name: string
}

/** What a file says of its coordinates: by our own mark, or by the member of GeoJSON 2008 that names a system. */
function coordinatesOf(value: unknown): OutlineCoordinates {
  const { coordinates, crs } = value as { coordinates?: unknown; crs?: { properties?: { name?: unknown } } | null }
  if (coordinates === LOCAL) return { of: 'middle' }
  const named = crs?.properties?.name
  if (typeof named !== 'string') return { of: 'unknown' }
  const code = /EPSG:+(?:[\d.]*:)?(\d+)$/i.exec(named)
  return { of: 'system', system: code ? `EPSG:${code[1]}` : /CRS:?84$/i.test(named) ? 'EPSG:4326' : named.slice(0, LIMITS.word) }
}

function collect(value: unknown, properties: Properties, found: Found, depth: number): void {
  const wrong = (what: string) => new ProblemError(`“${found.name}” is no GeoJSON that can be read: ${what}.`)
  if (depth > MOST_DEPTH) throw wrong(`collections lie in each other more than ${MOST_DEPTH} deep`)
  if (typeof value !== 'object' || value === null) throw wrong('an object is missing')
  const { type, features, geometry, geometries, coordinates } = value as Record<string, unknown>
  const each = (list: unknown, what: string): unknown[] => {
    if (!Array.isArray(list)) throw wrong(`${what} is no list`)
    return list
  }
  switch (type) {
    case 'FeatureCollection':
      for (const one of each(features, 'features')) collect(one, {}, found, depth + 1)
      return
    case 'Feature': {
      const own = (value as { properties?: unknown }).properties
      if (geometry !== null) collect(geometry, typeof own === 'object' && own !== null ? (own as Properties) : {}, found, depth + 1)
      return
    }
    case 'GeometryCollection':
      for (const one of each(geometries, 'geometries')) collect(one, properties, found, depth + 1)
      return
    case 'Polygon':
      found.outlines.push(patchFrom(each(coordinates, 'coordinates'), properties, wrong))
      return
    case 'MultiPolygon':
      // A patch each: together they would cancel out where they overlap.
      for (const polygon of each(coordinates, 'coordinates')) found.outlines.push(patchFrom(each(polygon, 'a polygon'), { ...properties, smooth: false }, wrong))
      return
    case 'LineString':
      found.outlines.push(pathFrom(coordinates, properties, wrong))
      return
    case 'MultiLineString':
      for (const line of each(coordinates, 'coordinates')) found.outlines.push(pathFrom(line, properties, wrong))
      return
    case 'Point':
      found.points++
      return
    case 'MultiPoint':
      found.points += each(coordinates, 'coordinates').length
      return
    default:
      throw wrong(typeof type === 'string' ? `“${type.slice(0, 40)}” is no type of it` : 'an object does not say its type')
  }
}

type Wrong = (what: string) => ProblemError

function lineFrom(list: unknown, wrong: Wrong): number[] {
  if (!Array.isArray(list)) throw wrong('a line is no list of positions')
  return list.flatMap((position: unknown) => {
    const [x, y] = Array.isArray(position) ? (position as unknown[]) : []
    if (typeof x !== 'number' || typeof y !== 'number' || !Number.isFinite(x) || !Number.isFinite(y)) throw wrong('a position is no pair of numbers')
    return [x, y === 0 ? 0 : -y]
  })
}

function withoutRepeat(line: number[]): number[] {
  const n = line.length
  return n > 2 && line[0] === line[n - 2] && line[1] === line[n - 1] ? line.slice(0, -2) : line
}

function patchFrom(rings: readonly unknown[], properties: Properties, wrong: Wrong): ReadOutline {
  const lines = ownPoints(properties) ?? rings.map((ring) => withoutRepeat(lineFrom(ring, wrong)))
  return { kind: 'patch', lines, ...facts(properties) }
}

function pathFrom(list: unknown, properties: Properties, wrong: Wrong): ReadOutline {
  const line = lineFrom(list, wrong)
  const short = withoutRepeat(line)
  const closed = typeof properties.closed === 'boolean' ? properties.closed : short.length < line.length && short.length >= 6
  return { kind: 'path', lines: ownPoints(properties) ?? [closed ? short : line], closed, ...facts(properties) }
}

/** The points of a smooth outline, as written by ourselves beside its flattened form. */
function ownPoints({ smooth, points }: Properties): number[][] | null {
  if (smooth !== true || !Array.isArray(points) || points.length === 0) return null
  const fine = points.every(
    (line) => Array.isArray(line) && line.length >= 4 && line.length % 2 === 0 && line.every((v) => typeof v === 'number' && Number.isFinite(v)),
  )
  return fine ? (points as number[][]) : null
}

function facts(properties: Properties): Partial<Pick<Outline, 'name' | 'colour' | 'smooth' | 'width'>> {
  const { name, colour, width } = properties
  return {
    ...(typeof name === 'string' && name.trim() !== '' ? { name: shortened(name, LIMITS.name) } : {}),
    ...(typeof colour === 'string' && /^#[0-9a-f]{6}$/.test(colour) ? { colour } : {}),
    ...(ownPoints(properties) ? { smooth: true } : {}),
    ...(typeof width === 'number' && width >= 0 && width <= LIMITS.pathWidth ? { width } : {}),
  }
}
