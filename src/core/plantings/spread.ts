import type { Rect } from '../grounds/terrain.ts'
import type { Naming } from '../identity.ts'
import { namingOf } from '../identity.ts'
import { phrase } from '../kinds.ts'
import { closed } from '../stance/stance.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import type { CandidateSource } from '../stages/candidates/plan.ts'
import type { GrowContext, Near, PreparedPlanting, TileResult } from './define.ts'
import { definePlanting } from './define.ts'
import { floorLog2, powerOfTwo } from '../stages/candidates/even-pattern.ts'
import { prepareHabitat } from '../stages/habitat.ts'
import type { Members } from '../stages/members.ts'
import { prepareMembers } from '../stages/members.ts'
import { prepareMeshSpread } from './mesh-spread.ts'
import { byKeyThenId } from '../stages/order.ts'
import { roomIndex, settleRooms, STAYS, UNDECIDED } from '../stages/rooms.ts'
import { chooseSource, densityForCount, densityOf } from '../stages/candidates/sources.ts'
import type { SpreadValues } from './spread-params.ts'
import { SPREAD_PARAMS } from './spread-params.ts'
import { workspace } from '../stages/arena.ts'

export const spread = definePlanting({
  kind: 'spread',
  label: 'Spread',
  help: 'Fills the ground by rule.',
  params: SPREAD_PARAMS,
  howMany(p) {
    const placed = p.placing === 'natural' ? phrase`${{ param: 'placing' }} (${{ param: 'arrangement' }})` : phrase`${{ param: 'placing' }}`
    if (p.by === 'spacing') return [...phrase`about every ${{ param: 'spacing' }}, `, ...placed]
    if (p.by === 'density') return [...phrase`${{ param: 'density' }}, `, ...placed]
    return [...phrase`${{ param: 'count' }} in all, `, ...placed]
  },
  howItStands(p) {
    const lean = closed(p.lean)[1] > 0 ? phrase`leaning ${{ param: 'lean' }}, ` : []
    return [...lean, ...phrase`sized ${{ param: 'size' }}`]
  },
  yieldsToEarlier: (p) => p.yields && p.room > 0,
  prepare(planting, values, context, { finer = 0 }) {
    const seed = planting.seed >>> 0
    const habitat = prepareHabitat(planting, context)
    const members = prepareMembers(planting, values, context, habitat)
    if (planting.grounds.length > 0) return prepareMeshSpread(planting, values, context, members, finer)
    const area = values.by === 'count' ? Math.max(members.area(context.terrain.bounds), LEAST_HABITAT) : 1
    const wanted = values.by === 'count' ? densityForCount(values, context, area, finer) : densityOf(values)
    const naming = namingOf(SOURCES[values.placing], seed, TERRAIN)
    return prepareTerrainSpread(values, chooseSource(values, seed, wanted, area), naming, members, context)
  },
})

/** Ways of placing on the terrain with the versions of their rules, which ids are made of. */
const SOURCES: Readonly<Record<SpreadValues['placing'], string>> = { even: 'even 1', random: 'random 2', natural: 'natural 2' }
const TERRAIN = 'terrain'
/** A habitat of less is taken for one of so much, m². */
const LEAST_HABITAT = 1e-6

/** Width of the first halo in largest rooms: wide enough to decide nearly every tile at once. */
const FIRST_HALO = 4

/** Sites per tile that keep a worker busy for a few milliseconds. */
const SITES_PER_TILE = 6000
const SMALLEST_TILE = 4
/** Most tiles along a side of the ground. */
const TILES_ALONG = 48
const LARGEST_SPARSE_TILE = 128

function tileSideFor(density: number, { terrain }: GrowContext): number {
  const extent = Math.max(terrain.sizeX, terrain.sizeZ)
  const wanted = Math.min(Math.sqrt(SITES_PER_TILE / density), LARGEST_SPARSE_TILE)
  const side = powerOfTwo(floorLog2(Math.max(wanted, SMALLEST_TILE)))
  const least = extent / TILES_ALONG
  return side >= least ? side : powerOfTwo(floorLog2(least) + 1)
}

function prepareTerrainSpread(
  values: SpreadValues,
  source: CandidateSource,
  naming: Naming,
  members: Members,
  context: GrowContext,
): PreparedPlanting {
  const { bounds } = context.terrain
  const { largestRoom } = members
  const work = workspace
  const sites = work.sites
  const yieldsToEarlier = values.yields && largestRoom > 0
  // Rooms that fit into the guaranteed spacing cannot meet.
  const crowds = largestRoom > 0 && 2 * largestRoom > source.spacing
  const { limit } = source

  function grow(tile: Rect, near: Near | null, part: number): TileResult {
    let halo = crowds ? FIRST_HALO * largestRoom : 0
    for (;;) {
      const needed = halo + (yieldsToEarlier ? largestRoom : 0)
      if (near && !covers(near.known, tile, needed, bounds)) return { needsReach: needed }
      const area = widen(tile, halo)
      source.fill(intersect(area, bounds), sites)
      members.choose(limit, part, near?.around ?? NOTHING_AROUND)
      const taken = yieldsToEarlier && near && near.rooms.count > 0 ? roomIndex(near.rooms) : null
      const free = work.rows.subarray(0, taken ? rowsFreeOf(taken) : allRows())
      if (!crowds) return { block: members.finish(free, naming) }
      const order = byKeyThenId(free, work.key, sites, work.rank, members.ranks)
      // Beyond the ground's rim nothing stands: what is known reaches on without end there.
      const verdict = settleRooms(sites.x, sites.z, work.radius, order, openRim(area, bounds), largestRoom)
      const kept = keepInside(tile, free, verdict)
      if (kept >= 0) return { block: members.finish(free.subarray(0, kept), naming) }
      halo *= 2
    }
  }

  /** Moves the rows that stay inside the tile to the front; −1 when one of them is undecided. */
  function keepInside(tile: Rect, rows: Uint32Array, verdict: Uint8Array): number {
    const { x, z } = sites
    let kept = 0
    for (let k = 0; k < rows.length; k++) {
      const i = rows[k]
      if (!inside(tile, x[i], z[i])) continue
      if (verdict[i] === UNDECIDED) return -1
      if (verdict[i] === STAYS) rows[kept++] = i
    }
    return kept
  }

  const halo = crowds ? FIRST_HALO * largestRoom : 0
  return {
    tileSide: tileSideFor(source.density, context),
    bounds,
    largestRoom,
    reach: yieldsToEarlier ? halo + largestRoom : halo,
    exactCount: values.by === 'count' ? Math.round(values.count) : null,
    expected: () => (values.by === 'count' ? values.count : source.density * members.area(bounds)),
    grow,
  }
}

// At module level: made anew by every preparing, they would be compiled and optimised anew each time.

/** Writes all sites to the workspace's rows; returns how many. */
function allRows(): number {
  const { rows, sites } = workspace
  for (let i = 0; i < sites.count; i++) rows[i] = i
  return sites.count
}

/** Writes the sites that are free of earlier rooms to the workspace's rows; returns how many. */
function rowsFreeOf(taken: ReturnType<typeof roomIndex>): number {
  const { x, z, count } = workspace.sites
  const { radius, rows } = workspace
  let free = 0
  for (let i = 0; i < count; i++) if (!(radius[i] > 0) || !taken(x[i], z[i], radius[i])) rows[free++] = i
  return free
}

function inside(r: Rect, x: number, z: number): boolean {
  return x >= r.x0 && x < r.x1 && z >= r.z0 && z < r.z1
}

function widen(r: Rect, by: number): Rect {
  return by === 0 ? r : { x0: r.x0 - by, z0: r.z0 - by, x1: r.x1 + by, z1: r.z1 + by }
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
  const need = intersect(widen(tile, by), bounds)
  return known.x0 <= need.x0 && known.z0 <= need.z0 && known.x1 >= need.x1 && known.z1 >= need.z1
}
