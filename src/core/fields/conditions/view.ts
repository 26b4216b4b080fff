import type { GroundBlock } from '../../grounds/blocks.ts'
import { heightAt } from '../../grounds/terrain.ts'
import type { Terrain } from '../../grounds/terrain.ts'
import { angle, flag, length, number, ref } from '../../kinds.ts'
import { cos, DEGREE, sin } from '../../math/portable.ts'
import { thingOf } from '../../things/define.ts'
import { VIEW } from '../../things/view.ts'
import type { Bound } from '../bounds.ts'
import { ANYTHING, EVERYTHING, NOTHING } from '../bounds.ts'
import { bounded, defineCondition, metres } from './define.ts'

/** Opening of the picture's own camera from top to bottom, degrees. */
export const VIEW_OPENING = 42

export const view = defineCondition({
  kind: 'view',
  label: 'View',
  subject: 'things',
  help: 'Takes only what a saved view sees, with a margin around, so that nothing is spent out of shot.',
  dear: true,
  params: {
    view: ref('view', { label: 'View', help: 'Which saved view; keep one in the drawer Views.' }),
    margin: angle(4, { label: 'Margin', help: 'How much wider than the picture on every side.', max: 60 }),
    farthest: length(2000, { label: 'Farthest', help: 'Beyond this distance from the eye nothing grows.', min: 1, max: 100000, step: 10 }),
    wide: number('factor', 1.6, { label: 'Width to height', help: 'Of the picture that is taken from there.', min: 0.2, max: 6, step: 0.1 }),
    hidden: flag(false, { label: 'Hidden ground too', help: 'Whether ground behind hills, out of sight, is taken as well.' }),
  },
  sentence: () => ['where ', { param: 'view' }, ' sees it'],
  prepare(p, { things, terrain }) {
    const found = thingOf(things, VIEW, p.view)
    if (!found) return () => undefined
    const frame = frameOf(found.position, found.target, p)
    const sees = seer(frame, p, terrain)
    return bounded(
      ({ x, y, z, weight, count }) => {
        for (let i = 0; i < count; i++) if (weight[i] > 0 && !sees(x[i], y[i], z[i]).seen) weight[i] = 0
      },
      (block) => seenOf(block, frame, p),
    )
  },
  explain(p, { things, terrain }, { x, y, z }) {
    const found = thingOf(things, VIEW, p.view)
    if (!found) return 'no view is chosen'
    const { seen, away, why } = seer(frameOf(found.position, found.target, p), p, terrain)(x, y, z)
    return seen ? `seen by “${found.name}” from ${metres(away)}` : `${why} of “${found.name}”, ${metres(away)} off`
  },
})

interface Sight {
  seen: boolean
  /** Distance from the eye, m. */
  away: number
  why: string
}

/** Steps along a line of sight that are looked at for hills in between. */
const LOOKS = 48

/** A camera's eye and axes, and how far the sides of its widened pyramid lean out; without end from a right angle on. */
interface Frame {
  readonly eye: Vector
  readonly ahead: Vector
  readonly right: Vector
  readonly up: Vector
  readonly high: number
  readonly broad: number
}

type Vector = readonly [number, number, number]

function frameOf(eye: Vector, target: Vector, { margin, wide }: { readonly margin: number; readonly wide: number }): Frame {
  const ahead = unit(target[0] - eye[0], target[1] - eye[1], target[2] - eye[2])
  const [fx, fy, fz] = ahead
  // Right and up of the picture; a view straight down has north at its top.
  const right = Math.abs(fy) > 0.999999 ? ([1, 0, 0] as const) : unit(-fz, 0, fx)
  const [rx, ry, rz] = right
  const half = (VIEW_OPENING / 2) * DEGREE
  const tall = sin(half) / cos(half)
  return {
    eye,
    ahead,
    right,
    up: [ry * fz - rz * fy, rz * fx - rx * fz, rx * fy - ry * fx],
    high: halfSlope(tall, margin),
    broad: halfSlope(tall * wide, margin),
  }
}

/** What of a block a camera sees: nothing where all of it lies beyond a side of the pyramid or too far off, all where none of it does and hills do not count. */
function seenOf(block: GroundBlock, { eye, ahead, right, up, high, broad }: Frame, { farthest, hidden }: { readonly farthest: number; readonly hidden: boolean }): Bound {
  const heights = block.heights()
  const from = [block.x0 - eye[0], heights.low - eye[1], block.z0 - eye[2]]
  const to = [block.x1 - eye[0], heights.high - eye[1], block.z1 - eye[2]]
  const size = [...from, ...to].reduce((most, value) => Math.max(most, Math.abs(value)), 0)
  let all = true
  // Sides of the pyramid, as vectors that point out of it: what lies along them is out of the frame.
  const sides = [ahead.map((a) => -a)]
  for (const [axis, slope] of [[right, broad], [up, high]] as const)
    if (slope < Infinity) for (const sign of [1, -1]) sides.push(axis.map((a, c) => sign * a - slope * ahead[c]))
  for (const side of sides) {
    const slack = 1e-9 * size * (1 + side.reduce((sum, value) => sum + Math.abs(value), 0))
    const [low, most] = [0, 1].map((end) => side.reduce((sum, value, c) => sum + value * (value > 0 === (end === 1) ? to[c] : from[c]), 0))
    if (low > slack) return NOTHING
    if (most >= -slack) all = false
  }
  let [near, far] = [0, 0]
  for (let c = 0; c < 3; c++) {
    near += Math.max(0, from[c], -to[c]) ** 2
    far += Math.max(-from[c], to[c]) ** 2
  }
  if (near > farthest * farthest * (1 + 1e-9)) return NOTHING
  return all && hidden && far < farthest * farthest * (1 - 1e-9) ? EVERYTHING : ANYTHING
}

/** Tells whether a camera sees a place: inside the widened pyramid, near enough, and not behind a hill. */
function seer(
  { eye, ahead: [fx, fy, fz], right: [rx, ry, rz], up: [ux, uy, uz], high, broad }: Frame,
  { farthest, hidden }: { readonly farthest: number; readonly hidden: boolean },
  terrain: Terrain,
): (x: number, y: number, z: number) => Sight {
  const sight: Sight = { seen: false, away: 0, why: '' }
  return (x, y, z) => {
    const dx = x - eye[0]
    const dy = y - eye[1]
    const dz = z - eye[2]
    const ahead = dx * fx + dy * fy + dz * fz
    const across = Math.abs(dx * rx + dy * ry + dz * rz)
    const along = Math.abs(dx * ux + dy * uy + dz * uz)
    sight.away = Math.sqrt(dx * dx + dy * dy + dz * dz)
    const inside = ahead > 0 && across <= ahead * broad && along <= ahead * high
    const near = sight.away <= farthest
    const free = hidden || !inside || !near || !covered(terrain, eye, dx, dy, dz)
    sight.seen = inside && near && free
    sight.why = !inside ? 'out of the frame' : !near ? 'beyond the reach' : free ? '' : 'behind a hill, out of sight'
    return sight
  }
}

/** Slope of a half opening widened by a margin in degrees; without end from a right angle on. */
function halfSlope(slope: number, margin: number): number {
  const c = cos(margin * DEGREE)
  const s = sin(margin * DEGREE)
  // tan(a + m) from tan a.
  const below = c - slope * s
  return below > 1e-6 ? (slope * c + s) / below : Infinity
}

/** Whether ground rises over the line from the eye to a place; things stand a little above it. */
function covered(terrain: Terrain, eye: readonly number[], dx: number, dy: number, dz: number): boolean {
  const { x0, z0, x1, z1 } = terrain.bounds
  for (let k = 1; k < LOOKS; k++) {
    // Closer together near the place than near the eye, where most hiding rims are.
    const t = 1 - ((LOOKS - k) / LOOKS) ** 2
    const x = eye[0] + dx * t
    const z = eye[2] + dz * t
    if (x < x0 || x > x1 || z < z0 || z > z1) continue
    if (heightAt(terrain, x, z) > eye[1] + dy * t + 0.5) return true
  }
  return false
}

function unit(x: number, y: number, z: number): [number, number, number] {
  const length = Math.sqrt(x * x + y * y + z * z) || 1
  return [x / length, y / length, z / length]
}
