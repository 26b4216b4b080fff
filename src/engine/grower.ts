import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import type { TileAddress } from '../core/grow.ts'
import { namedBy, tileRect, tilesOver } from '../core/grow.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { shareGround } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { tellProblem } from '../document/log.ts'
import { ProblemError } from '../document/problem.ts'
import { lowestKeys } from './exact-count.ts'
import { GROW_TILE, PREPARE } from './grow-refs.ts'
import type { Pool } from './pool.ts'
import { CancelledError } from './pool.ts'
import type { GrowSetup, PackedNear, PreparedFacts } from './protocol.ts'
import { sayMissing } from './missing.ts'
import type { Asked, Earlier, Look, Neighbours, Row } from './neighbours.ts'
import { nameOfBeacons, nearPlaces, nearRooms, packNear, roomsOf, tileName } from './neighbours.ts'
import { nameOfRooms } from './room-cells.ts'
import { createHandover } from './handover.ts'
import { setupOf } from './setup.ts'

/** What is known of one planting in the picture. */
export interface PlantingState {
  readonly phase: 'growing' | 'ready' | 'failed'
  readonly count: number
  readonly done: number
  readonly total: number
  /** Why it failed, or what to know of its result. */
  readonly sentence: string | null
}

export interface GrowerEvents {
  /** A tile has a new block; null when the tile is gone. Tile names are unique within a planting. */
  onTile(planting: string, tile: string, block: Block | null, rect: Rect): void
  onState(planting: string, state: PlantingState): void
  /** A planting is gone with all its tiles. */
  onGone(planting: string): void
  /** All is grown; ms since it was asked for, and how many tiles had to be grown. */
  onDone(milliseconds: number, tiles: number): void
}

export interface Grower {
  /** Grows what has changed; calls off what an earlier call had not finished. */
  grow(meadow: Meadow, focus: readonly [number, number]): Promise<void>
  /** Calls off the current growing; what is shown stays. */
  cancel(): void
  /** Cancels, and takes back what workers were handed. */
  release(): void
  /** The shown blocks of a planting. */
  blocksOf(planting: string): Block[]
  /** What a planting's conditions can ask of earlier plantings in a rectangle. */
  nearArea(planting: Planting, rect: Rect): PackedNear
  /** The name of a planting's setup for questions about it, which workers then know; what the meadow names beside it must have been shared. */
  give(meadow: Meadow, planting: Planting): string
}

/** Above this many expected instances a coarse look comes first. */
const COARSE_ABOVE = 150000
const COARSE_AIM = 24000
/** Longest stretch of work on the calling thread before others get a turn, ms. */
const TURN = 8
const FINEST = 3
/** More than this in one planting, or in all of a meadow, would outgrow the memory of a browser tab. */
const MOST_EXPECTED = 2_000_000
const MOST_IN_ALL = 4_000_000

/** Keeps the instances of a meadow up to date, tile by tile; at most `most` in all. */
export function createGrower(pool: Pool, events: GrowerEvents, now: () => number, most = MOST_IN_ALL): Grower {
  const rows = new Map<string, Row>()
  const handover = createHandover(pool)
  let current = new AbortController()

  async function grow(meadow: Meadow, focus: readonly [number, number]): Promise<void> {
    current.abort()
    const run = new AbortController()
    current = run
    const started = now()
    const pace = pacer(now)
    let grownTiles = 0
    for (const id of [...rows.keys()]) {
      if (meadow.plantings.some((planting) => planting.id === id)) continue
      rows.delete(id)
      events.onGone(id)
    }
    handover.keepOnly(new Set(meadow.plantings.map(({ id }) => id)))
    try {
      const earlier: Earlier[] = []
      for (const planting of meadow.plantings) {
        const row = rows.get(planting.id) ?? emptyRow()
        rows.set(planting.id, row)
        const neighbours = PLANTINGS.get(planting.kind).yieldsToEarlier(planting.params) ? earlier.filter((one) => shareGround(one, planting)) : []
        const asked = askedBy(planting)
        const needs = [setupOf(meadow, planting, 0).setup.key, ...[...neighbours, ...asked].map((one) => `${one.planting}:${one.row.version}`)].join(' ')
        try {
          if (row.settled !== needs) {
            row.settled = ''
            grownTiles += await growPlanting(meadow, planting, row, { rooms: neighbours, asked }, focus, run.signal, pace)
            row.settled = needs
          }
        } catch (error) {
          if (error instanceof CancelledError) throw error
          events.onState(planting.id, {
            ...stateOf(row, 'failed'),
            sentence: tellProblem(error, `Growing “${planting.name}”`),
          })
        }
        if (row.facts && row.facts.largestRoom > 0) earlier.push({ planting: planting.id, grounds: planting.grounds, row, ...row.facts })
      }
      events.onDone(now() - started, grownTiles)
    } catch (error) {
      if (!(error instanceof CancelledError)) throw error
    }
  }

  /**
   * Does the items in their order, just so many at a time that no worker waits: what a tile must know
   * of its neighbours is gathered when it is about to grow, not for all tiles at once.
   */
  async function inLanes<T>(items: readonly T[], work: (item: T) => Promise<void>): Promise<void> {
    let next = 0
    const lane = async () => {
      while (next < items.length) await work(items[next++])
    }
    await Promise.all(Array.from({ length: 2 * pool.size }, lane))
  }

  /** The plantings that a planting's conditions and drivers name, as far as they have grown. */
  function askedBy(planting: Planting): Asked[] {
    const reaches = new Map<string, number>()
    for (const { to, id, reach } of namedBy(planting)) if (to === 'planting') reaches.set(id, Math.max(reach, reaches.get(id) ?? 0))
    return [...reaches].flatMap(([id, reach]) => {
      const row = rows.get(id)
      return row?.facts ? [{ planting: id, row, tileSide: row.facts.tileSide, reach }] : []
    })
  }

  async function growPlanting(
    meadow: Meadow,
    planting: Planting,
    row: Row,
    earlier: Neighbours,
    focus: readonly [number, number],
    signal: AbortSignal,
    pace: () => Promise<void>,
  ): Promise<number> {
    sayMissing(meadow, planting)
    let before = 0
    for (let finer = 0; ; finer++) {
      const setup = handover.give(meadow, planting, finer)
      const facts =
        row.facts && row.setupKey === setup.key ? row.facts : await pool.run(PREPARE, setup.key, { signal, urgent: true })
      row.facts = facts
      row.setupKey = setup.key
      if (facts.expected > MOST_EXPECTED) {
        clear(planting.id, row)
        throw new ProblemError(
          `This would be about ${inWords(facts.expected)} instances, and at most ${inWords(MOST_EXPECTED)} can grow in one planting; widen the spacing, or narrow where it grows.`,
        )
      }
      const others = sum([...rows.values()].map((one) => (one === row ? 0 : countOf(one))))
      if (Math.min(facts.expected, facts.exactCount ?? Infinity) + others > most) {
        clear(planting.id, row)
        throw new ProblemError(
          `This would be about ${inWords(facts.expected)} instances, together with the other plantings more than the ${inWords(most)} that a meadow can hold; widen a spacing, or narrow where it grows.`,
        )
      }
      const grown = await growTiles(meadow, planting, row, facts, setup, earlier, focus, signal, pace)
      const warning = facts.warnings[0] ?? null
      const { exactCount } = facts
      if (exactCount === null) {
        events.onState(planting.id, { ...stateOf(row, 'ready'), sentence: whyNothing(planting, row) ?? warning })
        return grown
      }
      const total = sum([...row.tiles.values()].map((tile) => tile.grown.count))
      // Finer candidates are tried while they help.
      if (total < exactCount && finer < FINEST && total > 1.02 * before) {
        before = total
        continue
      }
      await trim(planting.id, row, exactCount, signal, pace)
      const short =
        total < exactCount
          ? whyNothing(planting, row) ??
            `Only ${total.toLocaleString('en')} of ${exactCount.toLocaleString('en')} find a place; loosen a condition or give less room.`
          : warning
      events.onState(planting.id, { ...stateOf(row, 'ready'), sentence: short })
      return grown
    }
  }

  function clear(planting: string, row: Row): void {
    for (const [key, tile] of row.tiles) events.onTile(planting, key, null, tile.rect)
    row.tiles.clear()
    row.rooms.clear()
    row.version++
  }

  async function growTiles(
    meadow: Meadow,
    planting: Planting,
    row: Row,
    facts: PreparedFacts,
    setup: GrowSetup,
    { rooms: earlier, asked }: Neighbours,
    focus: readonly [number, number],
    signal: AbortSignal,
    pace: () => Promise<void>,
  ): Promise<number> {
    const { ground } = meadow
    const bounds = { x0: -ground.sizeX / 2, z0: -ground.sizeZ / 2, x1: ground.sizeX / 2, z1: ground.sizeZ / 2 }
    const pieces: Piece[] = facts.pieces
      ? facts.pieces.map((rect, piece) => ({ key: `piece:${piece}`, rect, piece }))
      : nearestFirst(tilesOver(bounds, facts.tileSide), facts.tileSide, focus).map((address) => ({
          key: tileName(facts.tileSide, address),
          rect: tileRect(facts.tileSide, address),
          piece: 0,
        }))
    const wanted = new Set(pieces.map(({ key }) => key))
    for (const { row: other } of [...earlier, ...asked])
      for (const key of other.tiles.keys()) {
        await pace()
        roomsOf(other, key)
      }
    if (signal.aborted) throw new CancelledError()
    const { beacons } = setup.surroundings
    const look = (rect: Rect, reach: number): Look => ({
      rooms: earlier.map((one) => nearRooms(one, rect, reach)),
      asked: asked.map((one) => ({ ...one, near: nearPlaces(one, rect, reach) })),
    })
    /** Names all that a tile depends on: the planting's own setup, and what of its neighbours and beacons reaches into it. */
    const nameOf = ({ rect }: Piece, reach: number) => {
      const near = look(rect, reach)
      return [
        setup.tileKey,
        nameOfRooms(rect, reach, near.rooms),
        ...near.asked.map((one) => nameOfRooms(rect, reach + one.reach, [one.near])),
        nameOfBeacons(rect, reach, beacons),
      ].join(' ')
    }
    const work: Piece[] = []
    for (const piece of pieces) {
      await pace()
      if (signal.aborted) throw new CancelledError()
      const found = row.tiles.get(piece.key)
      if (found?.name !== nameOf(piece, found?.reach ?? 0)) work.push(piece)
    }
    const drop = () => {
      for (const [key, tile] of row.tiles) {
        if (wanted.has(key)) continue
        row.tiles.delete(key)
        row.rooms.delete(key)
        row.version++
        events.onTile(planting.id, key, null, tile.rect)
      }
    }
    if (work.length === 0) {
      drop()
      return 0
    }
    const show = facts.exactCount === null
    let done = 0
    const report = () =>
      events.onState(planting.id, { ...stateOf(row, 'growing'), done, total: work.length })
    report()

    const depends = earlier.length > 0 || asked.length > 0 || beacons.length > 0
    const growOne = async ({ rect, piece }: Piece, part: number) => {
      for (let reach = facts.reach; ; ) {
        const near = depends ? packNear(rect, reach, look(rect, reach)) : null
        const output = await pool.run(GROW_TILE, { setup: setup.key, tile: rect, near, part, piece }, { signal, bulk: true })
        if (signal.aborted) throw new CancelledError()
        if (!('needsReach' in output)) return { block: blockOf(output.count, output.buffer), reach }
        reach = output.needsReach
      }
    }
    const place = (piece: Piece, { block, reach }: { block: Block; reach: number }, whole: boolean) => {
      const { key, rect } = piece
      const name = whole ? nameOf(piece, reach) : 'coarse'
      row.tiles.set(key, { rect, name, reach, grown: block, shown: block })
      row.rooms.delete(key)
      row.version++
      if (show) events.onTile(planting.id, key, block, rect)
    }

    const expected = (facts.expected * work.length) / pieces.length
    if (show && expected > COARSE_ABOVE) {
      const part = COARSE_AIM / expected
      await inLanes(work, async (item) => {
        place(item, await growOne(item, part), false)
        await pace()
      })
      drop()
      report()
    }
    await inLanes(work, async (item) => {
      place(item, await growOne(item, 1), true)
      done++
      if (done % 8 === 0) report()
      await pace()
    })
    drop()
    return work.length
  }

  async function trim(
    planting: string,
    row: Row,
    count: number,
    signal: AbortSignal,
    pace: () => Promise<void>,
  ): Promise<void> {
    const tiles = [...row.tiles]
    const kept = await lowestKeys(
      tiles.map(([, tile]) => tile.grown),
      count,
      pace,
    )
    if (signal.aborted) throw new CancelledError()
    tiles.forEach(([key, tile], i) => {
      row.tiles.set(key, { ...tile, shown: kept[i] })
      row.rooms.delete(key)
      events.onTile(planting, key, kept[i], tile.rect)
    })
    row.version++
  }

  return {
    grow,
    cancel() {
      current.abort()
    },
    release() {
      current.abort()
      handover.keepOnly(new Set())
    },
    nearArea(planting, rect) {
      return packNear(rect, 0, { rooms: [], asked: askedBy(planting).map((one) => ({ ...one, near: nearPlaces(one, rect, 0) })) })
    },
    give: (meadow, planting) => handover.giveToAsk(meadow, planting).key,
    blocksOf: (planting) => [...(rows.get(planting)?.tiles.values() ?? [])].map((tile) => tile.shown),
  }
}

/** A tile, or a piece of a planting that grows in pieces. */
interface Piece {
  readonly key: string
  readonly rect: Rect
  readonly piece: number
}

/** Why a planting has no instance at all, and what to do; null when it has some. */
function whyNothing({ mix }: Planting, row: Row): string | null {
  if (countOf(row) > 0) return null
  if (!mix.some(({ share }) => share > 0)) return 'Nothing grows, as its mix is empty; add an asset under What.'
  const emptied = row.facts?.emptied
  if (!emptied) return 'Nothing grows: plantings above take all the room, or too little ground is left; lessen the spacing or loosen a condition.'
  return emptied.alone
    ? `Nothing grows, as no ground meets “${emptied.label}”; widen it under Where, or switch it off.`
    : `Nothing grows, as “${emptied.label}” leaves nothing of what the conditions before it take; widen one of them under Where, or switch it off.`
}

function emptyRow(): Row {
  return { facts: null, setupKey: '', settled: '', version: 0, tiles: new Map(), rooms: new Map() }
}

/** A large number as one says it. */
function inWords(count: number): string {
  return count >= 1e6 ? `${Number((count / 1e6).toPrecision(2)).toLocaleString('en')} million` : Math.round(count).toLocaleString('en')
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0)
}

function countOf(row: Row): number {
  return sum([...row.tiles.values()].map((tile) => tile.shown.count))
}

function stateOf(row: Row, phase: PlantingState['phase']): PlantingState {
  return {
    phase,
    count: countOf(row),
    done: 0,
    total: 0,
    sentence: null,
  }
}

function nearestFirst(tiles: TileAddress[], side: number, [x, z]: readonly [number, number]): TileAddress[] {
  const distance = ({ i, j }: TileAddress) => ((i + 0.5) * side - x) ** 2 + ((j + 0.5) * side - z) ** 2
  return tiles.sort((a, b) => distance(a) - distance(b))
}

/** Gives other work a turn when the current stretch has become long. */
function pacer(now: () => number): () => Promise<void> {
  let since = now()
  return async () => {
    if (now() - since < TURN) return
    await new Promise((resolve) => setTimeout(resolve, 0))
    since = now()
  }
}
