import * as THREE from 'three'
import type { Block } from '../core/columns.ts'

/** Most instances that are looked at to find a near one. */
const MOST_LOOKED_AT = 100_000

/** An instance that was found. */
export interface FoundInstance {
  readonly position: THREE.Vector3
  /** The number of its asset. */
  readonly asset: number
  readonly size: number
}

/** The instance nearest to a place in plan, of every so many where there are very many; null when there is none. */
export function nearestInstance(blocks: readonly Block[], to: THREE.Vector3): FoundInstance | null {
  const count = blocks.reduce((sum, block) => sum + block.count, 0)
  const stride = Math.ceil(count / MOST_LOOKED_AT)
  let best: { block: Block; i: number } | null = null
  let least = Infinity
  for (const block of blocks)
    for (let i = 0; i < block.count; i += stride) {
      const away = (block.position[3 * i] - to.x) ** 2 + (block.position[3 * i + 2] - to.z) ** 2
      if (away >= least) continue
      least = away
      best = { block, i }
    }
  if (!best) return null
  const { block, i } = best
  return { position: new THREE.Vector3(...block.position.subarray(3 * i, 3 * i + 3)), asset: block.asset[i], size: block.scale[3 * i + 1] }
}
