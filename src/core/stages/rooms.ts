import type { Places as KnownPlaces } from '../surroundings.ts'

/**
 * Room: nobody stands where the rooms of two would overlap in plan. Two questions are answered
 * here: which sites are free of instances that were there before, and who of the rest stays.
 */

/** What stands already: rows `from` to `to` (not among them) of columns of x, y, z and radius, m, a quarter each. Heights matter on meshes alone. */
export interface Rooms {
  readonly columns: Float32Array
  readonly from: number
  readonly to: number
}

/** A uniform grid over points: members of cell c are order[start[c]] … order[start[c + 1] − 1]. */
interface Grid {
  readonly x0: number
  readonly z0: number
  readonly perCell: number
  readonly columns: number
  readonly rows: number
  readonly start: Uint32Array
  readonly order: Uint32Array
}

/** Most cells of a grid, and along one side of one; sparse points get larger cells instead. */
const MAX_CELLS = 1 << 20
const MOST_ALONG = 1 << 10

function gridOf(x: ArrayLike<number>, z: ArrayLike<number>, members: Uint32Array, cell: number): Grid {
  let x0 = Infinity
  let z0 = Infinity
  let x1 = -Infinity
  let z1 = -Infinity
  for (let k = 0; k < members.length; k++) {
    const i = members[k]
    if (x[i] < x0) x0 = x[i]
    if (x[i] > x1) x1 = x[i]
    if (z[i] < z0) z0 = z[i]
    if (z[i] > z1) z1 = z[i]
  }
  let side = cell
  while (members.length > 0 && (Math.floor((x1 - x0) / side) + 1) * (Math.floor((z1 - z0) / side) + 1) > MAX_CELLS)
    side *= 2
  const columns = members.length === 0 ? 0 : Math.floor((x1 - x0) / side) + 1
  const rows = members.length === 0 ? 0 : Math.floor((z1 - z0) / side) + 1
  const perCell = 1 / side
  const start = new Uint32Array(columns * rows + 1)
  const cells = new Uint32Array(members.length)
  for (let k = 0; k < members.length; k++) {
    const i = members[k]
    // Rounding may carry a point on the far edge one cell too far.
    const c = Math.min(Math.floor((x[i] - x0) * perCell), columns - 1)
    const r = Math.min(Math.floor((z[i] - z0) * perCell), rows - 1)
    cells[k] = r * columns + c
    start[cells[k] + 1]++
  }
  for (let c = 0; c < columns * rows; c++) start[c + 1] += start[c]
  const order = new Uint32Array(members.length)
  const fill = start.slice()
  for (let k = 0; k < members.length; k++) order[fill[cells[k]]++] = members[k]
  return { x0, z0, perCell, columns, rows, start, order }
}

/** Calls `visit` for members in cells that meet the square of half side `reach`; stops when it says so. */
function anyNear(grid: Grid, x: number, z: number, reach: number, visit: (member: number) => boolean): boolean {
  const c0 = Math.max(0, Math.floor((x - reach - grid.x0) * grid.perCell))
  const c1 = Math.min(grid.columns - 1, Math.floor((x + reach - grid.x0) * grid.perCell))
  const r0 = Math.max(0, Math.floor((z - reach - grid.z0) * grid.perCell))
  const r1 = Math.min(grid.rows - 1, Math.floor((z + reach - grid.z0) * grid.perCell))
  for (let r = r0; r <= r1; r++)
    for (let k = grid.start[r * grid.columns + c0], end = grid.start[r * grid.columns + c1 + 1]; c1 >= c0 && k < end; k++)
      if (visit(grid.order[k])) return true
  return false
}

/**
 * Moves to the front those of `rows` whose rooms meet none that stands already; returns how many. The asking ones
 * are entered into a grid, as they are few where conditions have thinned them, and every room that stands strikes
 * out those that it meets. Rows without a radius are free.
 */
export function freeOfRooms(x: Float64Array, z: Float64Array, radius: Float64Array, rows: Uint32Array, rooms: readonly Rooms[]): number {
  const box = rooms.length > 0 ? boxOfRows(x, z, radius, rows) : null
  if (box && box.widest > 0) strikeOut(x, z, radius, rows, box, rooms)
  let free = 0
  for (let k = 0; k < rows.length; k++) if (rows[k] !== STRUCK) rows[free++] = rows[k]
  return free
}

/** Stands for a row that was struck out. */
const STRUCK = 0xffffffff

/** What the rows with rooms cover, m, and the widest room among them. */
interface RowBox {
  readonly x0: number
  readonly z0: number
  readonly x1: number
  readonly z1: number
  readonly widest: number
}

function boxOfRows(x: Float64Array, z: Float64Array, radius: Float64Array, rows: Uint32Array): RowBox {
  let [x0, z0, x1, z1, widest] = [Infinity, Infinity, -Infinity, -Infinity, 0]
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    if (!(radius[i] > 0)) continue
    if (x[i] < x0) x0 = x[i]
    if (x[i] > x1) x1 = x[i]
    if (z[i] < z0) z0 = z[i]
    if (z[i] > z1) z1 = z[i]
    if (radius[i] > widest) widest = radius[i]
  }
  return { x0, z0, x1, z1, widest }
}

// At module level: made anew by every call, it would be compiled and optimised anew each time.
function strikeOut(x: Float64Array, z: Float64Array, radius: Float64Array, rows: Uint32Array, box: RowBox, rooms: readonly Rooms[]): void {
  const { x0, z0, x1, z1, widest } = box
  // About one row to a cell, and no cell much narrower than a room reaches.
  let side = Math.max(widest, Math.sqrt(((x1 - x0) * (z1 - z0)) / rows.length), 1e-3)
  while ((Math.floor((x1 - x0) / side) + 1) * (Math.floor((z1 - z0) / side) + 1) > MAX_CELLS) side *= 2
  const per = 1 / side
  const columns = Math.floor((x1 - x0) * per) + 1
  const lastRow = Math.floor((z1 - z0) * per)
  const cells = columns * (lastRow + 1)
  if (heads.length < cells) heads = new Int32Array(2 * cells)
  if (nexts.length < rows.length) nexts = new Int32Array(2 * rows.length)
  const head = heads
  const next = nexts
  head.fill(-1, 0, cells)
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    if (!(radius[i] > 0)) continue
    const cell = ((z[i] - z0) * per | 0) * columns + ((x[i] - x0) * per | 0)
    next[k] = head[cell]
    head[cell] = k
  }
  const asking: Asking = { x, z, radius, rows, box, per, columns, lastRow }
  for (const one of rooms) strikeOutBy(one, asking)
}

/** Rows that ask for room, in a grid of cells: {@link heads} and {@link nexts}. */
interface Asking {
  readonly x: Float64Array
  readonly z: Float64Array
  readonly radius: Float64Array
  readonly rows: Uint32Array
  readonly box: RowBox
  readonly per: number
  readonly columns: number
  readonly lastRow: number
}

function strikeOutBy({ columns: room, from, to }: Rooms, { x, z, radius, rows, box: { x0, z0, x1, z1, widest }, per, columns, lastRow }: Asking): void {
  const head = heads
  const next = nexts
  const quarter = room.length >> 2
  for (let j = from; j < to; j++) {
    const r = room[3 * quarter + j]
    if (!(r > 0)) continue
    const cx = room[j]
    const cz = room[2 * quarter + j]
    const reach = r + widest
    if (cx + reach < x0 || cx - reach > x1 || cz + reach < z0 || cz - reach > z1) continue
    const c0 = Math.max(0, Math.floor((cx - reach - x0) * per))
    const c1 = Math.min(columns - 1, Math.floor((cx + reach - x0) * per))
    const r0 = Math.max(0, Math.floor((cz - reach - z0) * per))
    const r1 = Math.min(lastRow, Math.floor((cz + reach - z0) * per))
    for (let row = r0; row <= r1; row++)
      for (let cell = row * columns + c0, end = row * columns + c1; cell <= end; cell++)
        for (let k = head[cell], before = -1; k >= 0; k = next[k]) {
          const i = rows[k]
          const dx = cx - x[i]
          const dz = cz - z[i]
          const apart = r + radius[i]
          if (dx * dx + dz * dz >= apart * apart) {
            before = k
            continue
          }
          rows[k] = STRUCK
          if (before < 0) head[cell] = next[k]
          else next[before] = next[k]
        }
  }
}

let heads = new Int32Array(8192)
let nexts = new Int32Array(8192)

/** Verdicts of {@link settleRooms}. */
export const STAYS = 1
export const YIELDS = 2
/** Somebody beyond the known area could decide it. */
export const UNDECIDED = 3

/**
 * Priority dart throwing, exact for the part of the plane that is known: a candidate stays if no
 * candidate of higher priority that stays overlaps it. What depends on candidates beyond the known
 * rectangle is marked undecided, and so is what depends on those.
 *
 * `order` lists candidates by falling priority. `largest` is the largest radius there can be. No two candidates,
 * here or beyond, are nearer to each other than `spacing`, so that those whose radii fit into it are never compared.
 * After Cook (1986) and Wei (2008), with the priority drawn per candidate instead of per visit: whoever stays strikes
 * out those after it that it overlaps, which are then never looked at. Returns a verdict per candidate, which the
 * next settling writes over.
 */
export function settleRooms(
  x: ArrayLike<number>,
  z: ArrayLike<number>,
  radius: ArrayLike<number>,
  order: Uint32Array,
  { x0, z0, x1, z1 }: { x0: number; z0: number; x1: number; z1: number },
  largest: number,
  spacing: number,
): Uint8Array {
  if (verdicts.length < x.length) verdicts = new Uint8Array(2 * x.length)
  const grid = enterPlaces(x, z, radius, order)
  const { px, pz, pr, mostAfter, verdict } = places
  // Less what rounding may take off a distance.
  const apartAnyway = spacing * (1 - 1e-9)
  for (let k = 0; k < order.length; k++) {
    const r = pr[k]
    let found = verdict[k]
    if (found !== YIELDS && r > 0) {
      const reach = r + largest
      if (reach > apartAnyway && (px[k] - reach < x0 || px[k] + reach > x1 || pz[k] - reach < z0 || pz[k] + reach > z1)) found = UNDECIDED
      if (r + mostAfter[k + 1] > apartAnyway) strikeAfter(k, found, r + mostAfter[k + 1], grid)
    }
    verdicts[order[k]] = found
  }
  return verdicts.subarray(0, x.length)
}

/** The verdicts of the last settling: who settles reads them before the next one. */
let verdicts = new Uint8Array(8192)

/** Candidates in the order they are judged in, as columns that are kept from one settling to the next. */
let places = makePlaces(8192)

function makePlaces(capacity: number) {
  return {
    capacity,
    px: new Float64Array(capacity),
    pz: new Float64Array(capacity),
    pr: new Float64Array(capacity),
    /** The largest radius from one of them on. */
    mostAfter: new Float64Array(capacity + 1),
    /** The next one in the same cell, −1 at the end; cells list them in their order. */
    next: new Int32Array(capacity),
    /** What those before it make of it: it stays, as far as they say. */
    verdict: new Uint8Array(capacity),
  }
}

/** Cells over all candidates: {@link placeHeads} has the first of each. */
interface PlaceGrid {
  readonly x0: number
  readonly z0: number
  readonly perCell: number
  readonly columns: number
  readonly rows: number
}

let placeHeads = new Int32Array(16384)

/** Lays out the candidates in their order, and enters those with rooms into a grid. */
function enterPlaces(x: ArrayLike<number>, z: ArrayLike<number>, radius: ArrayLike<number>, order: Uint32Array): PlaceGrid {
  const count = order.length
  if (places.capacity < count) places = makePlaces(2 * count)
  const { px, pz, pr, mostAfter, next, verdict } = places
  let x0 = Infinity
  let z0 = Infinity
  let x1 = -Infinity
  let z1 = -Infinity
  for (let k = 0; k < count; k++) {
    const i = order[k]
    px[k] = x[i]
    pz[k] = z[i]
    pr[k] = radius[i]
    if (px[k] < x0) x0 = px[k]
    if (px[k] > x1) x1 = px[k]
    if (pz[k] < z0) z0 = pz[k]
    if (pz[k] > z1) z1 = pz[k]
  }
  // About one to a cell.
  const side = Math.max(Math.sqrt(((x1 - x0) * (z1 - z0)) / count), (x1 - x0) / MOST_ALONG, (z1 - z0) / MOST_ALONG, 1e-6)
  const perCell = 1 / side
  const columns = count > 0 ? Math.floor((x1 - x0) * perCell) + 1 : 0
  const rows = count > 0 ? Math.floor((z1 - z0) * perCell) + 1 : 0
  if (placeHeads.length < columns * rows) placeHeads = new Int32Array(2 * columns * rows)
  const heads = placeHeads
  heads.fill(-1, 0, columns * rows)
  verdict.fill(STAYS, 0, count)
  mostAfter[count] = 0
  for (let k = count - 1; k >= 0; k--) {
    mostAfter[k] = pr[k] > mostAfter[k + 1] ? pr[k] : mostAfter[k + 1]
    if (!(pr[k] > 0)) continue
    const cell = (((pz[k] - z0) * perCell) | 0) * columns + (((px[k] - x0) * perCell) | 0)
    next[k] = heads[cell]
    heads[cell] = k
  }
  return { x0, z0, perCell, columns, rows }
}

/** Tells those after candidate `k`, which stays or is undecided, that they overlap it; none reaches it from farther than `reach`. */
function strikeAfter(k: number, found: number, reach: number, { x0, z0, perCell, columns, rows }: PlaceGrid): void {
  const { px, pz, pr, next, verdict } = places
  const heads = placeHeads
  const cx = px[k]
  const cz = pz[k]
  const r = pr[k]
  const c0 = Math.max(0, ((cx - reach - x0) * perCell) | 0)
  const c1 = Math.min(columns - 1, ((cx + reach - x0) * perCell) | 0)
  const r0 = Math.max(0, ((cz - reach - z0) * perCell) | 0)
  const r1 = Math.min(rows - 1, ((cz + reach - z0) * perCell) | 0)
  for (let row = r0; row <= r1; row++)
    for (let cell = row * columns + c0, end = row * columns + c1; cell <= end; cell++)
      for (let m = heads[cell], before = -1; m >= 0; m = next[m]) {
        if (m > k) {
          const dx = px[m] - cx
          const dz = pz[m] - cz
          const apart = pr[m] + r
          if (dx * dx + dz * dz >= apart * apart) {
            before = m
            continue
          }
          if (found === UNDECIDED) {
            verdict[m] = UNDECIDED
            before = m
            continue
          }
          verdict[m] = YIELDS
        }
        // Whoever has been judged, or is struck out, is not met again.
        if (before < 0) heads[cell] = next[m]
        else next[before] = next[m]
      }
}

/** An index of places that answers how far the nearest is; `cell` is about the farthest that will be asked, m. */
export function nearestOf(x: Float32Array, z: Float32Array, cell: number): KnownPlaces {
  const count = x.length
  const members = Uint32Array.from(x, (_, i) => i)
  const grid = gridOf(x, z, members, Math.max(cell / 2, 1e-3))
  return {
    count,
    nearest(px, pz, limit) {
      if (count === 0) return Infinity
      let found = Infinity
      const look = (reach: number) =>
        anyNear(grid, px, pz, reach, (i) => {
          const d = (x[i] - px) * (x[i] - px) + (z[i] - pz) * (z[i] - pz)
          if (d < found && d <= limit * limit) found = d
          return false
        })
      // Close by first: what is there bounds how far to look.
      const close = limit / 4
      look(close)
      if (found > close * close) look(found < Infinity ? Math.sqrt(found) : limit)
      return Math.sqrt(found)
    },
  }
}
