import type { PreparedDrivers } from '../fields/drivers/drive.ts'
import type { Ground } from '../grounds/ground.ts'
import type { Around } from '../surroundings.ts'
import type { GroundBlock } from '../grounds/blocks.ts'
import type { Rect } from '../grounds/terrain.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import type { Sites } from '../columns.ts'
import { enlargeSites, moveNormal } from '../columns.ts'
import type { Arena } from './arena.ts'
import { clearSites, fitArena } from './arena.ts'
import type { CandidateSource } from './candidates/plan.ts'
import type { Habitat, HabitatStep } from './habitat.ts'
import { PROBES, takenArea, weighBy } from './habitat.ts'
import type { TileAddress } from './tiles.ts'
import { tilesOver } from './tiles.ts'
import { stretchesOf, tilesToGrow } from './stretches.ts'

/** Which candidates are wanted. */
export interface Wanted {
  /** Ranks below this are wanted where the weight is 1. */
  readonly limit: number
  /** Only this part of them, those of the lowest keys. */
  readonly part: number
  /** Keys are the share of the limit that a candidate needs, times this: where grounds have candidates of different densities, equal keys stand for equal ones. */
  readonly keyScale: number
}

/** Where candidates come from, and which of them are wanted. */
export interface Gathering {
  readonly ground: Ground
  /** Grounds listed before it: inside of these nothing grows. */
  readonly before: readonly Ground[]
  readonly source: CandidateSource
  readonly area: Rect
  readonly wanted: Wanted
  readonly around: Around
}

/** The stage that weighs sites: landing, conditions, drivers of the density. */
export interface WeighStage {
  /** Weighs the arena's sites on a ground that lies under those listed before it: inside of these nothing grows. Leaves those that stay. */
  weigh(ground: Ground, before: readonly Ground[], wanted: Wanted, around: Around): void
  /** Leaves in the arena those candidates of an area that stay; where the ground knows their heights by the plan position, they are not told. */
  gather(gathering: Gathering): void
  /** The tiles of a side over a ground in which the conditions may leave anything, row by row. */
  tiles(ground: Ground, side: number): TileAddress[]
  /** Area of a ground that is taken, thinned out where it is thinned out, m²; `about` is quicker. */
  area(ground: Ground, about: boolean): number
}

/** Prepares weighing; `first` comes before the habitat, however its conditions go together. */
export function prepareWeigh(arena: Arena, habitat: Habitat, { thin, asksHeights }: Pick<PreparedDrivers, 'thin' | 'asksHeights'>, first: readonly HabitatStep[] = []): WeighStage {
  const steps = [...first, ...habitat.steps]
  function weighSites(sites: Sites, ground: Ground, before: readonly Ground[], asked: readonly HabitatStep[], around: Around): void {
    ground.land(sites)
    if (before.length > 0 || asksHeights.thin || asked.some((step) => step.asksHeights)) ground.raise(sites)
    for (const other of before) other.cover(sites)
    weighBy(asked, sites, around, arena)
    thin?.(sites, around, arena)
  }
  function weigh(ground: Ground, before: readonly Ground[], wanted: Wanted, around: Around): void {
    const { sites } = arena
    weighSites(sites, ground, before, steps, around)
    fitArena(arena)
    const { count } = sites
    sites.count = 0
    takeByRank(arena, sites, count, wanted)
  }
  return {
    weigh,
    gather({ ground, before, source, area, wanted, around }) {
      const { sites, candidates } = arena
      clearSites(arena)
      const below = wanted.limit * shareOf(wanted)
      if (!ground.block) {
        source.fill(area, sites, below)
        weigh(ground, before, wanted, around)
        return
      }
      for (const { pieces, steps: asked } of stretchesOf(area, steps, ground.block, source, around)) {
        candidates.count = 0
        for (const { rect, most } of pieces) source.fill(rect, candidates, below * most)
        weighSites(candidates, ground, before, asked, around)
        makeRoom(arena, candidates.count)
        takeByRank(arena, candidates, candidates.count, wanted)
      }
    },
    tiles: (ground, side) => (ground.block ? tilesToGrow(ground.bounds, side, habitat.steps, ground.block, LOOKS) : tilesOver(ground.bounds, side)),
    area: (ground, about) =>
      takenArea((sites) => {
        ground.land(sites)
        if (asksHeights.thin || habitat.asksHeights) ground.raise(sites)
        habitat(sites, NOTHING_AROUND, arena)
        thin?.(sites, NOTHING_AROUND, arena)
      }, ground.bounds, about ? PROBES.about : PROBES.exactly, ground.block && bearsOf(ground.bounds, habitat.steps, ground.block)),
  }
}

/** Pieces along the longer side of a ground of which those that the conditions refuse as a whole are told beforehand. */
const PIECES = 16
/** How often tiles are quartered before they are grown. */
const LOOKS = 2

/** Tells where the conditions may leave anything. */
function bearsOf(bounds: Rect, steps: readonly HabitatStep[], blockOf: (rect: Rect) => GroundBlock): (x: number, z: number) => boolean {
  const side = Math.max(bounds.x1 - bounds.x0, bounds.z1 - bounds.z0) / PIECES
  const [i0, j0] = [Math.floor(bounds.x0 / side), Math.floor(bounds.z0 / side)]
  const across = Math.floor(bounds.x1 / side) - i0 + 1
  const bearing = new Uint8Array(across * (Math.floor(bounds.z1 / side) - j0 + 1))
  for (const { i, j } of tilesToGrow(bounds, side, steps, blockOf, 0)) bearing[(j - j0) * across + i - i0] = 1
  return (x, z) => bearing[(Math.floor(z / side) - j0) * across + Math.floor(x / side) - i0] === 1
}

/** Which share of the limit is wanted. */
function shareOf({ part, keyScale }: Wanted): number {
  return Math.min(1, part / keyScale)
}

/**
 * Moves those of the first `count` sites that stay by their own rank and weight to the end of the arena's, with
 * what is needed of them: heights and normals where they are their own. Their key is the share of the limit that they need.
 */
function takeByRank(arena: Arena, from: Sites, count: number, wanted: Wanted): void {
  const { sites, key } = arena
  const { limit, keyScale } = wanted
  const below = limit * shareOf(wanted)
  const { rank, weight, normals } = from
  let n = sites.count
  for (let i = 0; i < count; i++) {
    const r = rank[i]
    const w = weight[i]
    if (!(r < below * w)) continue
    key[n] = (keyScale * r) / (limit * w)
    sites.x[n] = from.x[i]
    sites.z[n] = from.z[i]
    sites.addressLow[n] = from.addressLow[i]
    sites.addressHigh[n] = from.addressHigh[i]
    sites.draws[n] = from.draws[i]
    if (normals) {
      sites.y[n] = from.y[i]
      moveNormal(normals, i, n)
    }
    n++
  }
  sites.count = n
}

/** Makes room for so many more sites, keeping those that are there with their keys. */
function makeRoom(arena: Arena, more: number): void {
  const { sites, key } = arena
  while (sites.capacity < sites.count + more) enlargeSites(sites, sites.count)
  fitArena(arena)
  if (arena.key !== key) arena.key.set(key.subarray(0, sites.count))
}
