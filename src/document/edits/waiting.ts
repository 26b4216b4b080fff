import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { DRIVERS } from '../../core/fields/drivers/index.ts'
import type { ParamSet, ParamValue } from '../../core/kinds.ts'
import { isShown } from '../../core/kinds.ts'
import type { Meadow, Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { refKind } from '../../core/things/index.ts'

/** Conditions and drivers that name nothing yet: they wait for a thing of their sort, and take the next that is made. */

interface Use {
  readonly label: string
  readonly on: boolean
  readonly specs: ParamSet
  readonly params: Record<string, ParamValue>
}

function usesOf({ habitat, mix, drivers }: Planting): Use[] {
  const conditions = [...habitat, ...mix.flatMap(({ where }) => where ?? [])].map(({ kind, on, params }) => ({ label: CONDITIONS.get(kind).label, on, specs: CONDITIONS.get(kind).params, params }))
  return [...conditions, ...drivers.map(({ kind, on, params }) => ({ label: DRIVERS.get(kind).label, on, specs: DRIVERS.get(kind).params, params }))]
}

/** Lets all that waits for a thing of this one's sort take it; what is locked waits on. To be called on a draft, in the edit that makes the thing. */
export function giveToWaiting(meadow: Meadow, id: string): void {
  const sorts = new Map<string, boolean>()
  const isOf = (to: string) => {
    const known = sorts.get(to) ?? refKind(to).of(meadow).some((one) => one.id === id)
    sorts.set(to, known)
    return known
  }
  for (const planting of meadow.plantings) {
    if (planting.locked) continue
    if (PLANTINGS.get(planting.kind).within && planting.along.length === 0 && isOf('patch')) planting.along.push(id)
    for (const { specs, params } of usesOf(planting))
      for (const [key, param] of Object.entries(specs)) if (param.type === 'ref' && params[key] === '' && isOf(param.to)) params[key] = id
  }
}

/** What a planting's first condition or driver that names nothing waits for, in a sentence; null when none does. */
export function whatWaits(planting: Planting): string | null {
  for (const { label, on, specs, params } of usesOf(planting))
    for (const [key, param] of Object.entries(specs))
      if (on && param.type === 'ref' && params[key] === '' && isShown(param, params))
        return `“${label}” names ${refKind(param.to).word.replace(/^an? /, 'no ')} yet, so it changes nothing; make one, and it is taken.`
  return null
}
