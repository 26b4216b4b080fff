import type { Reading } from '../fields/drivers/drive.ts'
import { readDrivers } from '../fields/drivers/drive.ts'
import type { Place, Sight } from '../grounds/ground.ts'
import { groundsOf } from '../grounds/index.ts'
import type { Planting } from '../meadow.ts'
import type { Around, Surroundings } from '../surroundings.ts'
import type { Verdict } from '../stages/habitat.ts'
import { judgePlace, siteAt } from '../stages/habitat.ts'
import { PLANTINGS } from './index.ts'

/** Why here, why not here: what all that a planting goes by says to one place. */
export interface Answer {
  /** The ground that the place lies on. */
  readonly ground: string
  readonly place: Place
  readonly verdicts: readonly Verdict[]
  readonly readings: readonly Reading[]
  /** Why nothing comes there, whatever the conditions say; null when something can. */
  readonly barred: string | null
}

/** A place and the ground that it lies on. */
export type Seen = Pick<Answer, 'ground' | 'place'>

/** Where a line of sight first meets what a planting grows on; null when it does not. */
export function placeSeen({ grounds }: Pick<Planting, 'grounds'>, surroundings: Surroundings, sight: Sight): Seen | null {
  const hits = groundsOf(grounds, surroundings).flatMap((ground) => {
    const hit = ground.pick(sight)
    return hit ? [{ ground: ground.id, ...hit }] : []
  })
  return hits.length === 0 ? null : hits.reduce((nearest, hit) => (hit.away < nearest.away ? hit : nearest))
}

/** What a planting's conditions and drivers say to a place. */
export function askPlace(planting: Planting, surroundings: Surroundings, around: Around, { ground, place }: Seen): Answer {
  return {
    ground,
    place,
    verdicts: judgePlace(planting, surroundings, around, place),
    barred: PLANTINGS.get(planting.kind).bars(planting, surroundings, { ground, place }),
    readings: readDrivers(planting.drivers, surroundings, planting.seed >>> 0, siteAt(place), around),
  }
}
