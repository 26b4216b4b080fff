import type { Ground } from '../grounds/ground.ts'
import type { Rect } from '../grounds/terrain.ts'
import { widened } from '../grounds/terrain.ts'
import type { Naming } from '../identity.ts'
import type { Near, TileResult } from './context.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import type { Arena } from './arena.ts'
import { floorLog2, powerOfTwo } from './candidates/even-pattern.ts'
import type { CandidateSource } from './candidates/plan.ts'
import { byKeyThenId } from './order.ts'
import type { Block } from '../columns.ts'
import type { Held } from './by-hand.ts'
import { fetchMoved, holdByHand, roomsOfHeld, withHeld } from './by-hand.ts'
import type { PlotOver, PreparedPlot } from './plot.ts'
import { looksAtRooms } from './plot.ts'
import type { TileAddress } from './tiles.ts'
import { tileRect } from './tiles.ts'
import { freeOfRooms, settleRooms, STAYS, UNDECIDED } from './rooms.ts'
import { freeThroughSpace } from './rooms-in-space.ts'

/**
 * Width of the first halo in largest rooms: wide enough to decide nearly every tile at once, which takes the more
 * the more candidates a room can meet (measured: of some 12, four largest rooms decide half the tiles, six nearly all).
 */
function haloFor(density: number, largestRoom: number): number {
  const met = density * Math.PI * (2 * largestRoom) ** 2
  return Math.min(8, 2.5 + 0.35 * met)
}

/** Sites per tile that keep a worker busy for a few milliseconds. */
const SITES_PER_TILE = 6000
const SMALLEST_TILE = 4
/** Most and fewest tiles along the longer side of the ground. */
const TILES_ALONG = 48
const FEWEST_ALONG = 3
const LARGEST_SPARSE_TILE = 128
/** Tiles that are to bear fewer in the mean are joined, four to one, as long as none has more candidates than this; the picture draws them in parts. */
const FEW_IN_TILE = 2500
const MOST_SITES_IN_TILE = 32000

function tileSideFor(density: number, { x0, z0, x1, z1 }: Rect): number {
  const extent = Math.max(x1 - x0, z1 - z0)
  const wanted = Math.min(Math.sqrt(SITES_PER_TILE / density), LARGEST_SPARSE_TILE)
  const side = powerOfTwo(floorLog2(Math.max(wanted, SMALLEST_TILE)))
  const least = extent / TILES_ALONG
  return side >= least ? side : powerOfTwo(floorLog2(least) + 1)
}

/**
 * The tiles of a plot, so large that conditions which leave little ground do not leave many with next to nothing
 * in them. What grows does not hang on them.
 */
function tilesFor(ground: Ground, { density, bears }: CandidateSource, { stages, taken }: PlotOver): { readonly side: number; readonly tiles: readonly TileAddress[] } {
  const { bounds } = ground
  const widest = Math.max(bounds.x1 - bounds.x0, bounds.z1 - bounds.z0) / FEWEST_ALONG
  let side = tileSideFor(density, bounds)
  let tiles: readonly TileAddress[] = stages.tiles(ground, side)
  if (bears) tiles = tiles.filter((address) => bears(tileRect(side, address)))
  const borne = density * taken()
  while (borne < FEW_IN_TILE * tiles.length && 2 * side <= widest && 4 * side * side * density <= MOST_SITES_IN_TILE) {
    side *= 2
    tiles = joined(tiles)
  }
  return { side, tiles }
}

/** The tiles of twice the side that hold some tiles, row by row. */
function joined(tiles: readonly TileAddress[]): TileAddress[] {
  const found = new Map<string, TileAddress>()
  for (const { i, j } of tiles) found.set(`${i >> 1} ${j >> 1}`, { i: i >> 1, j: j >> 1 })
  return [...found.values()].sort((one, other) => one.j - other.j || one.i - other.i)
}

/**
 * A plot on a ground that is one surface over the plan: grown tile by tile, rooms settled in plan. Whether
 * a candidate stays can hang on others beyond the tile, so a halo around it is looked at as well, and a
 * wider one where that does not decide it.
 */
export function plotInTiles(ground: Ground, source: CandidateSource, naming: Naming, over: PlotOver): PreparedPlot {
  const { stages, before } = over
  const { arena, largestRoom } = stages
  const { sites } = arena
  const { bounds } = ground
  const looks = looksAtRooms(over)
  // Rooms that fit into the guaranteed spacing cannot meet.
  const crowds = largestRoom > 0 && 2 * largestRoom > source.spacing
  const { limit } = source
  const { side: tileSide, tiles } = tilesFor(ground, source, over)
  const firstHalo = crowds ? haloFor(source.density, largestRoom) * largestRoom : 0

  function grow(tile: Rect, near: Near | null, part: number, keyScale: number): TileResult {
    let halo = firstHalo
    for (;;) {
      const needed = halo + (looks ? largestRoom : 0)
      if (near && !covers(near.known, tile, needed, bounds)) return { needsReach: needed }
      const area = widened(tile, halo)
      const choose = (within: Rect) => stages.chooseIn({ ground, before, source, area: intersect(within, bounds), wanted: { limit, part, keyScale }, around: near?.around ?? NOTHING_AROUND })
      const hand = near?.hand ?? null
      const moved = hand && fetchMoved(hand, area, stages, naming, choose)
      const chosen = choose(area)
      const held = hand && moved && holdByHand({ hand, moved, tile }, stages, naming, chosen)
      const free = freeRows(arena, ground, looks ? near : null, largestRoom, held)
      if (!crowds) return handed(stages.stand(free, naming, chosen), held, tile)
      const order = byKeyThenId(free, arena.key, sites, arena.rank, stages.ranks)
      // Beyond the ground's rim nothing stands: what is known reaches on without end there.
      const verdict = settleRooms(sites.x, sites.z, arena.radius, order, openRim(area, bounds), largestRoom, source.spacing)
      const kept = keepInside(arena, tile, free, verdict)
      if (kept >= 0) return handed(stages.stand(free.subarray(0, kept), naming, chosen), held, tile)
      halo *= 2
    }
  }

  return {
    ground: ground.id,
    bounds,
    tileSide,
    tiles,
    reach: looks ? firstHalo + largestRoom : firstHalo,
    density: source.density,
    candidates: `${over.density} ${over.meant}`,
    grow,
  }
}

// At module level: made anew by every preparing, they would be compiled and optimised anew each time.

/** The sites that rooms of others leave free. */
function freeRows(arena: Arena, ground: Ground, near: Near | null, largestRoom: number, held: Held | null): Uint32Array {
  const { sites, rows, radius } = arena
  const { x, z, count } = sites
  let all = 0
  for (let i = 0; i < count; i++) if (!held?.taken(i)) rows[all++] = i
  const others = [...(near?.rooms ?? []), ...(held ? [roomsOfHeld(held)] : [])]
  const free = others.length > 0 ? freeOfRooms(x, z, radius, rows.subarray(0, all), others) : all
  if (!near || near.elsewhere.length === 0) return rows.subarray(0, free)
  ground.raise(sites)
  const clear = freeThroughSpace(arena, near.elsewhere, largestRoom)
  let clearOf = 0
  for (let k = 0; k < free; k++) if (clear(rows[k])) rows[clearOf++] = rows[k]
  return rows.subarray(0, clearOf)
}

/** A block with what is held within its tile. */
function handed(block: Block, held: Held | null, tile: Rect): TileResult {
  if (!held) return { block }
  return { block: withHeld(block, held, tile), missing: held.missing }
}

/** Moves the rows that stay inside the tile to the front; −1 when one of them is undecided. */
function keepInside({ sites: { x, z } }: Arena, tile: Rect, rows: Uint32Array, verdict: Uint8Array): number {
  let kept = 0
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    if (!inside(tile, x[i], z[i])) continue
    if (verdict[i] === UNDECIDED) return -1
    if (verdict[i] === STAYS) rows[kept++] = i
  }
  return kept
}

function inside(r: Rect, x: number, z: number): boolean {
  return x >= r.x0 && x < r.x1 && z >= r.z0 && z < r.z1
}

function intersect(a: Rect, b: Rect): Rect {
  return { x0: Math.max(a.x0, b.x0), z0: Math.max(a.z0, b.z0), x1: Math.min(a.x1, b.x1), z1: Math.min(a.z1, b.z1) }
}

/** The area with each side that lies on or beyond the ground's rim moved out to infinity. */
function openRim(area: Rect, bounds: Rect): Rect {
  return {
    x0: area.x0 <= bounds.x0 ? -Infinity : area.x0,
    z0: area.z0 <= bounds.z0 ? -Infinity : area.z0,
    x1: area.x1 >= bounds.x1 ? Infinity : area.x1,
    z1: area.z1 >= bounds.z1 ? Infinity : area.z1,
  }
}

/** Whether `known` covers the tile widened by `by`, as far as there is ground. */
function covers(known: Rect, tile: Rect, by: number, bounds: Rect): boolean {
  const need = intersect(widened(tile, by), bounds)
  return known.x0 <= need.x0 && known.z0 <= need.z0 && known.x1 >= need.x1 && known.z1 >= need.z1
}
