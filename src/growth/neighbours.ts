import type { Block } from '../core/columns.ts'
import type { LookedAt } from '../core/grow.ts'
import { placeOfTile } from '../core/grow.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import { widened } from '../core/grounds/terrain.ts'
import type { Plot } from '../core/stages/plot.ts'
import type { PackedNear, PreparedFacts } from '../runner/protocol.ts'
import type { HandOf } from './hands.ts'
import type { PlainTile, TouchState } from './touch-ups.ts'
import type { Painted } from './strokes.ts'
import type { NearRooms, RoomCells } from './room-cells.ts'
import { nameOfRooms, packPlaces, packRooms, roomCells, roomsNear } from './room-cells.ts'

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
  /** Those that touch-ups concern, as the rules make them. */
  plain: Map<string, PlainTile>
  /** How many touch-ups there are, and what has become of them. */
  touches: number
  touchUps: TouchState
}

/** What grew before, whose rooms are taken: a planting earlier in the order, or the same one on grounds before. */
export interface Earlier {
  readonly planting: string
  readonly row: Row
  readonly plots: readonly Plot[]
  readonly largestRoom: number
  /** Whether the rooms of what is shown count, or of all that grew before an exact count took its share. */
  readonly of: 'shown' | 'grown'
}

/** A planting earlier in the order whose instances conditions or drivers name. */
export interface Asked {
  readonly planting: string
  readonly row: Row
  readonly plots: readonly Plot[]
  /** How far from a site its instances matter, m. */
  readonly reach: number
}

/** Earlier plantings that take room, and those that are asked for their instances. */
export interface Neighbours {
  readonly rooms: readonly Earlier[]
  readonly asked: readonly Asked[]
  /** What is painted by hand that it looks at. */
  readonly painted: Painted
  /** The planting's own hand work. */
  readonly hand: HandOf | null
}

/** What of the neighbours lies near a rectangle: rooms on its own ground, rooms on others, and plantings that are asked. */
export interface Look {
  readonly rooms: readonly NearRooms[]
  readonly elsewhere: readonly NearRooms[]
  readonly asked: readonly (Asked & { readonly near: NearRooms })[]
  readonly painted: Painted
  readonly hand: ReturnType<HandOf['near']>
}

/** What of a look goes along to whoever grows the tile; rooms stay where they are for a pool that `shares` memory. */
export function packNear(rect: Rect, reach: number, { rooms, elsewhere, asked, painted, hand }: Look, shares: boolean): PackedNear {
  const pack = shares ? roomsNear : packRooms
  return {
    known: widened(rect, reach),
    rooms: pack(rect, reach, rooms),
    elsewhere: pack(rect, reach, elsewhere),
    places: asked.map((one) => ({ planting: one.planting, reach: one.reach, columns: packPlaces(rect, reach + one.reach, one.near) })),
    painted: painted.length > 0 ? painted.map(({ planting, strokes }) => ({ planting, strokes: strokes?.near(rect, reach).strokes ?? [] })) : null,
    hand: hand && { singles: hand.singles, touched: hand.touched },
  }
}

/** Names what of things matters in a rectangle widened by `by`. */
export function nameOfThings(rect: Rect, by: number, looksAt: readonly LookedAt[], extents: Readonly<Record<string, Rect>>): string {
  const within = widened(rect, by)
  return looksAt
    .map(({ kind, thing, reach, whole }) => {
      const extent = extents[thing.id] ?? null
      const near = kind.near(thing, within, reach, extent)
      return whole && near ? kind.near(thing, within, Infinity, extent) : near
    })
    .join('+')
}

/** What of the neighbours lies near a tile of a plot that is widened by `reach`. */
export function lookAround({ rooms, asked, painted, hand }: Neighbours, { ground, tileSide }: Pick<Plot, 'ground' | 'tileSide'>, rect: Rect, reach: number): Look {
  const here: NearRooms[] = []
  const elsewhere: NearRooms[] = []
  for (const { row, plots, largestRoom, of } of rooms)
    for (const plot of plots) (plot.ground === ground ? here : elsewhere).push({ tiles: cellsNear(row, of, plot, rect, reach + largestRoom), largestRoom })
  return { rooms: here, elsewhere, asked: askAround(asked, rect, reach), painted, hand: hand?.near(ground, tileSide === 0 ? null : rect, reach) ?? null }
}

/** The instances that could be asked for from a rectangle widened by `reach`. */
export function askAround(asked: readonly Asked[], rect: Rect, reach: number): Look['asked'] {
  return asked.map((one) => ({ ...one, near: { tiles: one.plots.flatMap((plot) => cellsNear(one.row, 'shown', plot, rect, reach + one.reach)), largestRoom: 0 } }))
}

/** Names all of a look that a tile depends on. */
export function nameOfLook(rect: Rect, reach: number, { rooms, elsewhere, asked, painted, hand }: Look): string {
  return [nameOfRooms(rect, reach, rooms), nameOfRooms(rect, reach, elsewhere), ...asked.map((one) => nameOfRooms(rect, reach + one.reach, [one.near])), ...nameOfPainted(painted, rect, reach), ...(hand ? [`h${hand.name}`] : [])].join(' ')
}

/** Names the strokes near a rectangle, by the plantings that they belong to; nothing where there are none. */
function nameOfPainted(painted: Painted, rect: Rect, reach: number): string[] {
  return painted.flatMap(({ planting, strokes }) => {
    const name = strokes?.near(rect, reach).name
    return name ? [`s${planting} ${name}`] : []
  })
}

/** The tiles of a plot that a widened rectangle meets. */
function cellsNear(row: Row, of: Earlier['of'], plot: Plot, { x0, z0, x1, z1 }: Rect, by: number): RoomCells[] {
  const found: RoomCells[] = []
  const { i0, j0, across, down, side, tiles } = gridOf(row, plot)
  // One that grows as a whole is wherever one looks.
  const all = side === 0
  const [from, to] = all ? [0, 0] : [Math.max(0, Math.floor((z0 - by) / side) - j0), Math.min(down - 1, Math.floor((z1 + by) / side) - j0)]
  const [first, last] = all ? [0, 0] : [Math.max(0, Math.floor((x0 - by) / side) - i0), Math.min(across - 1, Math.floor((x1 + by) / side) - i0)]
  for (let j = from; j <= to; j++)
    for (let i = first; i <= last; i++) {
      const tile = tiles[j * across + i]
      if (tile) found.push(roomsOfTile(tile, of))
    }
  return found
}

/** The tiles of a plot in a grid, so that those in reach of a place are found at once. */
interface TileGrid {
  /** Which change of the row it is of. */
  readonly version: number
  /** Side of a tile, m; 0 where there is one. */
  readonly side: number
  /** Column and row of the first tile, and how many there are. */
  readonly i0: number
  readonly j0: number
  readonly across: number
  readonly down: number
  readonly tiles: readonly (GrownTile | undefined)[]
}

const grids = new WeakMap<Row, Map<string, TileGrid>>()

function gridOf(row: Row, plot: Plot): TileGrid {
  const own = grids.get(row) ?? new Map<string, TileGrid>()
  grids.set(row, own)
  const name = `${plot.ground} ${plot.tileSide}`
  const found = own.get(name)
  if (found?.version === row.version) return found
  // Those of earlier changes would keep what is no longer shown.
  for (const [other, { version }] of own) if (version !== row.version) own.delete(other)
  const made = makeGrid(row, plot)
  own.set(name, made)
  return made
}

function makeGrid({ tiles, version }: Row, { ground, tileSide: side, bounds }: Plot): TileGrid {
  const { x0, z0, x1, z1 } = bounds
  const [i0, j0] = side === 0 ? [0, 0] : [Math.floor(x0 / side), Math.floor(z0 / side)]
  const [across, down] = side === 0 ? [1, 1] : [Math.ceil(x1 / side) - i0, Math.ceil(z1 / side) - j0]
  const grid = new Array<GrownTile | undefined>(across * down).fill(undefined)
  for (const [key, tile] of tiles) {
    const place = placeOfTile(key)
    const [i, j] = [place.i - i0, place.j - j0]
    // What is still there of a larger ground is in nobody's way.
    if (place.ground === ground && place.side === side && i >= 0 && i < across && j >= 0 && j < down) grid[j * across + i] = tile
  }
  return { version, side, i0, j0, across, down, tiles: grid }
}

/** The rooms of each block, sorted when first asked for. */
const sorted = new WeakMap<Block, RoomCells>()

/** The rooms of a tile, sorted. */
export function roomsOfTile(tile: GrownTile, of: Earlier['of']): RoomCells {
  let cells = sorted.get(tile[of])
  if (!cells) sorted.set(tile[of], (cells = roomCells(tile[of], tile.rect)))
  return cells
}
