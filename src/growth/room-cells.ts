import type { Block } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import { mix } from '../core/math/random.ts'
import type { PackedRooms } from '../runner/protocol.ts'

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
  /** Positions and radii, m. */
  readonly x: Float32Array
  readonly y: Float32Array
  readonly z: Float32Array
  readonly radius: Float32Array
  readonly names: Uint32Array
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
  const total = start[SIDE * SIDE]
  const x = new Float32Array(total)
  const y = new Float32Array(total)
  const z = new Float32Array(total)
  const radius = new Float32Array(total)
  const fill = start.slice()
  for (let i = 0; i < count; i++) {
    const at = fill[cells[i]]++
    x[at] = position[3 * i]
    y[at] = position[3 * i + 1]
    z[at] = position[3 * i + 2]
    radius[at] = room[i]
  }
  return { rect, start, x, y, z, radius, names: namesOf(start, x, y, z, radius) }
}

function cellAlong(distance: number, per: number): number {
  return Math.max(0, Math.min(SIDE - 1, Math.floor(distance * per)))
}

/** A 32-bit name of each cell's content; 0 for an empty one. */
function namesOf(start: Uint32Array, ...columns: readonly Float32Array[]): Uint32Array {
  const words = columns.map((column) => new Uint32Array(column.buffer))
  const names = new Uint32Array(SIDE * SIDE)
  for (let c = 0; c < SIDE * SIDE; c++) {
    let name = 0
    for (let i = start[c]; i < start[c + 1]; i++)
      for (const column of words) name = mix(Math.imul(name, 0x9e3779b1) ^ column[i])
    names[c] = name
  }
  return names
}

/** Calls `visit` with the number of every cell that meets a rectangle. */
function cellsIn({ rect }: RoomCells, { x0, z0, x1, z1 }: Rect, visit: (cell: number) => void): void {
  const perX = SIDE / (rect.x1 - rect.x0)
  const perZ = SIDE / (rect.z1 - rect.z0)
  if (x1 < rect.x0 || x0 > rect.x1 || z1 < rect.z0 || z0 > rect.z1) return
  const c1 = cellAlong(x1 - rect.x0, perX)
  const r1 = cellAlong(z1 - rect.z0, perZ)
  for (let r = cellAlong(z0 - rect.z0, perZ); r <= r1; r++)
    for (let c = cellAlong(x0 - rect.x0, perX); c <= c1; c++) visit(SIDE * r + c)
}

/** Rooms of one earlier planting near a tile. */
export interface NearRooms {
  readonly tiles: readonly RoomCells[]
  /** Largest radius among them, m. */
  readonly largestRoom: number
}

const widened = (r: Rect, by: number): Rect => ({ x0: r.x0 - by, z0: r.z0 - by, x1: r.x1 + by, z1: r.z1 + by })

/** A name of all rooms that reach into a tile widened by `reach`, as far as cells can tell. */
export function nameOfRooms(tile: Rect, reach: number, near: readonly NearRooms[]): string {
  let low = 0
  let high = 1
  near.forEach(({ tiles, largestRoom }, order) => {
    const rect = widened(tile, reach + largestRoom)
    for (const cells of tiles)
      cellsIn(cells, rect, (cell) => {
        const name = cells.names[cell]
        if (name === 0) return
        low = mix(Math.imul(low, 0x85ebca77) ^ name ^ order)
        high = mix((high + name) ^ low)
      })
  })
  return low.toString(36) + high.toString(36)
}

/** The rooms that reach into a tile widened by `reach`, with what is thereby known. */
export function packRooms(tile: Rect, reach: number, near: readonly NearRooms[]): PackedRooms & { readonly known: Rect } {
  let most = 0
  for (const { tiles, largestRoom } of near) {
    const rect = widened(tile, reach + largestRoom)
    for (const cells of tiles) cellsIn(cells, rect, (cell) => (most += cells.start[cell + 1] - cells.start[cell]))
  }
  const columns = new Float32Array(4 * most)
  let count = 0
  for (const { tiles, largestRoom } of near) {
    const rect = widened(tile, reach + largestRoom)
    for (const cells of tiles) {
      const { start, x, y, z, radius } = cells
      cellsIn(cells, rect, (cell) => {
        for (let i = start[cell]; i < start[cell + 1]; i++) {
          if (!(radius[i] > 0) || x[i] < rect.x0 || x[i] > rect.x1 || z[i] < rect.z0 || z[i] > rect.z1) continue
          columns[count] = x[i]
          columns[most + count] = y[i]
          columns[2 * most + count] = z[i]
          columns[3 * most + count] = radius[i]
          count++
        }
      })
    }
  }
  return { known: widened(tile, reach), columns, count }
}

/** Where the instances in a tile widened by `reach` stand: x, z columns in one buffer. */
export function packPlaces(tile: Rect, reach: number, { tiles }: NearRooms): Float32Array<ArrayBuffer> {
  const rect = widened(tile, reach)
  const places: number[] = []
  for (const cells of tiles) {
    const { start, x, z } = cells
    cellsIn(cells, rect, (cell) => {
      for (let i = start[cell]; i < start[cell + 1]; i++)
        if (x[i] >= rect.x0 && x[i] <= rect.x1 && z[i] >= rect.z0 && z[i] <= rect.z1) places.push(x[i], z[i])
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
