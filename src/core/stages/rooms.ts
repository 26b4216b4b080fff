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

/** Smallest radius of the lowest level, m; each level above holds radii up to twice the one below. */
const FINEST_LEVEL = 1 / 1024

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
 * `order` lists candidates by falling priority. `largest` is the largest radius there can be.
 * After Cook (1986) and Wei (2008), with the priority drawn per candidate instead of per visit.
 * Only those that stay or may stay are entered into a grid, one grid for each power of two of radii,
 * so that small ones are not searched for in large cells. Returns a verdict per candidate, which the next settling writes over.
 */
export function settleRooms(
  x: ArrayLike<number>,
  z: ArrayLike<number>,
  radius: ArrayLike<number>,
  order: Uint32Array,
  known: { x0: number; z0: number; x1: number; z1: number },
  largest: number,
): Uint8Array {
  if (verdicts.length < x.length) verdicts = new Uint8Array(2 * x.length)
  const verdict = verdicts
  const box = layPlaces(x, z, radius, order)
  const { px, pz, pr, next, standing } = places
  const { x0, z0, x1, z1 } = known
  const levels: StandingLevel[] = []
  let cellsTaken = 0
  for (let k = 0; k < order.length; k++) {
    const r = pr[k]
    if (!(r > 0)) {
      verdict[order[k]] = STAYS
      continue
    }
    const cx = px[k]
    const cz = pz[k]
    const reach = r + largest
    let found = cx - reach < x0 || cx + reach > x1 || cz - reach < z0 || cz + reach > z1 ? UNDECIDED : STAYS
    for (let l = 0; l < levels.length && found !== YIELDS; l++) {
      const { top, perCell, columns, rows, from } = levels[l]
      const near = r + top
      const c0 = Math.max(0, ((cx - near - box.x0) * perCell) | 0)
      const c1 = Math.min(columns - 1, ((cx + near - box.x0) * perCell) | 0)
      const r0 = Math.max(0, ((cz - near - box.z0) * perCell) | 0)
      const r1 = Math.min(rows - 1, ((cz + near - box.z0) * perCell) | 0)
      for (let row = r0; row <= r1 && found !== YIELDS; row++) {
        const end = from + row * columns + c1
        for (let cell = from + row * columns + c0; cell <= end && found !== YIELDS; cell++)
          for (let m = standingHeads[cell]; m >= 0; m = next[m]) {
            const dx = px[m] - cx
            const dz = pz[m] - cz
            const apart = pr[m] + r
            if (dx * dx + dz * dz >= apart * apart) continue
            if (standing[m] === STAYS) {
              found = YIELDS
              break
            }
            found = UNDECIDED
          }
      }
    }
    verdict[order[k]] = found
    if (found === YIELDS) continue
    standing[k] = found
    let level = levelOf(levels, r)
    if (!level) {
      level = levelFor(r, box, order.length, cellsTaken)
      levels.push(level)
      cellsTaken += level.columns * level.rows
    }
    const cell =
      level.from +
      Math.min(level.rows - 1, ((cz - box.z0) * level.perCell) | 0) * level.columns +
      Math.min(level.columns - 1, ((cx - box.x0) * level.perCell) | 0)
    next[k] = standingHeads[cell]
    standingHeads[cell] = k
  }
  return verdict.subarray(0, x.length)
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
    /** The next one in the same cell, −1 at the end. */
    next: new Int32Array(capacity),
    standing: new Uint8Array(capacity),
  }
}

/** What the candidates cover, m. */
interface PlaceBox {
  readonly x0: number
  readonly z0: number
  readonly width: number
  readonly depth: number
}

function layPlaces(x: ArrayLike<number>, z: ArrayLike<number>, radius: ArrayLike<number>, order: Uint32Array): PlaceBox {
  const count = order.length
  if (places.capacity < count) places = makePlaces(2 * count)
  const { px, pz, pr } = places
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
  return { x0, z0, width: x1 - x0, depth: z1 - z0 }
}

/** A grid of those of one power of two of radii; cell c lists standingHeads[from + c], its next, … */
interface StandingLevel {
  /** Largest radius of the level, m. */
  readonly top: number
  readonly perCell: number
  readonly columns: number
  readonly rows: number
  readonly from: number
}

/** The heads of all levels' cells, one level after the other. */
let standingHeads = new Int32Array(16384)

function levelOf(levels: readonly StandingLevel[], radius: number): StandingLevel | null {
  for (const level of levels) if (radius <= level.top && (radius > 0.5 * level.top || level.top === FINEST_LEVEL)) return level
  return null
}

/** An empty level for a radius, its cells from `from` on. */
function levelFor(radius: number, { width, depth }: PlaceBox, candidates: number, from: number): StandingLevel {
  let top = FINEST_LEVEL
  while (top < radius) top *= 2
  // No more cells than there are candidates, about.
  const side = Math.max(2 * top, Math.sqrt((width * depth) / candidates), width / MOST_ALONG, depth / MOST_ALONG)
  const columns = Math.floor(width / side) + 1
  const rows = Math.floor(depth / side) + 1
  const to = from + columns * rows
  if (standingHeads.length < to) {
    const before = standingHeads
    standingHeads = new Int32Array(2 * to)
    standingHeads.set(before)
  }
  standingHeads.fill(-1, from, to)
  return { top, perCell: 1 / side, columns, rows, from }
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
