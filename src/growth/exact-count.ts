import type { Block } from '../core/columns.ts'
import { keepRows } from '../core/columns.ts'

const BINS = 1 << 16

/**
 * Of many blocks, the `count` instances of lowest (key, id): the same ones however they are cut
 * into blocks. Keys lie in 0…1. Returns one block for each given; `pace` gives others a turn.
 */
export async function lowestKeys(
  blocks: readonly Block[],
  count: number,
  pace: () => Promise<void>,
): Promise<Block[]> {
  const binOf = (key: number) => Math.min(BINS - 1, Math.floor(key * BINS))
  const bins = new Uint32Array(BINS)
  let total = 0
  for (const block of blocks) {
    for (let i = 0; i < block.count; i++) bins[binOf(block.key[i])]++
    total += block.count
    await pace()
  }
  if (total <= count) return [...blocks]
  let below = 0
  let cut = 0
  while (below + bins[cut] <= count) below += bins[cut++]
  // Within the bin where the count is reached, the exact order decides.
  const atCut: { block: number; row: number; key: number; high: number; low: number }[] = []
  blocks.forEach((block, b) => {
    for (let i = 0; i < block.count; i++)
      if (binOf(block.key[i]) === cut)
        atCut.push({ block: b, row: i, key: block.key[i], high: block.idHigh[i], low: block.idLow[i] })
  })
  atCut.sort((a, b) => a.key - b.key || a.high - b.high || a.low - b.low)
  const lucky = new Map<number, Set<number>>()
  for (const { block, row } of atCut.slice(0, count - below)) {
    const rows = lucky.get(block) ?? new Set()
    lucky.set(block, rows.add(row))
  }
  const kept: Block[] = []
  for (let b = 0; b < blocks.length; b++) {
    const also = lucky.get(b)
    kept.push(keepRows(blocks[b], (i) => binOf(blocks[b].key[i]) < cut || also?.has(i) === true))
    await pace()
  }
  return kept
}
