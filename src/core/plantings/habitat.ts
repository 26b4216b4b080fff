import { CONDITIONS } from '../conditions/index.ts'
import type { Sites } from '../columns.ts'
import { createSites, dropRefused } from '../columns.ts'
import type { Rect, Terrain } from '../ground/terrain.ts'
import { landHeights } from '../ground/terrain.ts'
import { hashText, mix } from '../math/random.ts'
import type { ConditionUse, Outline } from '../meadow.ts'

/** Lands sites on the ground and weighs them under all conditions; drops some of weight 0, not all. */
export type Habitat = (sites: Sites) => void

/** Prepares the conditions of a planting; all that are switched on must hold (weights multiply). */
export function prepareHabitat(
  uses: readonly ConditionUse[],
  terrain: Terrain,
  waterLevel: number,
  outlines: readonly Outline[],
  seed: number,
): Habitat {
  const steps = uses
    .filter((use) => use.on)
    .map((use) => {
      const kind = CONDITIONS.get(use.kind)
      const context = { terrain, waterLevel, outlines, seed: mix(seed ^ hashText(use.id)) }
      return kind.prepare(use.params, context)
    })
  return (sites) => {
    landHeights(terrain, sites)
    for (const weigh of steps) {
      if (sites.count === 0) return
      weigh(sites)
      if (manyRefused(sites)) dropRefused(sites)
    }
  }
}

/** What one condition says to a place. */
export interface Verdict {
  /** Id of this use of the condition. */
  readonly use: string
  readonly label: string
  /** What it finds there, with its number. */
  readonly finding: string
  /** 0 refuses, 1 accepts, between thins out. */
  readonly weight: number
}

/** The condition that leaves no ground. */
export interface Emptied {
  readonly label: string
  /** Whether it does so by itself, or only after those before it. */
  readonly alone: boolean
}

/** Finds the first condition that leaves no ground at all; null when there is some left. */
export function emptiedBy(
  uses: readonly ConditionUse[],
  terrain: Terrain,
  waterLevel: number,
  outlines: readonly Outline[],
  seed: number,
): Emptied | null {
  const on = uses.filter((use) => use.on)
  const area = (some: readonly ConditionUse[]) =>
    habitatArea(prepareHabitat(some, terrain, waterLevel, outlines, seed), terrain.bounds)
  const alone = on.find((use) => area([use]) === 0)
  if (alone) return { label: CONDITIONS.get(alone.kind).label, alone: true }
  const at = on.findIndex((_, i) => area(on.slice(0, i + 1)) === 0)
  return at < 0 ? null : { label: CONDITIONS.get(on[at].kind).label, alone: false }
}

/** Asks every condition that is switched on about one place of the ground; the one that refuses most comes first. */
export function judgePlace(
  uses: readonly ConditionUse[],
  terrain: Terrain,
  waterLevel: number,
  outlines: readonly Outline[],
  seed: number,
  x: number,
  z: number,
): Verdict[] {
  const verdicts = uses
    .filter((use) => use.on)
    .map((use) => {
      const kind = CONDITIONS.get(use.kind)
      const context = { terrain, waterLevel, outlines, seed: mix(seed ^ hashText(use.id)) }
      const site = createSites(1)
      site.x[0] = x
      site.z[0] = z
      site.weight[0] = 1
      site.count = 1
      landHeights(terrain, site)
      const place = { x, y: site.y[0], z }
      kind.prepare(use.params, context)(site)
      return { use: use.id, label: kind.label, finding: kind.explain(use.params, context, place), weight: site.weight[0] }
    })
  return verdicts.sort((a, b) => a.weight - b.weight)
}

/** Whether so many sites have lost all weight that moving the others together pays. */
function manyRefused({ weight, count }: Sites): boolean {
  let refused = 0
  for (let i = 0; i < count; i++) if (!(weight[i] > 0)) refused++
  return refused > count >> 2
}

const PROBES = 16384
const probes = createSites(PROBES)

/** ∫ weight dA over the whole ground, m², by the R2 low-discrepancy sequence. */
export function habitatArea(habitat: Habitat, bounds: Rect): number {
  const sites = probes
  const width = bounds.x1 - bounds.x0
  const depth = bounds.z1 - bounds.z0
  for (let i = 0; i < PROBES; i++) {
    sites.x[i] = bounds.x0 + ((0.5 + i * 0.7548776662466927) % 1) * width
    sites.z[i] = bounds.z0 + ((0.5 + i * 0.5698402909980532) % 1) * depth
    sites.weight[i] = 1
  }
  sites.count = PROBES
  habitat(sites)
  let sum = 0
  for (let i = 0; i < sites.count; i++) sum += sites.weight[i]
  return (sum / PROBES) * width * depth
}
