import { heightAt } from '../../grounds/terrain.ts'
import type { Terrain } from '../../grounds/terrain.ts'
import { angle, flag, length, number, ref } from '../../kinds.ts'
import { cos, DEGREE, sin } from '../../math/portable.ts'
import { thingOf } from '../../things/define.ts'
import { VIEW } from '../../things/view.ts'
import { defineCondition, metres } from './define.ts'

/** Opening of the picture's own camera from top to bottom, degrees. */
export const VIEW_OPENING = 42

export const view = defineCondition({
  kind: 'view',
  label: 'View',
  help: 'Takes only what a saved view sees, with a margin around, so that nothing is spent out of shot.',
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
    const sees = seer(found.position, found.target, p, terrain)
    return ({ x, y, z, weight, count }) => {
      for (let i = 0; i < count; i++) if (weight[i] > 0 && !sees(x[i], y[i], z[i]).seen) weight[i] = 0
    }
  },
  explain(p, { things, terrain }, { x, y, z }) {
    const found = thingOf(things, VIEW, p.view)
    if (!found) return 'no view is chosen'
    const { seen, away, why } = seer(found.position, found.target, p, terrain)(x, y, z)
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

/** Tells whether a camera sees a place: inside the widened pyramid, near enough, and not behind a hill. */
function seer(
  eye: readonly number[],
  target: readonly number[],
  { margin, farthest, wide, hidden }: { margin: number; farthest: number; wide: number; hidden: boolean },
  terrain: Terrain,
): (x: number, y: number, z: number) => Sight {
  const [fx, fy, fz] = unit(target[0] - eye[0], target[1] - eye[1], target[2] - eye[2])
  // Right and up of the picture; a view straight down has north at its top.
  const [rx, ry, rz] = Math.abs(fy) > 0.999999 ? [1, 0, 0] : unit(-fz, 0, fx)
  const [ux, uy, uz] = [ry * fz - rz * fy, rz * fx - rx * fz, rx * fy - ry * fx]
  const half = (VIEW_OPENING / 2) * DEGREE
  const tall = sin(half) / cos(half)
  const high = halfSlope(tall, margin)
  const broad = halfSlope(tall * wide, margin)
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
