import type { GroundBlock } from '../grounds/blocks.ts'
import type { Rect } from '../grounds/terrain.ts'
import type { Around } from '../surroundings.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import type { CandidateSource } from './candidates/plan.ts'
import type { HabitatStep } from './habitat.ts'
import type { TileAddress } from './tiles.ts'

/** Ground over which the same conditions are still to be asked: the others take all of it. */
export interface Stretch {
  readonly pieces: readonly Piece[]
  readonly steps: readonly HabitatStep[]
}

export interface Piece {
  readonly rect: Rect
  /** No weight there is greater. */
  readonly most: number
}

/** A piece of ground with fewer candidates is not cut up any further. */
const LEAST_CANDIDATES = 96
/** Weights are told with this much to spare, as products of soft edges round. */
const SPARE = 1 + 1e-9

/**
 * Cuts an area up by what its conditions say of whole blocks of it: what is refused as a whole is left out, and
 * what is taken as a whole is not asked again, in pieces that suit the source of the candidates.
 */
export function stretchesOf(
  area: Rect,
  steps: readonly HabitatStep[],
  blockOf: (rect: Rect) => GroundBlock,
  { density, reach }: Pick<CandidateSource, 'density' | 'reach'>,
  around: Around,
): Stretch[] {
  const least = Math.max(4 * LEAST_CANDIDATES, 4 * reach * reach * density)
  const cut = (rect: Rect, left: readonly HabitatStep[]): Cut[] => {
    const asked = askedIn(blockOf(rect), left, around)
    if (!asked) return []
    const many = (rect.x1 - rect.x0) * (rect.z1 - rect.z0) * density
    if (!asked.steps.some(({ weigh }) => weigh.bound) || many <= least) return [{ rect, ...asked }]
    const parts = quartersOf(rect).map((quarter) => cut(quarter, asked.steps))
    return allAlike(parts) ? [{ rect, steps: parts[0][0].steps, most: Math.max(...parts.map(([{ most }]) => most)) }] : parts.flat()
  }
  const found = new Map<string, { readonly pieces: Piece[]; readonly steps: readonly HabitatStep[] }>()
  for (const { rect, steps: asked, most } of cut(area, steps)) {
    const name = asked.map((step) => steps.indexOf(step)).join()
    const stretch = found.get(name) ?? { pieces: [], steps: asked }
    found.set(name, stretch)
    stretch.pieces.push({ rect, most })
  }
  return [...found.values()]
}

interface Cut extends Piece {
  readonly steps: readonly HabitatStep[]
}

/** Quarters that hold so much more than others are not joined with them. */
const ALIKE = 0.85

/** Whether four quarters were cut up for nothing: each is one piece, and the same is to be asked of all. */
function allAlike(parts: readonly (readonly Cut[])[]): boolean {
  if (parts.some((pieces) => pieces.length !== 1)) return false
  const all = parts.map(([piece]) => piece)
  const [{ steps }] = all
  if (all.some((one) => one.steps.length !== steps.length || one.steps.some((step, k) => step !== steps[k]))) return false
  const most = all.map((one) => one.most)
  return Math.min(...most) >= ALIKE * Math.max(...most)
}

/**
 * The tiles of a side over a plot's ground in which the conditions may leave anything, row by row. Wide stretches
 * that are refused as a whole are left out at once; tiles that are not are quartered `looks` times to see whether
 * their parts are.
 */
export function tilesToGrow(bounds: Rect, side: number, steps: readonly HabitatStep[], blockOf: (rect: Rect) => GroundBlock, looks: number): TileAddress[] {
  const found: TileAddress[] = []
  const [i0, i1] = [Math.floor(bounds.x0 / side), Math.ceil(bounds.x1 / side)]
  const [j0, j1] = [Math.floor(bounds.z0 / side), Math.ceil(bounds.z1 / side)]
  const look = (a0: number, a1: number, b0: number, b1: number, left: readonly HabitatStep[]): void => {
    if (a0 >= a1 || b0 >= b1) return
    const rect = { x0: Math.max(bounds.x0, a0 * side), z0: Math.max(bounds.z0, b0 * side), x1: Math.min(bounds.x1, a1 * side), z1: Math.min(bounds.z1, b1 * side) }
    const asked = askedIn(blockOf(rect), left, NOTHING_AROUND)
    if (!asked) return
    if (a1 - a0 === 1 && b1 - b0 === 1) {
      if (mayBear(rect, asked.steps, blockOf, looks)) found.push({ i: a0, j: b0 })
      return
    }
    const [a, b] = [(a0 + a1 + 1) >> 1, (b0 + b1 + 1) >> 1]
    look(a0, a, b0, b, asked.steps)
    look(a, a1, b0, b, asked.steps)
    look(a0, a, b, b1, asked.steps)
    look(a, a1, b, b1, asked.steps)
  }
  look(i0, i1, j0, j1, steps)
  return found.sort((one, other) => one.j - other.j || one.i - other.i)
}

/** Whether a piece of ground has parts that are not refused as a whole. */
function mayBear(rect: Rect, steps: readonly HabitatStep[], blockOf: (rect: Rect) => GroundBlock, looks: number): boolean {
  if (looks === 0 || !steps.some(({ weigh }) => weigh.bound)) return true
  return quartersOf(rect).some((quarter) => {
    const asked = askedIn(blockOf(quarter), steps, NOTHING_AROUND)
    return asked !== null && mayBear(quarter, asked.steps, blockOf, looks - 1)
  })
}

/** Which of the conditions a block does not take as a whole, and the greatest weight there can be; null where there is none. */
function askedIn(block: GroundBlock, steps: readonly HabitatStep[], around: Around): { readonly steps: readonly HabitatStep[]; readonly most: number } | null {
  let most = 1
  const asked: HabitatStep[] = []
  for (const step of steps) {
    const bound = step.weigh.bound?.(block, around)
    if (bound?.high === 0) return null
    if (bound && bound.low >= 1) continue
    asked.push(step)
    if (bound) most *= bound.high
  }
  return { steps: asked, most: Math.min(1, most * SPARE) }
}

function quartersOf({ x0, z0, x1, z1 }: Rect): Rect[] {
  const [x, z] = [0.5 * (x0 + x1), 0.5 * (z0 + z1)]
  return [
    { x0, z0, x1: x, z1: z },
    { x0: x, z0, x1, z1: z },
    { x0, z0: z, x1: x, z1 },
    { x0: x, z0: z, x1, z1 },
  ]
}
