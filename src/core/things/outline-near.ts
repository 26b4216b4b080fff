import { hashString, hashWords } from '../content-hash.ts'
import type { Rect } from '../grounds/terrain.ts'
import { mix } from '../math/random.ts'
import type { NumberList } from '../long-list.ts'
import type { Outline } from '../meadow.ts'
import { isClosed, polylines } from '../outlines/outline.ts'
import { meets } from './define.ts'
import { boxOf } from '../outlines/measure.ts'

/** A stretch of an outline's segments: x0 z0 x1 z1 of each, the box around them, and a name of their content. */
interface Stretch {
  readonly segments: Float64Array
  readonly box: Rect
  readonly name: string
}

/** Segments in a stretch: at least about so many in the mean, at most so many. */
const MEAN = 16
const MOST = 64

/** Each outline is cut up once. */
const known = new WeakMap<readonly NumberList[], { readonly of: string; readonly stretches: readonly Stretch[] }>()

/**
 * Names what of an outline lies within reach of a rectangle: the stretches of it that come near, and, for
 * closed ones, whether the rectangle's middle is inside. So a point that is moved concerns only what is near
 * the lines that it moves: everything else is on the same side of the outline, at distances that do not matter.
 */
export function nameNearOutline(outline: Outline, rect: Rect, reach: number): string {
  const stretches = stretchesOf(outline)
  const far = reach + (outline.kind === 'path' ? outline.width / 2 : 0)
  const near = stretches.filter(({ box }) => meets(rect, far, box)).map(({ name }) => name)
  const inside = isClosed(outline) && insideOf(stretches, 0.5 * (rect.x0 + rect.x1), 0.5 * (rect.z0 + rect.z1))
  if (near.length === 0 && !inside) return ''
  return `${outline.id} ${outline.kind} ${outline.width} ${isClosed(outline)} ${inside} ${hashString(near.join(' '))}`
}

function stretchesOf(outline: Outline): readonly Stretch[] {
  const of = `${outline.kind} ${outline.smooth} ${outline.closed}`
  const found = known.get(outline.lines)
  if (found?.of === of) return found.stretches
  const closed = isClosed(outline)
  const stretches = polylines(outline).flatMap((line) => cutUp(segmentsOf(line, closed)))
  known.set(outline.lines, { of, stretches })
  return stretches
}

function segmentsOf(line: readonly number[], closed: boolean): number[] {
  const flat: number[] = []
  for (let i = 0; i + 3 < line.length; i += 2) flat.push(line[i], line[i + 1], line[i + 2], line[i + 3])
  if (closed && line.length > 4) flat.push(line[line.length - 2], line[line.length - 1], line[0], line[1])
  if (line.length === 2) flat.push(line[0], line[1], line[0], line[1])
  return flat
}

/** Cuts a line up where its own points say so, so that a point put in changes the stretches beside it only. */
function cutUp(flat: readonly number[]): Stretch[] {
  const stretches: Stretch[] = []
  let from = 0
  for (let k = 0; k < flat.length; k += 4) {
    const last = k + 4 >= flat.length
    const cut = mix(Math.floor(1024 * flat[k]) ^ mix(Math.floor(1024 * flat[k + 1]))) % MEAN === 0 || k + 4 - from >= 4 * MOST
    if (!last && !cut) continue
    stretches.push(stretchOf(Float64Array.from(flat.slice(from, k + 4))))
    from = k + 4
  }
  return stretches
}

function stretchOf(segments: Float64Array): Stretch {
  const [x0, z0, x1, z1] = boxOf(segments)
  return { segments, box: { x0, z0, x1, z1 }, name: hashWords(new Uint32Array(segments.buffer)) }
}

/** The even–odd rule, along a ray towards +X. */
function insideOf(stretches: readonly Stretch[], x: number, z: number): boolean {
  let inside = false
  for (const { segments, box } of stretches) {
    if (box.z0 > z || box.z1 < z || box.x1 < x) continue
    for (let k = 0; k < segments.length; k += 4) {
      const [ax, az, bx, bz] = [segments[k], segments[k + 1], segments[k + 2], segments[k + 3]]
      if (az <= z === bz <= z) continue
      if (x < ax + ((z - az) / (bz - az)) * (bx - ax)) inside = !inside
    }
  }
  return inside
}
