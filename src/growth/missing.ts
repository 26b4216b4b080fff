import { CONDITIONS } from '../core/fields/conditions/index.ts'
import { DRIVERS } from '../core/fields/drivers/index.ts'
import { namedBy } from '../core/grow.ts'
import type { RefTarget } from '../core/kinds.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { ProblemError } from '../document/problem.ts'

const WORDS: Readonly<Record<RefTarget, string>> = {
  patch: 'a patch',
  path: 'a path',
  planting: 'a planting',
  image: 'an image',
  beacon: 'a beacon',
  view: 'a view',
  mesh: 'a mesh',
}

/** Throws a sentence when a planting names something that is gone or cannot be asked yet, or a formula is wrong. */
export function sayMissing(meadow: Meadow, planting: Planting): void {
  const { outlines, images, beacons, views, meshes, plantings } = meadow
  const there = new Set([...outlines, ...images, ...beacons, ...views, ...meshes, ...plantings].map(({ id }) => id))
  const at = plantings.findIndex(({ id }) => id === planting.id)
  for (const { to, id, by } of namedBy(planting)) {
    if (!there.has(id))
      throw new ProblemError(
        `Its ${by} names ${WORDS[to]} that is gone; choose another one there, switch it off, or take the removal back. What grew before still stands.`,
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
  for (const use of planting.drivers) if (use.on) refuse(DRIVERS.get(use.kind).problem?.(use.params))
}

function refuse(problem: string | null | undefined): void {
  if (problem) throw new ProblemError(`${problem} What grew before still stands.`)
}
