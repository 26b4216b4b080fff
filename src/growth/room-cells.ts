import type { Block } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import { widened } from '../core/grounds/terrain.ts'
import { mix } from '../core/math/random.ts'
import { sharedFloats } from '../core/shared-memory.ts'
import type { Rooms } from '../core/stages/rooms.ts'

/** Cells along a tile's side. */
const SIDE = 4

/**
 * The rooms of a grown tile, sorted into 4 × 4 cells: members of cell c are start[c] … start[c + 1] − 1
 * of the columns. Each cell has a name of its content, so that what depends on it can tell whether
 * it has changed without looking at it.
 */
export interface RoomCells {
  readonly rect: Rect
  readonly start: Uint32Array
  /** x, y, z and radius, m, a quarter each. */
  readonly columns: Float32Array
  readonly names: Uint32Array
  /** A name of all cells together. */
  readonly name: number
}

/** Sorts the instances of a block with their rooms. */
export function roomCells({ position, room, count }: Block, rect: Rect): RoomCells {
  const perX = SIDE / (rect.x1 - rect.x0)
  const perZ = SIDE / (rect.z1 - rect.z0)
  const start = new Uint32Array(SIDE * SIDE + 1)
  const cells = new Uint8Array(count)
  for (let i = 0; i < count; i++) {
    cells[i] = SIDE * cellAlong(position[3 * i + 2] - rect.z0, perZ) + cellAlong(position[3 * i] - rect.x0, perX)
    start[cells[i] + 1]++
  }
  for (let c = 0; c < SIDE * SIDE; c++) start[c + 1] += start[c]
  const columns = sharedFloats(4 * count)
  const fill = start.slice()
  for (let i = 0; i < count; i++) {
    const at = fill[cells[i]]++
    columns[at] = position[3 * i]
    columns[count + at] = position[3 * i + 1]
    columns[2 * count + at] = position[3 * i + 2]
    columns[3 * count + at] = room[i]
  }
  const names = namesOf(start, columns)
  return { rect, start, columns, names, name: names.reduce((name, own) => mix(Math.imul(name, 0x9e3779b1) ^ own), 0) }
}

function cellAlong(distance: number, per: number): number {
  return Math.max(0, Math.min(SIDE - 1, Math.floor(distance * per)))
}

/** A 32-bit name of each cell's content; 0 for an empty one. */
function namesOf(start: Uint32Array, columns: Float32Array): Uint32Array {
  const words = new Uint32Array(columns.buffer)
  const count = columns.length / 4
  const names = new Uint32Array(SIDE * SIDE)
  for (let c = 0; c < SIDE * SIDE; c++) {
    let name = 0
    for (let i = start[c]; i < start[c + 1]; i++)
      name = mix(
        Math.imul(name, 0x9e3779b1) ^
          (Math.imul(words[i], 0x85ebca6b) + Math.imul(words[count + i], 0xc2b2ae35) + Math.imul(words[2 * count + i], 0x27d4eb2f) + Math.imul(words[3 * count + i], 0x165667b1)),
      )
    names[c] = name
  }
  return names
}

/** Whether all of a tile lies in a rectangle. */
function liesIn({ rect }: RoomCells, { x0, z0, x1, z1 }: Rect): boolean {
  return rect.x0 >= x0 && rect.z0 >= z0 && rect.x1 <= x1 && rect.z1 <= z1
}

/** Calls `visit` with the first and the last cell of every row of cells that meets a rectangle; once, with all, for a tile that lies in it. */
function cellRowsIn(cells: RoomCells, { x0, z0, x1, z1 }: Rect, visit: (first: number, last: number) => void): void {
  const { rect } = cells
  if (x1 < rect.x0 || x0 > rect.x1 || z1 < rect.z0 || z0 > rect.z1) return
  if (liesIn(cells, { x0, z0, x1, z1 })) return visit(0, SIDE * SIDE - 1)
  const perX = SIDE / (rect.x1 - rect.x0)
  const perZ = SIDE / (rect.z1 - rect.z0)
  const c0 = cellAlong(x0 - rect.x0, perX)
  const c1 = cellAlong(x1 - rect.x0, perX)
  const r1 = cellAlong(z1 - rect.z0, perZ)
  for (let r = cellAlong(z0 - rect.z0, perZ); r <= r1; r++) visit(SIDE * r + c0, SIDE * r + c1)
}

/** Calls `visit` with the number of every cell that meets a rectangle. */
function cellsIn(cells: RoomCells, rect: Rect, visit: (cell: number) => void): void {
  cellRowsIn(cells, rect, (first, last) => {
    for (let cell = first; cell <= last; cell++) visit(cell)
  })
}

/** Rooms of one earlier planting near a tile. */
export interface NearRooms {
  readonly tiles: readonly RoomCells[]
  /** Largest radius among them, m. */
  readonly largestRoom: number
}

/** A name of all rooms that reach into a tile widened by `reach`, as far as cells can tell. */
export function nameOfRooms(tile: Rect, reach: number, near: readonly NearRooms[]): string {
  let low = 0
  let high = 1
  near.forEach(({ tiles, largestRoom }, order) => {
    const rect = widened(tile, reach + largestRoom)
    const add = (name: number) => {
      if (name === 0) return
      low = mix(Math.imul(low, 0x85ebca77) ^ name ^ order)
      high = mix((high + name) ^ low)
    }
    for (const cells of tiles) {
      if (liesIn(cells, rect)) add(cells.name)
      else cellsIn(cells, rect, (cell) => add(cells.names[cell]))
    }
  })
  return low.toString(36) + high.toString(36)
}

/** The rooms that reach into a tile widened by `reach`, and maybe some beyond, where they stand: nothing is copied. */
export function roomsNear(tile: Rect, reach: number, near: readonly NearRooms[]): Rooms[] {
  const found: Rooms[] = []
  for (const { tiles, largestRoom } of near) {
    // Who takes no room is in nobody's way.
    if (!(largestRoom > 0)) continue
    const rect = widened(tile, reach + largestRoom)
    for (const cells of tiles) {
      const { columns, start } = cells
      // Cells of a row lie together.
      cellRowsIn(cells, rect, (first, last) => {
        if (start[first] < start[last + 1]) found.push({ columns, from: start[first], to: start[last + 1] })
      })
    }
  }
  return found
}

/** The same in one piece of memory of their own, for threads that share none. */
export function packRooms(tile: Rect, reach: number, near: readonly NearRooms[]): Rooms[] {
  const parts = roomsNear(tile, reach, near)
  const count = parts.reduce((sum, { from, to }) => sum + to - from, 0)
  if (count === 0) return []
  const columns = new Float32Array(4 * count)
  let at = 0
  for (const part of parts) {
    for (let c = 0; c < 4; c++) columns.set(part.columns.subarray((c * part.columns.length) / 4 + part.from, (c * part.columns.length) / 4 + part.to), c * count + at)
    at += part.to - part.from
  }
  return [{ columns, from: 0, to: count }]
}

/** Where the instances in a tile widened by `reach` stand: x, z columns in one buffer. */
export function packPlaces(tile: Rect, reach: number, { tiles }: NearRooms): Float32Array<ArrayBuffer> {
  const rect = widened(tile, reach)
  const places: number[] = []
  for (const cells of tiles) {
    const { start, columns } = cells
    const quarter = columns.length / 4
    cellRowsIn(cells, rect, (first, last) => {
      for (let i = start[first]; i < start[last + 1]; i++) {
        const [x, z] = [columns[i], columns[2 * quarter + i]]
        if (x >= rect.x0 && x <= rect.x1 && z >= rect.z0 && z <= rect.z1) places.push(x, z)
      }
    })
  }
  const count = places.length / 2
  const columns = new Float32Array(2 * count)
  for (let k = 0; k < count; k++) {
    columns[k] = places[2 * k]
    columns[count + k] = places[2 * k + 1]
  }
  return columns
}
