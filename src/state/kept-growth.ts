import { logProblem } from '../document/log.ts'
import type { Grower } from '../growth/grower.ts'
import { pacer } from '../growth/pacer.ts'
import type { GrownStore } from '../storage/grown.ts'

/** Keeps what has grown of a meadow from one opening to the next. */
export interface KeptGrowth {
  /** Takes in what was kept; resolves when all of it is shown. What cannot be read is grown anew. */
  restore(): Promise<void>
  /** Something has grown: it is kept when nothing has grown for a while. */
  grown(): void
  /** Keeps at once what is not kept yet. */
  flush(): Promise<void>
}

/** What has grown is kept when nothing grows for so long, ms. */
const QUIET = 3000

/** `store` may refuse at any time: then nothing is kept, and all grows anew at the next opening. */
export function createKeptGrowth(store: GrownStore, meadow: string, grower: Pick<Grower, 'restore' | 'packs'>): KeptGrowth {
  /** What each pack holds, by its name. */
  const kept = new Map<string, string>()
  let timer: ReturnType<typeof setTimeout> | null = null
  let keeping: Promise<void> = Promise.resolve()
  let refused = false
  const pace = pacer(() => performance.now())

  async function guarded(work: () => Promise<void>): Promise<void> {
    if (refused) return
    try {
      await work()
    } catch (error) {
      refused = true
      logProblem('Keeping what has grown', error)
    }
  }

  async function keep(): Promise<void> {
    const names = new Set<string>()
    for (const { planting, plans } of grower.packs()) {
      if (!plans) for (const name of kept.keys()) if (name.startsWith(`${planting}/`)) names.add(name)
      for (const plan of plans ?? []) {
        const name = `${planting}/${plan.part}`
        names.add(name)
        if (kept.get(name) === plan.name) continue
        await pace()
        if (!(await store.put(meadow, plan.make()))) {
          refused = true
          return
        }
        kept.set(name, plan.name)
      }
    }
    await store.retain(meadow, names)
    for (const name of kept.keys()) if (!names.has(name)) kept.delete(name)
  }

  function flush(): Promise<void> {
    if (!timer) return keeping
    clearTimeout(timer)
    timer = null
    return (keeping = keeping.then(() => guarded(keep)))
  }

  return {
    async restore() {
      await guarded(() =>
        store.each(meadow, async (pack) => {
          const found = grower.restore(pack)
          if (found) kept.set(`${found.planting}/${found.part}`, found.name)
          await pace()
        }),
      )
    },
    grown() {
      if (refused) return
      if (timer) clearTimeout(timer)
      timer = setTimeout(() => void flush(), QUIET)
    },
    flush,
  }
}
