import fc from 'fast-check'
import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Rooms } from '../core/stages/rooms.ts'
import { nameOfRooms, packRooms, roomCells, roomsNear } from './room-cells.ts'

const SIDE = 8
const LARGEST = 2

interface Room {
  readonly x: number
  readonly y: number
  readonly z: number
  readonly radius: number
}

// Evenly spread: doubles are drawn by their bits, which makes nearly all of them tiny.
const between = (min: number, max: number) => fc.integer({ min: 1000 * min, max: 1000 * max }).map((n) => n / 1000)
const along = between(0, 2 * SIDE).map(Math.fround)
const rooms = fc.array(fc.record({ x: along, y: along, z: along, radius: fc.oneof(fc.constant(0), between(0.1, LARGEST).map(Math.fround)) }), {
  maxLength: 60,
})
const corner = between(-4, 2 * SIDE + 4)
const tiles = fc.record({ x: corner, z: corner, w: between(0.1, 9), h: between(0.1, 9) }).map(({ x, z, w, h }): Rect => ({ x0: x, z0: z, x1: x + w, z1: z + h }))
const reaches = between(0, 4)

/** The four tiles of a 16 m square with their own rooms. */
function fourTiles(list: readonly Room[]) {
  return [0, 1, 2, 3].map((k) => {
    const rect = { x0: SIDE * (k % 2), z0: SIDE * (k >> 1), x1: SIDE * ((k % 2) + 1), z1: SIDE * ((k >> 1) + 1) }
    const own = list.filter(({ x, z }) => Math.min(1, Math.floor(x / SIDE)) === k % 2 && Math.min(1, Math.floor(z / SIDE)) === k >> 1)
    return roomCells(blockWith(own), rect)
  })
}

function blockWith(list: readonly Room[]): Block {
  const block = blockOf(list.length)
  list.forEach(({ x, y, z, radius }, i) => {
    block.position[3 * i] = x
    block.position[3 * i + 1] = y
    block.position[3 * i + 2] = z
    block.room[i] = radius
  })
  return block
}

/** All rooms of some parts. */
function roomsIn(parts: readonly Rooms[]): Room[] {
  return parts.flatMap(({ columns, from, to }) => {
    const at = (column: number, k: number) => columns[(column * columns.length) / 4 + from + k]
    return Array.from({ length: to - from }, (_, k) => ({ x: at(0, k), y: at(1, k), z: at(2, k), radius: at(3, k) }))
  })
}

const sorted = (list: readonly Room[]) => list.map(({ x, y, z, radius }) => `${x} ${y} ${z} ${radius}`).sort()

describe('rooms in cells', () => {
  it('finds all rooms that a scan over all would find near a tile, and none twice; packed as they stand', () => {
    fc.assert(
      fc.property(rooms, tiles, reaches, (list, tile, reach) => {
        const near = [{ tiles: fourTiles(list), largestRoom: LARGEST }]
        const found = roomsIn(roomsNear(tile, reach, near))
        const by = reach + LARGEST
        const within = ({ x, z, radius }: Room) => radius > 0 && x >= tile.x0 - by && x <= tile.x1 + by && z >= tile.z0 - by && z <= tile.z1 + by
        expect(sorted(found.filter(within))).toEqual(sorted(list.filter(within)))
        // No farther than a cell beyond.
        const wide = by + SIDE / 4
        expect(found.filter(({ x, z }) => x < tile.x0 - wide || x > tile.x1 + wide || z < tile.z0 - wide || z > tile.z1 + wide)).toEqual([])
        expect(roomsIn(packRooms(tile, reach, near))).toEqual(found)
      }),
      { numRuns: 300 },
    )
  })

  it('names alike what packs alike, whatever is changed out of reach', () => {
    fc.assert(
      fc.property(rooms, rooms, tiles, reaches, (list, other, tile, reach) => {
        // Cells are SIDE / 4 wide: rooms further than that beyond reach share no cell with what is in reach.
        const by = reach + LARGEST + SIDE / 4
        const far = ({ x, z }: Room) => x < tile.x0 - by || x > tile.x1 + by || z < tile.z0 - by || z > tile.z1 + by
        const near = list.filter((room) => !far(room))
        const name = (all: readonly Room[]) => nameOfRooms(tile, reach, [{ tiles: fourTiles(all), largestRoom: LARGEST }])
        expect(name([...near, ...other.filter(far)])).toBe(name(near))
      }),
      { numRuns: 300 },
    )
  })

  it('names otherwise when a room in reach moves, grows, comes or goes, or belongs to another planting', () => {
    const tile = { x0: 2, z0: 2, x1: 6, z1: 6 }
    const name = (...plantings: readonly (readonly Room[])[]) =>
      nameOfRooms(tile, 1, plantings.map((list) => ({ tiles: fourTiles(list), largestRoom: LARGEST })))
    const a = { x: 3, y: 0, z: 3, radius: 1 }
    const b = { x: 5, y: 0, z: 4, radius: 0.5 }
    const names = [
      name([a, b]),
      name([a]),
      name([b]),
      name([]),
      name([{ ...a, x: 3.0001 }, b]),
      name([{ ...a, radius: 1.0001 }, b]),
      name([a], [b]),
      name([b], [a]),
    ]
    expect(new Set(names).size).toBe(names.length)
  })
})
