import { ANYTHING } from '../fields/bounds.ts'
import type { Coverage } from '../fields/coverage.ts'
import { NO_STROKES } from '../fields/coverage.ts'
import { bounded } from '../fields/conditions/define.ts'
import { moveSite } from '../columns.ts'
import type { Around } from '../surroundings.ts'
import type { Arena } from './arena.ts'
import type { HabitatStep } from './habitat.ts'
import type { Wanted } from './weigh.ts'

/** How far a planting's own strokes let it grow. */
export interface Painted {
  /** Its id: what is painted is told by it. */
  readonly planting: string
  /** Coverage where there is no stroke: 0 of what is sown by hand, 1 of what grows by rule. */
  readonly base: number
}

/** The strokes of a planting near a tile; null as long as they are not known. */
function strokesOf({ painted }: Around, planting: string): Coverage | null {
  return painted && (painted.get(planting) ?? NO_STROKES)
}

/** Weighs by a planting's own strokes, as far as they act on all of its assets. */
export function paintedStep({ planting, base }: Painted): HabitatStep {
  return {
    asksHeights: false,
    weigh: bounded(
      (sites, around) => strokesOf(around, planting)?.weigh(sites, base),
      (block, around) => {
        const strokes = strokesOf(around, planting)
        // What grows by rule does so as long as nothing is known of strokes.
        return strokes === null && base < 1 ? ANYTHING : (strokes ?? NO_STROKES).bound(block, base)
      },
    ),
  }
}

/** Leaves of the chosen sites those that the strokes for their own asset leave: keys grow as the coverage shrinks. */
export function thinByAsset({ planting, base }: Painted, arena: Arena, assetNumbers: readonly number[], { part, keyScale }: Wanted, around: Around): void {
  const strokes = strokesOf(around, planting)
  if (!strokes?.forSome) return
  const { sites, key, pick, size } = arena
  const below = Math.min(part, keyScale)
  let kept = 0
  for (let i = 0; i < sites.count; i++) {
    // Strokes for some only never sow, so that those for all leave no less.
    const all = strokes.at(sites, i, base, -1)
    const own = strokes.at(sites, i, base, assetNumbers[pick[i]])
    const needed = own > 0 ? (key[i] * all) / own : Infinity
    if (!(needed < below)) continue
    moveSite(arena.sites, i, kept)
    size[kept] = size[i]
    pick[kept] = pick[i]
    key[kept++] = needed
  }
  sites.count = kept
}
