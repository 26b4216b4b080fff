import type { Terrain } from './terrain.ts'
import { nodeGradient } from './terrain.ts'

/**
 * The steepest Horn gradient in each block of a terrain, so that most sites on gentle ground need no
 * look of their own. Blocks are measured when first asked for.
 */
export interface Steepness {
  readonly across: number
  /** Greatest squared rise (m per m) among the nodes of 8 × 8 cells; NaN where not yet known. */
  readonly squared: Float64Array
}

const SHIFT = 3
const SIDE = 1 << SHIFT
const known = new WeakMap<Terrain, Steepness>()

/** The steepness of a terrain, unmeasured at first. */
export function steepnessOf(terrain: Terrain): Steepness {
  let found = known.get(terrain)
  if (!found) {
    const across = ((terrain.columns - 2) >> SHIFT) + 1
    const down = ((terrain.rows - 2) >> SHIFT) + 1
    found = { across, squared: new Float64Array(across * down).fill(NaN) }
    known.set(terrain, found)
  }
  return found
}

/**
 * Writes the numbers of the sites that lie in blocks steeper than `squaredRise` anywhere; returns how
 * many. Between nodes the gradient is a mean of theirs, and so never longer than the longest.
 */
export function rowsOnSteepBlocks(
  t: Terrain,
  steepness: Steepness,
  x: Float64Array,
  z: Float64Array,
  count: number,
  squaredRise: number,
  out: Uint32Array,
): number {
  const { perX, perZ } = t
  const halfX = 0.5 * t.sizeX
  const halfZ = 0.5 * t.sizeZ
  const { across, squared } = steepness
  const lastBlock = across - 1
  const lastRow = squared.length / across - 1
  let n = 0
  for (let k = 0; k < count; k++) {
    let c = ((x[k] + halfX) * perX) >> SHIFT
    let r = ((z[k] + halfZ) * perZ) >> SHIFT
    if (c < 0) c = 0
    else if (c > lastBlock) c = lastBlock
    if (r < 0) r = 0
    else if (r > lastRow) r = lastRow
    const block = r * across + c
    let steepest = squared[block]
    if (steepest !== steepest) squared[block] = steepest = measure(t, c, r)
    out[n] = k
    if (!(steepest < squaredRise)) n++
  }
  return n
}

function measure(t: Terrain, column: number, row: number): number {
  const i1 = Math.min((column + 1) * SIDE, t.columns - 1)
  const j1 = Math.min((row + 1) * SIDE, t.rows - 1)
  let most = 0
  for (let j = row * SIDE; j <= j1; j++)
    for (let i = column * SIDE; i <= i1; i++) {
      const [gx, gz] = nodeGradient(t, i, j)
      most = Math.max(most, gx * gx + gz * gz)
    }
  // A hair more, as the blend between nodes rounds otherwise.
  return most * 1.000001
}
