import type { Meadow } from '../src/core/meadow.ts'
import type { Blobs } from '../src/growth/run-meadow.ts'
import { createInlinePool } from '../src/runner/inline-pool.ts'
import { runMeadow } from '../src/growth/run-meadow.ts'

export interface MeadowRate {
  readonly count: number
  /** Seconds of the first growing. */
  readonly cold: number
  /** Finished instances a second, the median of the rounds. */
  readonly perSecond: number
  /** Against the bare points of the package, compared within each round. */
  readonly vsPackage: number
}

/** Grows a whole meadow as it is, inline on one core, again and again; `bare` gives the package's rate in the same moments. */
export async function measureMeadow({ meadow, blobs }: { readonly meadow: Meadow; readonly blobs: Blobs }, rounds: number, bare: () => number): Promise<MeadowRate> {
  const pool = createInlinePool(1)
  const grow = async () => {
    const start = performance.now()
    const grown = await runMeadow(meadow, blobs, pool, { now: () => performance.now() })
    const seconds = (performance.now() - start) / 1000
    return { count: grown.reduce((sum, { blocks }) => sum + blocks.reduce((all, block) => all + block.count, 0), 0), seconds }
  }
  const first = await grow()
  const rates: number[] = []
  const ratios: number[] = []
  for (let round = 0; round < rounds; round++) {
    const { count, seconds } = await grow()
    rates.push(count / seconds)
    ratios.push(count / seconds / bare())
  }
  pool.close()
  const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]
  return { count: first.count, cold: first.seconds, perSecond: median(rates), vsPackage: median(ratios) }
}
