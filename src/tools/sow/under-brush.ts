import type { Planting } from '../../core/meadow.ts'
import { meets } from '../../core/things/define.ts'
import type { InstanceTiles } from '../../state/instances.ts'

/** Where a brush lies, m; what it reaches on a mesh it reaches straight through space, on the terrain over the plan. */
export interface BrushAt {
  readonly place: readonly [number, number, number]
  readonly radius: number
  readonly solid: boolean
}

/** How many instances of each planting lie under a brush, by the numbers of their assets. */
export type UnderBrush = ReadonlyMap<string, ReadonlyMap<number, number>>

/** Counts what lies under a brush, of plantings that are shown. */
export function underBrush({ tiles }: InstanceTiles, plantings: readonly Planting[], { place: [x, y, z], radius, solid }: BrushAt): UnderBrush {
  const found = new Map<string, Map<number, number>>()
  const box = { x0: x - radius, z0: z - radius, x1: x + radius, z1: z + radius }
  for (const { id, visible } of plantings) {
    if (!visible) continue
    const own = new Map<number, number>()
    for (const { rect, block } of tiles.get(id)?.values() ?? []) {
      if (!meets(rect, 0, box)) continue
      const { position, asset, count } = block
      for (let i = 0; i < count; i++) {
        const dx = position[3 * i] - x
        const dz = position[3 * i + 2] - z
        const dy = solid ? position[3 * i + 1] - y : 0
        if (dx * dx + dy * dy + dz * dz < radius * radius) own.set(asset[i], (own.get(asset[i]) ?? 0) + 1)
      }
    }
    if (own.size > 0) found.set(id, own)
  }
  return found
}

/** All of some counts together. */
export function sumOf(counts: Iterable<number>): number {
  let sum = 0
  for (const count of counts) sum += count
  return sum
}
