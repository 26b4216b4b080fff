import { NO_STROKES } from '../fields/coverage.ts'
import { coverageWords } from '../fields/conditions/painted.ts'
import type { Reading } from '../fields/drivers/drive.ts'
import { readDrivers } from '../fields/drivers/drive.ts'
import type { Place, Sight } from '../grounds/ground.ts'
import { groundsOf } from '../grounds/index.ts'
import type { Planting } from '../meadow.ts'
import type { Around, Surroundings } from '../surroundings.ts'
import type { Verdict } from '../stages/habitat.ts'
import { judgePlace } from '../stages/habitat.ts'
import { siteAt } from '../stages/site.ts'
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

/** What the planting's own strokes say to a place; nothing where it has none and needs none. */
function paintedVerdict({ id, kind }: Planting, { painted }: Around, place: Place): Verdict[] {
  const { base } = PLANTINGS.get(kind)
  const strokes = painted?.get(id)
  if (!strokes && base === 1) return []
  const weight = (strokes ?? NO_STROKES).at(siteAt(place), 0, base, -1)
  return [{ use: STROKES, label: 'Strokes of the brush', finding: coverageWords(weight, base), weight }]
}

/** What a verdict of a planting's own strokes is told by; no condition has such an id. */
export const STROKES = 'strokes'

/** What a planting's conditions and drivers say to a place. */
export function askPlace(planting: Planting, surroundings: Surroundings, around: Around, { ground, place }: Seen): Answer {
  return {
    ground,
    place,
    verdicts: [...paintedVerdict(planting, around, place), ...judgePlace(planting, surroundings, around, place)].sort((a, b) => a.weight - b.weight),
    barred: PLANTINGS.get(planting.kind).bars(planting, surroundings, { ground, place }),
    readings: readDrivers(planting.drivers, surroundings, planting.seed >>> 0, siteAt(place), around),
  }
}
