import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import type { LookedAt } from '../core/grow.ts'
import { tileAt, tilesOfPlot } from '../core/grow.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { GROW_TILE } from '../runner/grow-refs.ts'
import type { GrowerEvents } from './planting-state.ts'
import type { Look, Neighbours, Row } from './neighbours.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import type { PlainTile, TouchState } from './touch-ups.ts'
import { ALL_THERE, attach, reachFor } from './touch-ups.ts'
import { bears, shareCovered } from './strokes.ts'
import { lookAround, nameOfLook, nameOfThings, packNear, roomsOfTile } from './neighbours.ts'
import type { Pool } from '../runner/pool.ts'
import { CancelledError } from '../runner/pool.ts'
import type { GrowSetup, PreparedFacts } from '../runner/protocol.ts'

/** One growing of a meadow. */
export interface Run {
  readonly pool: Pool
  readonly events: GrowerEvents
  readonly meadow: Meadow
  /** Tiles near this plan position grow first. */
  readonly focus: readonly [number, number]
  /** Whether much is shown coarsely at first. */
  readonly coarse: boolean
  readonly signal: AbortSignal
  /** Gives other work a turn when the current stretch has become long. */
  readonly pace: () => Promise<void>
}

/** A planting that is to grow, with all that is known of it. */
export interface Growing {
  readonly planting: Planting
  readonly row: Row
  readonly facts: PreparedFacts
  readonly setup: GrowSetup
  /** The things that it looks at. */
  readonly looksAt: readonly LookedAt[]
  readonly neighbours: Neighbours
  /** Tells how far it is: tiles done, of so many. */
  readonly report: (done: number, total: number) => void
}

/** A tile to be grown: which, of which of the planting's plots. */
interface Piece {
  readonly key: string
  readonly rect: Rect
  readonly plot: number
}

/** Above so many expected instances a coarse look of some of them comes first; what grows in one go is not seen at work otherwise. */
const COARSE = { above: 150_000, aim: 24_000 }
const COARSE_IN_ORDER = { above: 12_000, aim: 6_000 }

/** Grows those tiles of a planting that do not stand for what it is now; returns how many. */
export async function growTiles(run: Run, growing: Growing): Promise<number> {
  const { facts, row, planting } = growing
  const { events } = run
  const wanted = piecesOf(growing).map((pieces) => nearestFirst(pieces, run.focus))
  // What grows on one ground looks at the rooms on those before; else all can grow at once.
  const turns = facts.largestRoom > 0 ? wanted : [wanted.flat()]
  const grow = tileGrower(run, growing)
  await sortRooms(run, growing.neighbours)
  const work = await staleOf(run, turns.flat(), grow.stale)
  const keys = new Set(wanted.flat().map(({ key }) => key))
  const drop = () => {
    for (const [key, tile] of row.tiles) {
      if (keys.has(key)) continue
      row.tiles.delete(key)
      row.version++
      events.onTile(planting.id, key, null, tile.rect)
    }
  }
  if (work.length === 0) {
    drop()
    return 0
  }
  growing.report(0, work.length)
  const expected = (facts.expected * shareCovered(planting, growing.neighbours.painted, facts.plots) * work.length) / keys.size
  const coarse = PLANTINGS.get(planting.kind).inOrder ? COARSE_IN_ORDER : COARSE
  if (run.coarse && facts.exactCount === null && expected > coarse.above) {
    await inLanes(run, work, (piece) => grow.coarse(piece, coarse.aim / expected))
    drop()
    growing.report(0, work.length)
  }
  let done = 0
  for (const turn of turns) {
    const stale = turn === turns[0] ? work.filter((piece) => turn.includes(piece)) : await staleOf(run, turn, grow.stale)
    await inLanes(run, stale, async (piece) => {
      await grow.whole(piece)
      done++
      if (done % 8 === 0) growing.report(Math.min(done, work.length), work.length)
    })
  }
  drop()
  return done
}

/** The tiles of a planting by its plots: those in which its conditions and strokes leave anything, and those in which a hand put something. */
function piecesOf({ planting, facts: { plots }, neighbours: { painted, hand } }: Growing): Piece[][] {
  const mayBear = bears(planting, painted)
  return plots.map((plot, at) => {
    const tiles = new Map(tilesOfPlot(plot).filter(({ rect }) => mayBear(rect)).map((tile) => [tile.key, tile]))
    for (const place of hand?.places(plot.ground) ?? []) {
      const tile = tileAt(plot, place)
      tiles.set(tile.key, tile)
    }
    return [...tiles.values()].map((tile): Piece => ({ ...tile, plot: at }))
  })
}

/** Finds instances that take the touch-ups whose own are not there: grows the tiles that touch-ups concern as the rules make them. */
export async function attachTouchUps(run: Run, growing: Growing): Promise<TouchState> {
  const { row, facts: { plots }, planting, neighbours: { hand } } = growing
  if (!hand) return ALL_THERE
  const apart = PLANTINGS.get(planting.kind).apart(planting.params, plots.reduce((sum, { bounds: { x0, z0, x1, z1 } }) => sum + (x1 - x0) * (z1 - z0), 0))
  const reach = reachFor(planting, run.meadow.assets, apart)
  const grow = tileGrower(run, growing, true)
  await sortRooms(run, growing.neighbours)
  const pieces = piecesOf(growing).flat().filter(({ plot, rect }) => hand.touchesNear(plots[plot].ground, rect, plots[plot].reach + reach.widest))
  const keys = new Set(pieces.map(({ key }) => key))
  for (const key of [...row.plain.keys()]) if (!keys.has(key)) row.plain.delete(key)
  const stale = await staleOf(run, pieces, grow.plainStale)
  await inLanes(run, stale, grow.plain)
  return attach(hand.touches, pieces.map(({ key }) => row.plain.get(key) as PlainTile), reach)
}

/** A tile that has grown, how far around it was looked, and at what. */
interface GrownOne {
  readonly block: Block
  readonly reach: number
  readonly seen: Look
  /** Numbers of the touch-ups whose instances are not there. */
  readonly missing: readonly number[]
}

/** Grows single tiles, and tells which are not what they should be; `alone` without looking at what the planting has on other grounds. */
function tileGrower({ pool, events, signal }: Run, { planting, row, facts, setup, looksAt, neighbours }: Growing, alone = false) {
  const show = facts.exactCount === null
  const { plots, largestRoom, extents } = facts
  /** The neighbours of a plot: its own planting's plots before it come first. */
  const around = plots.map((_, at): Neighbours => {
    const own = at > 0 && largestRoom > 0 && !alone ? [{ planting: planting.id, row, plots: plots.slice(0, at), largestRoom, of: 'grown' as const }] : []
    return { ...neighbours, rooms: [...own, ...neighbours.rooms] }
  })
  const look = ({ plot, rect }: Piece, reach: number) => lookAround(around[plot], plots[plot], rect, reach)
  /** Names all that a tile depends on: the planting's own setup, how much its plot looks through, and what of neighbours and things reaches into it. */
  const nameOf = (piece: Piece, reach: number, seen: Look) => {
    const { candidates } = plots[piece.plot]
    return [setup.tileKey, candidates, nameOfLook(piece.rect, reach, seen), nameOfThings(piece.rect, reach, looksAt, extents)].join(' ')
  }

  async function growOne(piece: Piece, part: number): Promise<GrownOne> {
    const { rooms, asked, painted, hand } = around[piece.plot]
    const depends = rooms.length > 0 || asked.length > 0 || painted.length > 0 || hand !== null
    for (let { reach } = plots[piece.plot]; ; ) {
      const seen = look(piece, reach)
      const near = depends ? packNear(piece.rect, reach, seen, pool.sharesMemory) : null
      const output = await pool.run(GROW_TILE, { setup: setup.key, tile: { plot: piece.plot, rect: piece.rect }, near, part }, { signal, bulk: true })
      if (signal.aborted) throw new CancelledError()
      if (!('needsReach' in output)) {
        const { hand: told } = seen
        return { block: blockOf(output.count, output.buffer), reach, seen, missing: told ? output.missing.map((k) => told.touchNumbers[k]) : [] }
      }
      reach = output.needsReach
    }
  }

  function place({ key, rect }: Piece, { block, reach }: Pick<GrownOne, 'block' | 'reach'>, name: string): void {
    row.tiles.set(key, { rect, name, reach, grown: block, shown: block })
    row.version++
    if (show) events.onTile(planting.id, key, block, rect)
  }

  return {
    stale(piece: Piece): boolean {
      const found = row.tiles.get(piece.key)
      return found === undefined || found.name !== nameOf(piece, found.reach, look(piece, found.reach))
    },
    plainStale(piece: Piece): boolean {
      const found = row.plain.get(piece.key)
      return found === undefined || found.name !== nameOf(piece, found.reach, look(piece, found.reach))
    },
    /** The tile as the rules make it, kept beside what is shown. */
    async plain(piece: Piece): Promise<void> {
      const { block, reach, seen, missing } = await growOne(piece, 1)
      row.plain.set(piece.key, { name: nameOf(piece, reach, seen), ground: plots[piece.plot].ground, reach, block, missing })
    },
    /** Only the lowest keys: such a tile stands for nothing. */
    async coarse(piece: Piece, part: number): Promise<void> {
      place(piece, await growOne(piece, part), 'coarse')
    },
    async whole(piece: Piece): Promise<void> {
      // Where nothing was attached anew, what the rules make is what it is.
      const made = row.plain.get(piece.key)
      if (made && made.name === nameOf(piece, made.reach, look(piece, made.reach))) return place(piece, made, made.name)
      const grown = await growOne(piece, 1)
      // Named by what was looked at: what it looks at does not grow meanwhile.
      place(piece, grown, nameOf(piece, grown.reach, grown.seen))
    },
  }
}

/** Sorts the rooms of neighbours, which is long work, before they are looked at. */
async function sortRooms({ pace, signal }: Run, { rooms, asked }: Neighbours): Promise<void> {
  for (const { row } of [...rooms, ...asked])
    for (const tile of row.tiles.values()) {
      await pace()
      roomsOfTile(tile, 'shown')
    }
  if (signal.aborted) throw new CancelledError()
}

async function staleOf({ pace, signal }: Run, pieces: readonly Piece[], stale: (piece: Piece) => boolean): Promise<Piece[]> {
  const found: Piece[] = []
  for (const piece of pieces) {
    await pace()
    if (signal.aborted) throw new CancelledError()
    if (stale(piece)) found.push(piece)
  }
  return found
}

/**
 * Does the items in their order, just so many at a time that no worker waits: what a tile must know
 * of its neighbours is gathered when it is about to grow, not for all tiles at once.
 */
async function inLanes<T>({ pool, pace }: Run, items: readonly T[], work: (item: T) => Promise<void>): Promise<void> {
  let next = 0
  const lane = async () => {
    while (next < items.length) {
      await work(items[next++])
      await pace()
    }
  }
  await Promise.all(Array.from({ length: 2 * pool.size }, lane))
}

function nearestFirst<T extends { readonly rect: Rect }>(tiles: T[], [x, z]: readonly [number, number]): T[] {
  const distance = ({ rect: { x0, z0, x1, z1 } }: T) => (0.5 * (x0 + x1) - x) ** 2 + (0.5 * (z0 + z1) - z) ** 2
  return tiles.sort((a, b) => distance(a) - distance(b))
}
