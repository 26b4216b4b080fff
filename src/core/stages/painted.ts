import { ANYTHING } from '../fields/bounds.ts'
import type { Coverage } from '../fields/coverage.ts'
import { bounded } from '../fields/conditions/define.ts'
import { moveNormal } from '../columns.ts'
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

/** The strokes of a planting near a tile; null as long as they are not known, undefined where there are none. */
function strokesOf({ painted }: Around, planting: string): Coverage | null | undefined {
  return painted && painted.get(planting)
}

/** Weighs by a planting's own strokes, as far as they act on all of its assets. */
export function paintedStep({ planting, base }: Painted): HabitatStep {
  return {
    asksHeights: false,
    weigh: bounded(
      (sites, around) => {
        const strokes = strokesOf(around, planting)
        if (strokes) strokes.weigh(sites, base)
        else if (strokes === undefined && base < 1) for (let i = 0; i < sites.count; i++) sites.weight[i] *= base
      },
      (block, around) => {
        const strokes = strokesOf(around, planting)
        if (strokes === null && base < 1) return ANYTHING
        return strokes ? strokes.bound(block, base) : { low: base, high: base }
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
    for (const column of ['x', 'y', 'z', 'rank', 'weight', 'addressLow', 'addressHigh', 'draws'] as const) sites[column][kept] = sites[column][i]
    if (sites.normals) moveNormal(sites.normals, i, kept)
    size[kept] = size[i]
    pick[kept] = pick[i]
    key[kept++] = needed
  }
  sites.count = kept
}
