import type { Block } from '../core/columns.ts'

/** Where a planting stands, as weights 0 or 255 of square cells over its ground, row by row from the north. */
export interface PlantingMark {
  readonly side: number
  readonly weights: Uint8Array<ArrayBuffer>
}

const LEAST = 24
const MOST = 512

/** Cells about as large as an instance has ground, so that what is evenly strewn fills them without gaps. */
export function markOf(blocks: readonly Block[], sizeX: number, sizeZ: number): PlantingMark {
  const count = blocks.reduce((sum, block) => sum + block.count, 0)
  const side = Math.max(LEAST, Math.min(MOST, Math.floor(Math.sqrt(count) / 1.5)))
  const weights = new Uint8Array(side * side)
  for (const { position, count: rows } of blocks)
    for (let i = 0; i < rows; i++) {
      const c = Math.floor((position[3 * i] / sizeX + 0.5) * side)
      const r = Math.floor((position[3 * i + 2] / sizeZ + 0.5) * side)
      if (c >= 0 && r >= 0 && c < side && r < side) weights[r * side + c] = 255
    }
  return { side, weights }
}
