import { metresPerDegree, toPlan } from '../core/grounds/georeference.ts'
import type { GeoReference, TerrainGround } from '../core/meadow.ts'
import { LIMITS } from '../core/limits.ts'
import { ProblemError } from '../document/problem.ts'
import type { ReadOutline, ReadOutlines } from './outline-format.ts'

/** Ways in which coordinates of a file become places on the ground. */
export const PLACINGS = ['numbers', 'reference', 'middle', 'degrees'] as const
export type Placing = (typeof PLACINGS)[number]

type Ground = Pick<TerrainGround, 'sizeX' | 'sizeZ' | 'georeference'>

interface Box {
  readonly x0: number
  readonly y0: number
  readonly x1: number
  readonly y1: number
}

/** The box of all points as the file has them, y to the north. */
export function boundsOf(outlines: readonly Pick<ReadOutline, 'lines'>[]): Box {
  const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity }
  for (const { lines } of outlines)
    for (const line of lines)
      for (let i = 0; i < line.length; i += 2) {
        box.x0 = Math.min(box.x0, line[i])
        box.x1 = Math.max(box.x1, line[i])
        box.y0 = Math.min(box.y0, -line[i + 1])
        box.y1 = Math.max(box.y1, -line[i + 1])
      }
  return box
}

/** Longitudes and latitudes, the common system of GeoJSON. */
const GLOBE = new Set(['EPSG:4326', 'EPSG:4258', 'EPSG:4269'])

export function couldBeDegrees({ x0, y0, x1, y1 }: Box): boolean {
  return x0 >= -180 && x1 <= 180 && y0 >= -90 && y1 <= 90
}

/** How to place what a file holds, where that is beyond doubt; null where the person must be asked. */
export function placingOf({ outlines, coordinates }: ReadOutlines, ground: Ground): Placing | null {
  if (coordinates.of === 'middle') return onGround(outlines, 'numbers', ground) ? 'numbers' : null
  const reference = ground.georeference
  const meets = reference !== null && onGround(outlines, 'reference', ground)
  if (coordinates.of === 'system') return meets && sameSystem(coordinates.system, reference) ? 'reference' : null
  const near = onGround(outlines, 'numbers', ground)
  return meets && !near ? 'reference' : near && !meets ? 'numbers' : null
}

function sameSystem(system: string, { system: own, degrees }: GeoReference): boolean {
  return own === system || own === '' || (degrees && GLOBE.has(system) && GLOBE.has(own))
}

/** Whether any of the outlines would come to lie over the ground. */
export function onGround(outlines: readonly ReadOutline[], placing: Placing, ground: Ground): boolean {
  const place = placerOf(outlines, placing, ground)
  if (!place) return false
  return outlines.some(({ lines }) =>
    lines.some((line) => line.some((_, i) => {
      if (i % 2 !== 0) return false
      const [x, z] = place(line[i], -line[i + 1])
      return Math.abs(x) <= ground.sizeX / 2 && Math.abs(z) <= ground.sizeZ / 2
    })),
  )
}

type Place = (x: number, y: number) => readonly [number, number]

/** Plan positions of the coordinates of a file; null where the placing is none for this ground and file. */
function placerOf(outlines: readonly ReadOutline[], placing: Placing, { georeference }: Ground): Place | null {
  if (placing === 'numbers') return (x, y) => [x, -y]
  if (placing === 'reference') return georeference && ((x, y) => toPlan(georeference, x, y))
  const { x0, y0, x1, y1 } = boundsOf(outlines)
  const [cx, cy] = [(x0 + x1) / 2, (y0 + y1) / 2]
  if (placing === 'middle') return (x, y) => [x - cx, cy - y]
  if (!couldBeDegrees({ x0, y0, x1, y1 })) return null
  const per = metresPerDegree(cy)
  return (x, y) => [(x - cx) * per.x, (cy - y) * per.y]
}

/** The outlines with their points in plan, m. Throws ProblemError when one would lie beyond what a meadow reaches. */
export function placeOutlines(outlines: readonly ReadOutline[], placing: Placing, ground: Ground, name: string): ReadOutline[] {
  const place = placerOf(outlines, placing, ground)
  if (!place) throw new ProblemError(`The outlines of “${name}” cannot be placed so; choose another way.`)
  return outlines.map((outline, i) => ({
    ...outline,
    lines: outline.lines.map((line) => {
      const out: number[] = []
      for (let k = 0; k < line.length; k += 2) {
        const [x, z] = place(line[k], -line[k + 1])
        if (!(Math.abs(x) <= LIMITS.place && Math.abs(z) <= LIMITS.place))
          throw new ProblemError(`In “${name}”, ${outline.name ? `the outline “${outline.name}”` : `outline ${i + 1}`} would lie more than ${LIMITS.place / 1000} km from the middle of the ground; place it in the middle instead.`)
        out.push(x === 0 ? 0 : x, z === 0 ? 0 : z)
      }
      return out
    }),
  }))
}
