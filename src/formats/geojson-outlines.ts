import type { Outline } from '../core/meadow.ts'
import { isClosed, polylines } from '../core/outlines/outline.ts'
import { ProblemError } from '../document/problem.ts'
import type { OutlineFormat, ReadOutline } from './outline-format.ts'

/** GeoJSON (RFC 7946) in local metres: x to the east, y to the north of the middle of the ground, so y is −z. */
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
    const found: ReadOutline[] = []
    collect(value, {}, found, name)
    return found
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
    return JSON.stringify({ type: 'FeatureCollection', features }, null, 1)
  },
}

type Properties = Record<string, unknown>

function collect(value: unknown, properties: Properties, found: ReadOutline[], name: string): void {
  const wrong = (what: string) => new ProblemError(`“${name}” is no GeoJSON that can be read: ${what}.`)
  if (typeof value !== 'object' || value === null) throw wrong('an object is missing')
  const { type, features, geometry, geometries, coordinates } = value as Record<string, unknown>
  const each = (list: unknown, what: string): unknown[] => {
    if (!Array.isArray(list)) throw wrong(`${what} is no list`)
    return list
  }
  switch (type) {
    case 'FeatureCollection':
      for (const one of each(features, 'features')) collect(one, {}, found, name)
      return
    case 'Feature': {
      const own = (value as { properties?: unknown }).properties
      if (geometry !== null) collect(geometry, typeof own === 'object' && own !== null ? (own as Properties) : {}, found, name)
      return
    }
    case 'GeometryCollection':
      for (const one of each(geometries, 'geometries')) collect(one, properties, found, name)
      return
    case 'Polygon':
      found.push(patchFrom(each(coordinates, 'coordinates'), properties, wrong))
      return
    case 'MultiPolygon':
      found.push(patchFrom(each(coordinates, 'coordinates').flatMap((polygon) => each(polygon, 'a polygon')), properties, wrong))
      return
    case 'LineString':
      found.push(pathFrom(coordinates, properties, wrong))
      return
    case 'MultiLineString':
      for (const line of each(coordinates, 'coordinates')) found.push(pathFrom(line, properties, wrong))
      return
    case 'Point':
    case 'MultiPoint':
      return
    default:
      throw wrong(`“${String(type).slice(0, 40)}” is no type of it`)
  }
}

type Wrong = (what: string) => ProblemError

function lineFrom(list: unknown, wrong: Wrong): number[] {
  if (!Array.isArray(list)) throw wrong('a line is no list of positions')
  return list.flatMap((position: unknown) => {
    const [x, y] = Array.isArray(position) ? (position as unknown[]) : []
    if (typeof x !== 'number' || typeof y !== 'number') throw wrong('a position is no pair of numbers')
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
    (line) => Array.isArray(line) && line.length >= 4 && line.length % 2 === 0 && line.every((v) => typeof v === 'number'),
  )
  return fine ? (points as number[][]) : null
}

function facts(properties: Properties): Partial<Pick<Outline, 'name' | 'colour' | 'smooth' | 'width'>> {
  const { name, colour, width } = properties
  return {
    ...(typeof name === 'string' && name.trim() !== '' ? { name: name.trim().slice(0, 120) } : {}),
    ...(typeof colour === 'string' && /^#[0-9a-f]{6}$/.test(colour) ? { colour } : {}),
    ...(ownPoints(properties) ? { smooth: true } : {}),
    ...(typeof width === 'number' && width >= 0 && width <= 1000 ? { width } : {}),
  }
}
