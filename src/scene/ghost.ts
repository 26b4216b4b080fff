import type { Block } from '../core/columns.ts'
import { blockOf, UNTINTED } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Ghost } from '../state/field-tool.ts'

/** What is about to be placed is drawn as a planting of its own; no planting has such an id. */
export const GHOST = '(about to be placed)'

/** A block of what is about to be placed; null when nothing is. */
export function ghostBlock(ghost: readonly Ghost[]): Block | null {
  if (ghost.length === 0) return null
  // Rows of one asset lie together.
  const rows = [...ghost].sort((a, b) => a.asset - b.asset)
  const block = blockOf(rows.length)
  rows.forEach(({ asset, stand: { place, turn, size } }, k) => {
    block.asset[k] = asset
    block.tint[k] = UNTINTED
    block.position.set(place, 3 * k)
    block.rotation.set(turn, 4 * k)
    block.scale.set(size, 3 * k)
  })
  return block
}

/** What a block covers in plan, m. */
export function rectAround(block: Block | null): Rect {
  const rect = { x0: Infinity, z0: Infinity, x1: -Infinity, z1: -Infinity }
  if (!block) return { x0: 0, z0: 0, x1: 0, z1: 0 }
  for (let i = 0; i < block.count; i++) {
    rect.x0 = Math.min(rect.x0, block.position[3 * i])
    rect.x1 = Math.max(rect.x1, block.position[3 * i])
    rect.z0 = Math.min(rect.z0, block.position[3 * i + 2])
    rect.z1 = Math.max(rect.z1, block.position[3 * i + 2])
  }
  return rect
}
