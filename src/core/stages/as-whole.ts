import type { Ground } from '../grounds/ground.ts'
import type { Naming } from '../identity.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import type { Arena } from './arena.ts'
import { clearSites } from './arena.ts'
import { holdByHand, roomsOfHeld, withHeld } from './by-hand.ts'
import type { PlotOver, PreparedPlot } from './plot.ts'
import { looksAtRooms } from './plot.ts'
import { settleThroughSpace } from './rooms-in-space.ts'

/** Candidates all over a ground. */
export interface WholeSource {
  /** Candidates per m². */
  readonly density: number
  /** Enters all candidates as sites of the arena, with normals of their own; tells the limit of their ranks. */
  fill(arena: Arena): number
}

/** A plot on a ground of any form: grown in one go, rooms settled straight through space. */
export function plotAsWhole(ground: Ground, source: WholeSource, naming: Naming, over: PlotOver): PreparedPlot {
  const { stages, before } = over
  const { arena, largestRoom, ranks } = stages
  const looks = looksAtRooms(over)
  return {
    ground: ground.id,
    bounds: ground.bounds,
    tileSide: 0,
    tiles: [],
    reach: looks ? largestRoom : 0,
    density: source.density,
    candidates: `${over.density} ${over.meant}`,
    grow(_tile, near, part, keyScale) {
      clearSites(arena)
      const limit = source.fill(arena)
      const chosen = stages.choose(ground, before, { limit, part, keyScale }, near?.around ?? NOTHING_AROUND)
      const others = looks && near ? [...near.rooms, ...near.elsewhere] : []
      if (!near?.hand) return { block: stages.stand(settleThroughSpace(arena, others, largestRoom, ranks), naming, chosen) }
      // All of it grows in one go, so that nothing is moved in from outside.
      const held = holdByHand({ hand: near.hand, moved: new Map(), tile: null }, stages, naming, chosen)
      const stay = settleThroughSpace(arena, [...others, roomsOfHeld(held)], largestRoom, ranks, held.taken)
      return { block: withHeld(stages.stand(stay, naming, chosen), held, null), missing: held.missing }
    },
  }
}
