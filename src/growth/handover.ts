import type { Meadow, Planting } from '../core/meadow.ts'
import type { Pool } from '../runner/pool.ts'
import type { Shared } from '../runner/protocol.ts'
import type { Setup } from './setup.ts'
import { setupOf } from './setup.ts'

/**
 * Hands setups and long things to the workers of a pool, each once: a tile's message then only names them.
 * What no planting needs any more is taken back.
 */
export interface Handover {
  /** The setup of a planting that is to grow, in the workers' hands. */
  give(meadow: Meadow, planting: Planting, finer: number): Setup
  /** The same for a question about a planting, which takes nothing back from its growing. */
  giveToAsk(meadow: Meadow, planting: Planting): Setup
  /** Takes back all that these plantings were not given last. */
  keepOnly(plantings: ReadonlySet<string>): void
}

/** How many setups of a planting are kept, the newest among them: what was begun with an earlier one may still be under way. */
const KEPT = { grow: 2, ask: 8 } as const

export function createHandover(pool: Pool): Handover {
  const held = new Set<string>()
  /** Names that each planting was given for growing and for questions, newest first. */
  const given = { grow: new Map<string, string[][]>(), ask: new Map<string, string[][]>() }
  const forgetUnneeded = () => {
    const needed = new Set([...given.grow.values(), ...given.ask.values()].flat(2))
    for (const name of [...held]) {
      if (needed.has(name)) continue
      held.delete(name)
      pool.forget(name)
    }
  }
  const share = (shared: Shared) => {
    if (held.has(shared.name)) return
    held.add(shared.name)
    pool.share(shared)
  }
  function hand(purpose: keyof typeof KEPT, meadow: Meadow, planting: Planting, finer: number): Setup {
    const whole = setupOf(meadow, planting, finer)
    const { setup, long } = whole
    const last = given[purpose].get(planting.id) ?? []
    if (last[0]?.[0] === setup.key) return whole
    given[purpose].set(planting.id, [[setup.key, ...long.map(({ name }) => name)], ...last].slice(0, KEPT[purpose]))
    for (const { name, thing } of long) share({ type: 'thing', name, thing })
    share({ type: 'setup', name: setup.key, setup })
    forgetUnneeded()
    return whole
  }
  return {
    give: (meadow, planting, finer) => hand('grow', meadow, planting, finer),
    giveToAsk: (meadow, planting) => hand('ask', meadow, planting, 0),
    keepOnly(plantings) {
      for (const lists of Object.values(given)) for (const id of [...lists.keys()]) if (!plantings.has(id)) lists.delete(id)
      forgetUnneeded()
    },
  }
}
