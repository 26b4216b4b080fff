import type { Sites } from '../columns.ts'
import { createSites } from '../columns.ts'

/**
 * Working memory of growing. One serves all that a thread grows, as a tile is grown in one go: columns
 * that are kept are not allocated for every tile. Every stage is handed the arena that it works in.
 */
export interface Arena {
  readonly sites: Sites
  /** Candidates that are being weighed, before those that stay join the sites. */
  readonly candidates: Sites
  /** Share of the wanted rank: who stays when fewer are wanted, lowest first. */
  key: Float32Array
  /** Which of the mix. */
  pick: Uint16Array
  /** 0 for the largest assets of the mix, then 1, …: who takes room first. */
  rank: Uint16Array
  /** Size factor, and the one in plan, which girth may widen. */
  size: Float64Array
  girth: Float64Array
  /** The throw that picks the asset. */
  dice: Float64Array
  /** Radius of room, m. */
  radius: Float64Array
  /** Site numbers. */
  rows: Uint32Array
  /** Row of the block that a site goes to. */
  seat: Uint32Array
  /** Lends a column of at least so many numbers, whatever stands in it. Who borrows while others still hold theirs gets another one. */
  borrow(count: number): Float64Array
  /** Takes back the column that was borrowed last. */
  giveBack(): void
}

const START = 8192

/** An empty arena. */
export function createArena(): Arena {
  const lent: Float64Array[] = []
  let depth = 0
  return {
    sites: createSites(START),
    candidates: createSites(START),
    ...columns(START),
    borrow(count) {
      if (depth === lent.length || lent[depth].length < count) lent[depth] = new Float64Array(Math.max(START, 2 * count))
      return lent[depth++]
    },
    giveBack() {
      depth--
    },
  }
}

/** Empties the arena's sites, which then lie where their ground knows heights and normals. */
export function clearSites({ sites }: Arena): Sites {
  sites.count = 0
  sites.normals = null
  return sites
}

/** Makes all columns as long as the sites. */
export function fitArena(arena: Arena): void {
  if (arena.key.length < arena.sites.capacity) Object.assign(arena, columns(arena.sites.capacity))
}

function columns(capacity: number) {
  return {
    key: new Float32Array(capacity),
    pick: new Uint16Array(capacity),
    rank: new Uint16Array(capacity),
    size: new Float64Array(capacity),
    girth: new Float64Array(capacity),
    dice: new Float64Array(capacity),
    radius: new Float64Array(capacity),
    rows: new Uint32Array(capacity),
    seat: new Uint32Array(capacity),
  }
}
