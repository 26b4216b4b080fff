import type { Block } from '../columns.ts'
import { blockOf } from '../columns.ts'
import type { Rect } from '../ground/terrain.ts'
import { choice, flag, length, number, phrase, share } from '../kinds.ts'
import type { ValuesOf } from '../kinds.ts'
import { CHANNEL, draw } from '../math/random.ts'
import { closed, prepareStance, sizeDrawer, STANCE_PARAMS } from '../stance/stance.ts'
import type { CandidateSource } from './candidates.ts'
import { evenSource, randomSource } from './candidates.ts'
import type { GrowContext, KnownRooms, PreparedPlanting, TileResult } from './define.ts'
import { definePlanting } from './define.ts'
import { EVEN_FILL, evenPattern, evenScaleOfDensity, evenScaleOfSpacing, floorLog2, powerOfTwo } from './even-pattern.ts'
import { habitatArea, prepareHabitat } from './habitat.ts'
import type { Habitat } from './habitat.ts'
import { byKeyThenId } from './order.ts'
import { roomIndex, settleRooms, STAYS, UNDECIDED } from './rooms.ts'
import { fitWorkspace, workspace } from './workspace.ts'

const howMany = 'how-many'

const PARAMS = {
  by: choice(
    'spacing',
    [
      { value: 'spacing', label: 'a spacing' },
      { value: 'density', label: 'a density' },
      { value: 'count', label: 'an exact count' },
    ],
    { fold: howMany, label: 'Say how many by', help: 'The spacing between them, how many per area, or how many in all.' },
  ),
  spacing: length(2, {
    fold: howMany,
    label: 'Spacing',
    help: 'Distance between neighbours. Even placing guarantees it.',
    min: 0.02,
    max: 500,
    step: 0.05,
    shownWhen: { param: 'by', is: ['spacing'] },
  }),
  density: number('per-m2', 0.2, {
    fold: howMany,
    label: 'Density',
    help: 'Instances per square metre where all conditions are fully met.',
    min: 0.000001,
    max: 2000,
    step: 0.05,
    shownWhen: { param: 'by', is: ['density'] },
  }),
  count: number('count', 500, {
    fold: howMany,
    label: 'Count',
    help: 'Just so many, wherever the conditions and the room allow it.',
    min: 0,
    max: 2000000,
    step: 10,
    shownWhen: { param: 'by', is: ['count'] },
  }),
  placing: choice(
    'even',
    [
      { value: 'even', label: 'evenly' },
      { value: 'random', label: 'at random' },
    ],
    { fold: howMany, label: 'Placed', help: 'Evenly keeps a distance to all neighbours; at random lets some stand close.' },
  ),
  room: share(1, {
    fold: howMany,
    label: 'Own room',
    help: "Share of each asset's own room that is kept free around it; 0 % lets them overlap.",
    max: 5,
    step: 0.05,
  }),
  yields: flag(true, {
    fold: howMany,
    label: 'Keep out of the room of plantings above',
    help: 'Plantings higher in the list take their room first.',
  }),
  ...STANCE_PARAMS,
}

type Values = ValuesOf<typeof PARAMS>

export const spread = definePlanting({
  kind: 'spread',
  label: 'Spread',
  help: 'Fills the ground by rule.',
  params: PARAMS,
  howMany(p) {
    const placed = phrase`${{ param: 'placing' }}`
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
    const habitat = prepareHabitat(planting.habitat, context.terrain, context.waterLevel, context.outlines, seed)
    const source = chooseSource(values, seed, context, habitat, finer)
    return prepareSpread(values, planting.mix, source, habitat, context)
  },
})

function chooseSource(
  values: Values,
  seed: number,
  { terrain, assets }: GrowContext,
  habitat: Habitat,
  finer: number,
): CandidateSource {
  const even = values.placing === 'even'
  if (values.by === 'spacing')
    return even
      ? evenSource(seed, evenScaleOfSpacing(values.spacing))
      : randomSource(seed, EVEN_FILL / (values.spacing * values.spacing))
  if (values.by === 'density')
    return even ? evenSource(seed, evenScaleOfDensity(values.density)) : randomSource(seed, values.density)
  // A whole octave with candidates to spare; which N stay is settled over all tiles by their keys.
  const area = Math.max(habitatArea(habitat, terrain.bounds), 1e-6 * terrain.sizeX * terrain.sizeZ)
  const wanted = Math.min((1.3 * powerOfTwo(2 * finer) * Math.max(values.count, 1)) / area, mostDensity(values, assets))
  const full = evenPattern().count
  const octave = floorLog2(Math.sqrt(full / wanted))
  return even
    ? evenSource(seed, { octave, prefix: full })
    : randomSource(seed, full / powerOfTwo(2 * octave))
}

/** Candidates beyond this density only lose to others: four for the square of the smallest room there can be. */
function mostDensity(values: Values, assets: GrowContext['assets']): number {
  const [smallest] = closed(values.size)
  let room = Infinity
  for (const asset of assets) room = Math.min(room, asset.room * smallest * values.room)
  return room > 0 && room < Infinity ? 4 / (room * room) : Infinity
}

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

/** Cumulative shares of a mix, ending in 1; an empty mix gives none. */
function cumulativeShares(mix: readonly { share: number }[]): Float64Array {
  let total = 0
  for (const entry of mix) total += Math.max(entry.share, 0)
  const sums = new Float64Array(mix.length)
  let sum = 0
  mix.forEach((entry, i) => {
    sum += total > 0 ? Math.max(entry.share, 0) / total : 1 / mix.length
    sums[i] = sum
  })
  if (sums.length > 0) sums[sums.length - 1] = 1
  return sums
}

function prepareSpread(
  values: Values,
  mix: readonly { share: number }[],
  source: CandidateSource,
  habitat: Habitat,
  context: GrowContext,
): PreparedPlanting {
  const { terrain, assets, assetNumbers } = context
  const { bounds } = terrain
  const work = workspace
  const sites = work.sites
  const shares = cumulativeShares(mix)
  const lastShare = shares.length - 1
  const drawSizes = sizeDrawer(values)
  const stand = prepareStance(values, terrain)
  const bases = assets.map((asset) => asset.base)
  const rooms = Float64Array.from(assets, (asset) => asset.room * values.room)
  const [, largestSize] = closed(values.size)
  const largestRoom = rooms.reduce((most, room) => Math.max(most, room * largestSize), 0)
  const yieldsToEarlier = values.yields && largestRoom > 0
  // Rooms that fit into the guaranteed spacing cannot meet.
  const crowds = largestRoom > 0 && 2 * largestRoom > source.spacing
  // Larger assets first; the same for all sizes of one asset, so that more density displaces none of its own.
  const rankOfAsset = rankBySize(assets.map((asset) => asset.room))
  const { limit } = source

  /** Leaves in the workspace the candidates of a rectangle that stand under all conditions, with asset, size and room. */
  function findSites(rect: Rect, part: number): void {
    source.fill(intersect(rect, bounds), sites)
    if (assets.length === 0) sites.count = 0
    habitat(sites)
    fitWorkspace(work)
    thin(limit * part)
    drawSizes(sites.draws, sites.count, work.size)
    pickAssets()
  }

  /** Drops sites by their own rank and weight; keeps what is needed of the rest. */
  function thin(wanted: number): void {
    const { x, y, z, rank, weight, draws, idLow, idHigh, count } = sites
    const { key } = work
    let n = 0
    for (let i = 0; i < count; i++) {
      const r = rank[i]
      const w = weight[i]
      if (!(r < wanted * w)) continue
      key[n] = r / (limit * w)
      if (n !== i) {
        x[n] = x[i]
        y[n] = y[i]
        z[n] = z[i]
        idLow[n] = idLow[i]
        idHigh[n] = idHigh[i]
        draws[n] = draws[i]
      }
      n++
    }
    sites.count = n
  }

  function pickAssets(): void {
    const { draws, count } = sites
    const { pick, rank, size, radius } = work
    for (let i = 0; i < count; i++) {
      let a = 0
      if (lastShare > 0) {
        const u = draw(draws[i], CHANNEL.asset)
        while (a < lastShare && u >= shares[a]) a++
      }
      pick[i] = a
      rank[i] = rankOfAsset[a]
      radius[i] = rooms[a] * size[i]
    }
  }

  /** Writes the sites that are free of earlier rooms to the workspace's rows; returns how many. */
  function freeOf(earlier: KnownRooms | null): number {
    const { x, z, count } = sites
    const { radius, rows } = work
    const taken = yieldsToEarlier && earlier && earlier.rooms.count > 0 ? roomIndex(earlier.rooms) : null
    let free = 0
    for (let i = 0; i < count; i++) if (!taken || !(radius[i] > 0) || !taken(x[i], z[i], radius[i])) rows[free++] = i
    return free
  }

  function grow(tile: Rect, earlier: KnownRooms | null, part: number): TileResult {
    let halo = crowds ? FIRST_HALO * largestRoom : 0
    for (;;) {
      if (yieldsToEarlier && earlier && !covers(earlier.known, tile, halo + largestRoom, bounds))
        return { needsReach: halo + largestRoom }
      const area = widen(tile, halo)
      findSites(area, part)
      const free = work.rows.subarray(0, freeOf(earlier))
      if (!crowds) return { block: finish(free) }
      const order = byKeyThenId(free, work.key, sites, work.rank)
      // Beyond the ground's rim nothing stands: what is known reaches on without end there.
      const verdict = settleRooms(sites.x, sites.z, work.radius, order, openRim(area, bounds), largestRoom)
      const kept = keepInside(tile, free, verdict)
      if (kept >= 0) return { block: finish(free.subarray(0, kept)) }
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

  function finish(stay: Uint32Array): Block {
    const { idLow, idHigh } = sites
    const { pick, size, key, radius } = work
    const rows = byKeyThenId(stay, key, sites, pick)
    const block = blockOf(rows.length)
    block.tint.fill(0xffffffff)
    for (let k = 0; k < rows.length; k++) {
      const i = rows[k]
      block.idLow[k] = idLow[i]
      block.idHigh[k] = idHigh[i]
      block.key[k] = key[i]
      block.room[k] = radius[i]
      block.asset[k] = assetNumbers[pick[i]]
      block.scale[3 * k] = block.scale[3 * k + 1] = block.scale[3 * k + 2] = size[i]
    }
    stand(sites, rows, size, pick, bases, block)
    return block
  }

  return {
    tileSide: tileSideFor(source.density, context),
    largestRoom,
    reach: yieldsToEarlier ? (crowds ? FIRST_HALO + 1 : 1) * largestRoom : 0,
    exactCount: values.by === 'count' ? Math.round(values.count) : null,
    expected: values.by === 'count' ? values.count : source.density * habitatArea(habitat, bounds),
    grow,
  }
}

/** Rank 0 for the largest room, 1 for the next, equal for equal ones. */
function rankBySize(rooms: readonly number[]): Uint16Array {
  const falling = [...new Set(rooms)].sort((a, b) => b - a)
  return Uint16Array.from(rooms, (room) => falling.indexOf(room))
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
