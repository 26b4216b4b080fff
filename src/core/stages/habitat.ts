import { CONDITIONS } from '../fields/conditions/index.ts'
import type { Sites } from '../columns.ts'
import { createSites, dropRefused } from '../columns.ts'
import { siteAt } from './site.ts'
import { ANYTHING, boundOfAny, boundTurned } from '../fields/bounds.ts'
import type { ConditionContext, Weigh } from '../fields/conditions/define.ts'
import { bounded } from '../fields/conditions/define.ts'
import type { Ground, Place } from '../grounds/ground.ts'
import type { Rect } from '../grounds/terrain.ts'
import { refsOf } from '../kinds.ts'
import { hashText, mix } from '../math/random.ts'
import type { ConditionUse, Planting } from '../meadow.ts'
import type { Around, Surroundings } from '../surroundings.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import type { Arena } from './arena.ts'
import { createArena } from './arena.ts'

/** Weighs landed sites under all conditions; drops some of weight 0, not all. */
export interface Habitat {
  (sites: Sites, around: Around, arena: Arena): void
  /** Whether any condition asks for the heights of sites. */
  readonly asksHeights: boolean
  /** What it asks one after the other; the weights multiply. */
  readonly steps: readonly HabitatStep[]
}

/** A condition made ready, or several of which the best counts. */
export interface HabitatStep {
  readonly weigh: Weigh
  readonly asksHeights: boolean
}

/** The conditions of a planting, and how they go together. */
export type HabitatOf = Pick<Planting, 'habitat' | 'combine' | 'seed'>

/** A condition made ready: multiplies weights, the other way round when it is inverted. */
export function prepareUse(use: ConditionUse, surroundings: Surroundings, seed: number): Weigh {
  const { prepare, params } = CONDITIONS.get(use.kind)
  const weigh = prepare(use.params, contextOf(use, surroundings, seed))
  if (!use.invert) return weigh
  const plantings = refsOf(params, use.params).filter(({ to }) => to === 'planting')
  // As long as a planting that it names has not grown, the condition lets everything through, turned round or not.
  const turned = turnedRound(weigh, (around) => plantings.every(({ id }) => around.plantings.has(id)))
  const { bound } = weigh
  return bound ? bounded(turned, (block, around) => boundTurned(bound(block, around))) : turned
}

function contextOf(use: ConditionUse, surroundings: Surroundings, seed: number): ConditionContext {
  return { ...surroundings, seed: mix(seed ^ hashText(use.id)) }
}

/** Takes what another refuses, and the other way round, where it is to be asked. */
export function turnedRound(weigh: Weigh, when: (around: Around) => boolean = () => true): Weigh {
  return (sites, around, arena) => {
    if (!when(around)) return
    const before = lendWeights(sites, arena)
    sites.weight.fill(1, 0, sites.count)
    weigh(sites, around, arena)
    for (let i = 0; i < sites.count; i++) sites.weight[i] = before[i] * (1 - sites.weight[i])
    arena.giveBack()
  }
}

/** The best of several counts. */
export function anyOf(steps: readonly Weigh[]): Weigh {
  const weigh: Weigh = (sites, around, arena) => {
    const before = lendWeights(sites, arena)
    const best = arena.borrow(sites.count).fill(0, 0, sites.count)
    for (const weigh of steps) {
      sites.weight.fill(1, 0, sites.count)
      weigh(sites, around, arena)
      for (let i = 0; i < sites.count; i++) if (sites.weight[i] > best[i]) best[i] = sites.weight[i]
    }
    for (let i = 0; i < sites.count; i++) sites.weight[i] = before[i] * best[i]
    arena.giveBack()
    arena.giveBack()
  }
  return bounded(weigh, (block, around) => boundOfAny(steps.map(({ bound }) => bound?.(block, around) ?? ANYTHING)))
}

/**
 * Prepares the conditions of a planting: all that are switched on must hold (weights multiply), or the best of them
 * counts. Dear ones are asked last, of what the others leave.
 */
export function prepareHabitat({ habitat, combine, seed }: HabitatOf, surroundings: Surroundings): Habitat {
  const on = habitat.filter((use) => use.on).map((use) => ({ use, condition: CONDITIONS.get(use.kind) }))
  const inTurn = [...on.filter(({ condition }) => !condition.dear), ...on.filter(({ condition }) => condition.dear)]
  const each = inTurn.map(({ use, condition }): HabitatStep => ({ weigh: prepareUse(use, surroundings, seed >>> 0), asksHeights: !condition.flat }))
  const asksHeights = each.some((one) => one.asksHeights)
  const steps = combine === 'any' && each.length > 1 ? [{ weigh: anyOf(each.map(({ weigh }) => weigh)), asksHeights }] : each
  return Object.assign((sites: Sites, around: Around, arena: Arena) => weighBy(steps, sites, around, arena), { asksHeights, steps })
}

/** Weighs landed sites by one condition after the other; drops some of weight 0, not all. */
export function weighBy(steps: readonly HabitatStep[], sites: Sites, around: Around, arena: Arena): void {
  for (let k = 0; k < steps.length && sites.count > 0; k++) {
    // What is refused is moved out of the way of conditions to come; who asked drops the rest.
    if (k > 0 && manyRefused(sites)) dropRefused(sites)
    steps[k].weigh(sites, around, arena)
  }
}

/** A copy of the weights in a borrowed column. */
function lendWeights({ weight, count }: Sites, arena: Arena): Float64Array {
  const copy = arena.borrow(count)
  copy.set(weight.subarray(0, count))
  return copy
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

/** Places along a terrain that are asked whether any ground is left. */
const LATTICE = 128

/** Finds the first condition that leaves no ground at all; null when there is some left. */
export function emptiedBy(planting: HabitatOf, surroundings: Surroundings, grounds: readonly Ground[], arena: Arena): Emptied | null {
  const on = planting.habitat.filter((use) => use.on)
  const leavesNothing = (conditions: ConditionUse[]) => {
    const habitat = prepareHabitat({ ...planting, habitat: conditions }, surroundings)
    return grounds.every((ground) => {
      const sites = ground.lattice(LATTICE)
      weighOn(ground, habitat, sites, NOTHING_AROUND, arena)
      return !sites.weight.subarray(0, sites.count).some((weight) => weight > 0)
    })
  }
  if (planting.combine === 'any') return null
  const alone = on.find((use) => leavesNothing([use]))
  if (alone) return { label: CONDITIONS.get(alone.kind).label, alone: true }
  const at = on.findIndex((_, i) => leavesNothing(on.slice(0, i + 1)))
  return at < 0 ? null : { label: CONDITIONS.get(on[at].kind).label, alone: false }
}

/** What should be known of the conditions of a planting; none when all is well. */
export function warningsOf({ habitat, seed }: HabitatOf, surroundings: Surroundings): string[] {
  return habitat
    .filter((use) => use.on)
    .flatMap((use) => CONDITIONS.get(use.kind).warning?.(use.params, contextOf(use, surroundings, seed >>> 0)) ?? [])
}

/** Asks every condition that is switched on about one place; the one that refuses most comes first. */
export function judgePlace({ habitat, seed }: HabitatOf, surroundings: Surroundings, around: Around, place: Place): Verdict[] {
  const arena = createArena()
  const verdicts = habitat
    .filter((use) => use.on)
    .map((use) => {
      const kind = CONDITIONS.get(use.kind)
      const site = siteAt(place)
      prepareUse(use, surroundings, seed >>> 0)(site, around, arena)
      const context = contextOf(use, surroundings, seed >>> 0)
      return { use: use.id, label: kind.label, finding: kind.explain(use.params, context, place, around), weight: site.weight[0] }
    })
  return verdicts.sort((a, b) => a.weight - b.weight)
}

/** Lands sites on a ground and weighs them. */
export function weighOn(ground: Ground, habitat: Habitat, sites: Sites, around: Around, arena: Arena): void {
  ground.land(sites)
  if (habitat.asksHeights) ground.raise(sites)
  habitat(sites, around, arena)
}

/** Whether so many sites have lost all weight that moving the others together pays. */
function manyRefused({ weight, count }: Sites): boolean {
  let refused = 0
  for (let i = 0; i < count; i++) if (!(weight[i] > 0)) refused++
  return refused > count >> 2
}

/** Places at which is told how much is taken, where the number counts, and where about is enough. */
export const PROBES = { exactly: 16384, about: 4096 } as const
const probes = createSites(PROBES.exactly)
/** The R2 low-discrepancy sequence over the unit square: places that tell how much is taken. */
const alongX = Float64Array.from({ length: PROBES.exactly }, (_, i) => (0.5 + i * 0.7548776662466927) % 1)
const alongZ = Float64Array.from({ length: PROBES.exactly }, (_, i) => (0.5 + i * 0.5698402909980532) % 1)

/** ∫ weight dA over a rectangle, m², by so many places all over it; those at which `bears` says no have no weight, and are not asked. */
export function takenArea(weigh: (sites: Sites) => void, { x0, z0, x1, z1 }: Rect, many: number, bears: (x: number, z: number) => boolean = () => true): number {
  const sites = probes
  const width = x1 - x0
  const depth = z1 - z0
  sites.count = 0
  for (let i = 0; i < many; i++) {
    const x = x0 + alongX[i] * width
    const z = z0 + alongZ[i] * depth
    if (!bears(x, z)) continue
    const n = sites.count++
    sites.x[n] = x
    sites.z[n] = z
    sites.weight[n] = 1
    sites.draws[n] = mix(i)
  }
  weigh(sites)
  let sum = 0
  for (let i = 0; i < sites.count; i++) sum += sites.weight[i]
  return (sum / many) * width * depth
}
