import { CONDITIONS } from '../core/fields/conditions/index.ts'
import { DRIVERS } from '../core/fields/drivers/index.ts'
import { namedBy } from '../core/grow.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { assetsById, losesParts } from '../core/posy/posy.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { refKind } from '../core/things/index.ts'
import { ProblemError } from '../document/problem.ts'

/** Throws a sentence when a planting names something that is gone or cannot be asked yet, or a formula is wrong. */
export function sayMissing(meadow: Meadow, planting: Planting): void {
  const { plantings } = meadow
  const at = plantings.findIndex(({ id }) => id === planting.id)
  for (const { to, id, by } of namedBy(planting)) {
    if (!refKind(to).of(meadow).some((one) => one.id === id))
      throw new ProblemError(
        `Its ${by} names ${refKind(to).word} that is gone; choose another one there, switch it off, or undo the removal. What grew before still stands.`,
      )
    const place = to === 'planting' ? plantings.findIndex((one) => one.id === id) : -1
    if (place === at && place >= 0)
      throw new ProblemError(`Its ${by} names this planting itself; choose another one there. What grew before still stands.`)
    if (place > at) {
      const other = plantings[place]
      const back = namedBy(other).some((one) => one.to === 'planting' && one.id === planting.id)
      throw new ProblemError(
        back
          ? `Its ${by} names “${other.name}”, which in turn waits for this one: a circle; switch one of the two off. What grew before still stands.`
          : `Its ${by} names “${other.name}”, which grows after it; move “${other.name}” above it in the list. What grew before still stands.`,
      )
    }
  }
  const uses = [...planting.habitat, ...planting.mix.flatMap(({ where }) => where ?? [])].filter(({ on }) => on)
  for (const use of uses) refuse(CONDITIONS.get(use.kind).problem?.(use.params))
  refuse(PLANTINGS.get(planting.kind).problem(planting, meadow.outlines))
  for (const use of planting.drivers) if (use.on) refuse(DRIVERS.get(use.kind).problem?.(use.params))
}

/** What is to be known of a planting whose mix has posies with parts whose asset is gone; null where none has. */
export function lostParts({ assets }: Pick<Meadow, 'assets'>, { mix }: Planting): string | null {
  const byId = assetsById(assets)
  const lost = mix.flatMap((entry) => byId.get(entry.asset) ?? []).find((asset) => losesParts(asset, byId))
  return lost ? `“${lost.name}” has parts whose asset is gone: they do not stand. Open it from the shelf and swap or take them out, or bring the asset back.` : null
}

function refuse(problem: string | null | undefined): void {
  if (problem) throw new ProblemError(`${problem} What grew before still stands.`)
}
