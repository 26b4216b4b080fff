import type { Block } from '../core/columns.ts'
import type { TileAddress } from '../core/grow.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Beacon } from '../core/meadow.ts'
import { hashValue } from './content-hash.ts'
import type { PackedNear, PreparedFacts } from './protocol.ts'
import type { NearRooms, RoomCells } from './room-cells.ts'
import { packPlaces, packRooms, roomCells } from './room-cells.ts'

/** What has grown, and what of it lies near a tile that grows later. */

/** A tile as it stands: the block that is shown, and the name of all it depended on. */
export interface GrownTile {
  readonly rect: Rect
  /** Names inputs; two tiles of the same name hold the same instances. */
  readonly name: string
  /** How far around it earlier rooms could matter, m. */
  readonly reach: number
  /** Everything that grew, before an exact count took its share. */
  readonly grown: Block
  readonly shown: Block
}

export interface Row {
  facts: PreparedFacts | null
  setupKey: string
  /** Names all it depended on when it last grew to the end; empty while it does not stand for that. */
  settled: string
  /** Counts the changes of its tiles. */
  version: number
  tiles: Map<string, GrownTile>
  /** Rooms of the shown tiles, sorted when first asked for. */
  rooms: Map<string, RoomCells>
}

/** A planting earlier in the order, whose rooms are taken. */
export interface Earlier {
  readonly planting: string
  /** Meshes it grows on; none for the terrain. */
  readonly grounds: readonly string[]
  readonly row: Row
  readonly largestRoom: number
  readonly tileSide: number
}

/** A planting earlier in the order whose instances conditions or drivers name. */
export interface Asked {
  readonly planting: string
  readonly row: Row
  readonly tileSide: number
  /** How far from a site its instances matter, m. */
  readonly reach: number
}

/** Earlier plantings that take room, and those that are asked for their instances. */
export interface Neighbours {
  readonly rooms: readonly Earlier[]
  readonly asked: readonly Asked[]
}

/** What of the neighbours lies near a rectangle. */
export interface Look {
  readonly rooms: NearRooms[]
  readonly asked: (Asked & { readonly near: NearRooms })[]
}

export function tileName(side: number, { i, j }: TileAddress): string {
  return `${side}:${i}:${j}`
}

export function packNear(rect: Rect, reach: number, { rooms, asked }: Look): PackedNear {
  const { known, columns } = packRooms(rect, reach, rooms)
  return {
    known,
    rooms: columns,
    places: asked.map((one) => ({ planting: one.planting, reach: one.reach, columns: packPlaces(rect, reach + one.reach, one.near) })),
  }
}

/** Names the beacons whose reach meets a rectangle widened by `by`. */
export function nameOfBeacons(rect: Rect, by: number, beacons: readonly Beacon[]): string {
  return beacons
    .filter(({ x, z, reach }) => {
      const dx = Math.max(rect.x0 - by - x, 0, x - rect.x1 - by)
      const dz = Math.max(rect.z0 - by - z, 0, z - rect.z1 - by)
      return dx * dx + dz * dz < reach * reach
    })
    .map((one) => hashValue(one))
    .join('+')
}

/** The tiles of an earlier planting whose rooms could reach into a tile widened by `reach`. */
export function nearRooms({ row, largestRoom, tileSide }: Earlier, rect: Rect, reach: number): NearRooms {
  return { tiles: tilesNear(row, tileSide, rect, reach + largestRoom), largestRoom }
}

/** The tiles of a planting whose instances could be asked for from a rectangle widened by `reach`. */
export function nearPlaces({ row, tileSide, reach: own }: Asked, rect: Rect, reach: number): NearRooms {
  return { tiles: tilesNear(row, tileSide, rect, reach + own), largestRoom: 0 }
}

/** The tiles of a row that a widened rectangle meets; all pieces of one that grows in pieces. */
function tilesNear(row: Row, tileSide: number, rect: Rect, by: number): RoomCells[] {
  if (tileSide === 0) return [...row.tiles.keys()].flatMap((key) => roomsOf(row, key) ?? [])
  const tiles: RoomCells[] = []
  const i1 = Math.floor((rect.x1 + by) / tileSide)
  const j1 = Math.floor((rect.z1 + by) / tileSide)
  for (let j = Math.floor((rect.z0 - by) / tileSide); j <= j1; j++)
    for (let i = Math.floor((rect.x0 - by) / tileSide); i <= i1; i++) {
      const cells = roomsOf(row, tileName(tileSide, { i, j }))
      if (cells) tiles.push(cells)
    }
  return tiles
}

/** The rooms of a shown tile, sorted when first asked for; null when there is no such tile. */
export function roomsOf(row: Row, key: string): RoomCells | null {
  const tile = row.tiles.get(key)
  if (!tile) return null
  let cells = row.rooms.get(key)
  if (!cells) row.rooms.set(key, (cells = roomCells(tile.shown, tile.rect)))
  return cells
}
