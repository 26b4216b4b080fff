import { useMemo } from 'react'
import { assetRuns } from '../../core/columns.ts'
import type { Block } from '../../core/columns.ts'
import { useField, useFieldState } from './field-context.ts'

/** Rows of each asset in a block, found once. */
const known = new WeakMap<Block, ReadonlyMap<number, number>>()

function countsIn(block: Block): ReadonlyMap<number, number> {
  let counts = known.get(block)
  if (!counts) known.set(block, (counts = new Map(assetRuns(block).map(({ asset, start, end }) => [asset, end - start]))))
  return counts
}

/** How many instances of each asset, by its number, a planting has grown; null while it still grows. */
export function useAssetCounts(planting: string): ReadonlyMap<number, number> | null {
  const { session } = useField()
  const state = useFieldState((all) => all.plantings[planting])
  return useMemo(() => {
    if (state?.phase !== 'ready') return null
    const counts = new Map<number, number>()
    for (const { block } of session.instances.tiles.get(planting)?.values() ?? [])
      for (const [asset, count] of countsIn(block)) counts.set(asset, (counts.get(asset) ?? 0) + count)
    return counts
  }, [state, session, planting])
}
