import type { Sites } from '../columns.ts'
import { createSites } from '../columns.ts'

/**
 * Working columns of growing. One set serves all plantings of a thread: a tile is grown in one go,
 * and columns that are kept are not allocated for every tile.
 */
export interface Workspace {
  readonly sites: Sites
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
}

const START = 8192

export const workspace: Workspace = { sites: createSites(START), ...columns(START) }

/** Makes all columns as long as the sites. */
export function fitWorkspace(w: Workspace): void {
  if (w.key.length < w.sites.capacity) Object.assign(w, columns(w.sites.capacity))
}

function columns(capacity: number): Omit<Workspace, 'sites'> {
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
