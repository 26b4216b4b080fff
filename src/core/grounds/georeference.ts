import { cos, DEGREE, sin } from '../math/portable.ts'
import type { GeoReference } from '../meadow.ts'

/** The radii of the earth's ellipsoid (WGS 84): half its long axis, m, and its squared eccentricity. */
const HALF_AXIS = 6378137
const ECCENTRICITY2 = 0.00669437999014

/** Metres to a degree of longitude and of latitude at a latitude, degrees: radii of the ellipsoid's parallel and meridian. */
export function metresPerDegree(latitude: number): { readonly x: number; readonly y: number } {
  const phi = latitude * DEGREE
  const sine = sin(phi)
  const bulge = 1 - ECCENTRICITY2 * sine * sine
  const root = Math.sqrt(bulge)
  return {
    x: (DEGREE * HALF_AXIS * cos(phi)) / root,
    y: (DEGREE * HALF_AXIS * (1 - ECCENTRICITY2)) / (bulge * root),
  }
}

/** A reference laid out in degrees about a middle: local equirectangular at its latitude. */
export function degreeReference(longitude: number, latitude: number, system = ''): GeoReference {
  const per = metresPerDegree(latitude)
  return { system, degrees: true, x: longitude, y: latitude, metresX: per.x, metresY: per.y }
}

/** Plan position, m, of coordinates of a reference: x to the east and z to the south of the ground's middle. */
export function toPlan(reference: GeoReference, x: number, y: number): readonly [number, number] {
  return [(x - reference.x) * reference.metresX, (reference.y - y) * reference.metresY]
}
