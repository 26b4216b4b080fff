import type { Meadow } from '../core/meadow.ts'

/** The plantings that name a thing of the meadow: in a condition, a preference, a driver, or as a ground. */
export function plantingsNaming({ plantings }: Pick<Meadow, 'plantings'>, id: string): Meadow['plantings'] {
  return plantings.filter(({ habitat, mix, drivers, grounds, along, base }) => {
    const uses = [...habitat, ...mix.flatMap(({ where }) => where ?? []), ...drivers]
    return grounds.includes(id) || along.includes(id) || base?.host === id || uses.some(({ params }) => Object.values(params).includes(id))
  })
}
