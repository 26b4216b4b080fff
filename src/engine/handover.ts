import type { Meadow, Planting } from '../core/meadow.ts'
import type { Pool } from './pool.ts'
import type { GrowSetup } from './protocol.ts'
import { setupOf } from './setup.ts'

/**
 * Hands setups and outlines to the workers of a pool, each once: a tile's message then only names them.
 * What no planting needs any more is taken back.
 */
export interface Handover {
  /** The setup of a planting, in the workers' hands. */
  give(meadow: Meadow, planting: Planting, finer: number): GrowSetup
  /** Takes back all that these plantings were not given last. */
  keepOnly(plantings: ReadonlySet<string>): void
}

/** What a planting was given last, and the time before: a tile of then may still be under way. */
interface Given {
  readonly now: readonly string[]
  readonly before: readonly string[]
}

export function createHandover(pool: Pool): Handover {
  const held = new Set<string>()
  const given = new Map<string, Given>()
  const forgetUnneeded = () => {
    const needed = new Set([...given.values()].flatMap(({ now, before }) => [...now, ...before]))
    for (const name of [...held]) {
      if (needed.has(name)) continue
      held.delete(name)
      pool.forget(name)
    }
  }
  return {
    give(meadow, planting, finer) {
      const { setup, outlines } = setupOf(meadow, planting, finer)
      const names = [setup.key, ...outlines.map(({ name }) => name)]
      const last = given.get(planting.id)
      if (last?.now[0] === setup.key) return setup
      given.set(planting.id, { now: names, before: last?.now ?? [] })
      for (const { name, outline } of outlines) {
        if (held.has(name)) continue
        held.add(name)
        pool.share({ type: 'outline', name, outline })
      }
      if (!held.has(setup.key)) {
        held.add(setup.key)
        pool.share({ type: 'setup', name: setup.key, setup })
      }
      forgetUnneeded()
      return setup
    },
    keepOnly(plantings) {
      for (const id of [...given.keys()]) if (!plantings.has(id)) given.delete(id)
      forgetUnneeded()
    },
  }
}
