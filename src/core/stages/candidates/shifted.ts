import type { Sites } from '../../columns.ts'
import { moveSite } from '../../columns.ts'
import { widened } from '../../grounds/terrain.ts'
import type { Span } from '../../kinds.ts'
import { cos, DEGREE, sin } from '../../math/portable.ts'
import { CHANNEL, drawBetween } from '../../math/random.ts'
import { closed } from '../../stance/stance.ts'
import type { CandidateSource } from './plan.ts'

/** What shifts are told by: from–to along an instance's own axes, m, and its turn, degrees. */
export interface ShiftValues {
  readonly eastBy: Span
  readonly southBy: Span
  readonly turn: Span
}

/** Shifts of instances off the places that they were thrown to. */
export interface Shifts {
  /** None is shifted farther, m. */
  readonly most: number
  /** Writes the shift of a draw key in plan, m: east, south. */
  write(key: number, out: Float64Array): void
}

/** How far shifts go at most, m, whichever way things are turned. */
export function farthestShift({ eastBy, southBy }: Pick<ShiftValues, 'eastBy' | 'southBy'>): number {
  const [east, south] = [eastBy, southBy].map((one) => closed(one).reduce((most, end) => Math.max(most, Math.abs(end)), 0))
  return Math.sqrt(east * east + south * south)
}

/** Shifts along own axes, which are those of an instance's own turn, before any driver turns it on; null where none is shifted. */
export function shiftsOf(values: ShiftValues): Shifts | null {
  const most = farthestShift(values)
  if (most === 0) return null
  const [east, south, turn] = [closed(values.eastBy), closed(values.southBy), closed(values.turn)]
  return {
    most,
    write(key, out) {
      const angle = drawBetween(key, CHANNEL.turn, turn) * DEGREE
      const [c, s] = [cos(angle), sin(angle)]
      const [along, ahead] = [drawBetween(key, CHANNEL.eastBy, east), drawBetween(key, CHANNEL.southBy, south)]
      // A turn goes from south towards east.
      out[0] = c * along + s * ahead
      out[1] = c * ahead - s * along
    },
  }
}

/** The same candidates, each shifted: wherever the plane is cut up, all that come to lie in a rectangle are found. */
export function shiftedSource(source: CandidateSource, values: ShiftValues): CandidateSource {
  const shifts = shiftsOf(values)
  if (!shifts) return source
  const { most } = shifts
  const { bears } = source
  const by = new Float64Array(2)
  return {
    ...source,
    spacing: Math.max(0, source.spacing - 2 * most),
    reach: source.reach + most,
    ...(bears && { bears: (rect) => bears(widened(rect, most)) }),
    fill(rect, sites, below) {
      const from = sites.count
      source.fill(widened(rect, most), sites, below)
      let kept = from
      for (let i = from; i < sites.count; i++) {
        shiftSite(sites, i, shifts, by)
        const [x, z] = [sites.x[i], sites.z[i]]
        if (x >= rect.x0 && x < rect.x1 && z >= rect.z0 && z < rect.z1) moveSite(sites, i, kept++)
      }
      sites.count = kept
    },
  }
}

function shiftSite({ x, z, draws }: Sites, i: number, { write }: Shifts, by: Float64Array): void {
  write(draws[i], by)
  x[i] += by[0]
  z[i] += by[1]
}
