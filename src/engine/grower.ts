import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import type { TileAddress } from '../core/grow.ts'
import { CONDITIONS } from '../core/conditions/index.ts'
import { habitatOutlines, mixAssets, tileRect, tilesOver } from '../core/grow.ts'
import type { Rect } from '../core/ground/terrain.ts'
import { refsOf } from '../core/kinds.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { ProblemError, sentenceOf } from '../document/problem.ts'
import { hashString } from './content-hash.ts'
import { lowestKeys } from './exact-count.ts'
import { GROW_TILE, PREPARE } from './grow-refs.ts'
import type { Pool } from './pool.ts'
import { CancelledError } from './pool.ts'
import type { GrowSetup, PreparedFacts } from './protocol.ts'
import type { NearRooms, RoomCells } from './room-cells.ts'
import { nameOfRooms, packRooms, roomCells } from './room-cells.ts'

/** A tile as it stands: the block that is shown, and the name of all it depended on. */
interface GrownTile {
  readonly rect: Rect
  /** Names inputs; two tiles of the same name hold the same instances. */
  readonly name: string
  /** How far around it earlier rooms could matter, m. */
  readonly reach: number
  /** Everything that grew, before an exact count took its share. */
  readonly grown: Block
  readonly shown: Block
}

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

interface Row {
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
interface Earlier {
  readonly planting: string
  readonly row: Row
  readonly largestRoom: number
  readonly tileSide: number
}

export interface Grower {
  /** Grows what has changed; calls off what an earlier call had not finished. */
  grow(meadow: Meadow, focus: readonly [number, number]): Promise<void>
  /** Calls off the current growing; what is shown stays. */
  cancel(): void
  /** The shown blocks of a planting. */
  blocksOf(planting: string): Block[]
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
    try {
      const earlier: Earlier[] = []
      for (const planting of meadow.plantings) {
        const row = rows.get(planting.id) ?? emptyRow()
        rows.set(planting.id, row)
        const neighbours = PLANTINGS.get(planting.kind).yieldsToEarlier(planting.params) ? earlier : []
        const needs = [setupOf(meadow, planting, 0).key, ...neighbours.map((one) => `${one.planting}:${one.row.version}`)].join(' ')
        try {
          if (row.settled !== needs) {
            row.settled = ''
            grownTiles += await growPlanting(meadow, planting, row, neighbours, focus, run.signal, pace)
            row.settled = needs
          }
        } catch (error) {
          if (error instanceof CancelledError) throw error
          events.onState(planting.id, {
            ...stateOf(row, 'failed'),
            sentence: sentenceOf(error, `Growing “${planting.name}”`),
          })
        }
        if (row.facts && row.facts.largestRoom > 0) earlier.push({ planting: planting.id, row, ...row.facts })
      }
      events.onDone(now() - started, grownTiles)
    } catch (error) {
      if (!(error instanceof CancelledError)) throw error
    }
  }

  async function growPlanting(
    meadow: Meadow,
    planting: Planting,
    row: Row,
    earlier: readonly Earlier[],
    focus: readonly [number, number],
    signal: AbortSignal,
    pace: () => Promise<void>,
  ): Promise<number> {
    sayMissing(meadow, planting)
    let before = 0
    for (let finer = 0; ; finer++) {
      const setup = setupOf(meadow, planting, finer)
      const facts =
        row.facts && row.setupKey === setup.key ? row.facts : await pool.run(PREPARE, setup, { signal, urgent: true })
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
      const { exactCount } = facts
      if (exactCount === null) {
        events.onState(planting.id, { ...stateOf(row, 'ready'), sentence: whyNothing(planting, row) })
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
          : null
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
    earlier: readonly Earlier[],
    focus: readonly [number, number],
    signal: AbortSignal,
    pace: () => Promise<void>,
  ): Promise<number> {
    const { ground } = meadow
    const bounds = { x0: -ground.sizeX / 2, z0: -ground.sizeZ / 2, x1: ground.sizeX / 2, z1: ground.sizeZ / 2 }
    const addresses = tilesOver(bounds, facts.tileSide)
    const wanted = new Set(addresses.map((address) => tileName(facts.tileSide, address)))
    for (const { row: other } of earlier)
      for (const key of other.tiles.keys()) {
        await pace()
        roomsOf(other, key)
      }
    if (signal.aborted) throw new CancelledError()
    const work: { key: string; rect: Rect; near: (reach: number) => NearRooms[] }[] = []
    for (const address of nearestFirst(addresses, facts.tileSide, focus)) {
      await pace()
      if (signal.aborted) throw new CancelledError()
      const rect = tileRect(facts.tileSide, address)
      const near = (reach: number) => earlier.map((one) => nearRooms(one, rect, reach))
      const key = tileName(facts.tileSide, address)
      const found = row.tiles.get(key)
      if (found?.name !== nameOfTile(setup.key, rect, found?.reach ?? 0, near)) work.push({ key, rect, near })
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

    const growOne = async ({ rect, near }: (typeof work)[number], part: number) => {
      for (let reach = facts.reach; ; ) {
        const rooms = earlier.length > 0 ? packRooms(rect, reach, near(reach)) : null
        const output = await pool.run(GROW_TILE, { setup, tile: rect, earlier: rooms, part }, { signal, bulk: true })
        if (signal.aborted) throw new CancelledError()
        if (!('needsReach' in output)) return { block: blockOf(output.count, output.buffer), reach }
        reach = output.needsReach
      }
    }
    const place = ({ key, rect, near }: (typeof work)[number], { block, reach }: { block: Block; reach: number }, whole: boolean) => {
      const name = whole ? nameOfTile(setup.key, rect, reach, near) : 'coarse'
      row.tiles.set(key, { rect, name, reach, grown: block, shown: block })
      row.rooms.delete(key)
      row.version++
      if (show) events.onTile(planting.id, key, block, rect)
    }

    const expected = (facts.expected * work.length) / addresses.length
    if (show && expected > COARSE_ABOVE) {
      const part = COARSE_AIM / expected
      await Promise.all(
        work.map(async (item) => {
          place(item, await growOne(item, part), false)
          await pace()
        }),
      )
      drop()
      report()
    }
    await Promise.all(
      work.map(async (item) => {
        place(item, await growOne(item, 1), true)
        done++
        if (done % 8 === 0) report()
        await pace()
      }),
    )
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
    blocksOf: (planting) => [...(rows.get(planting)?.tiles.values() ?? [])].map((tile) => tile.shown),
  }
}

/** Throws a sentence when a condition names something that is no longer there. */
function sayMissing(meadow: Meadow, { habitat }: Planting): void {
  for (const use of habitat) {
    const kind = CONDITIONS.get(use.kind)
    const gone = use.on && refsOf(kind.params, use.params).find(({ id }) => !meadow.outlines.some((one) => one.id === id))
    if (gone)
      throw new ProblemError(
        `Its condition “${kind.label}” names a ${gone.to} that is gone; choose another one there, switch the condition off, or take the removal back. What grew before still stands.`,
      )
  }
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

/** A planting with all that its growing depends on, as workers take it. */
export function setupOf(meadow: Meadow, planting: Planting, finer: number): GrowSetup {
  // Name, colour, eye and lock do not change what grows.
  const grown = { ...planting, name: '', colour: '', visible: true, locked: false }
  const assets = mixAssets(planting, meadow.assets)
  const { blob, sizeX, sizeZ } = meadow.ground
  const terrain = terrainName(meadow)
  // Nor do those of the outlines.
  const outlines = habitatOutlines(planting, meadow.outlines).map((one) => ({ ...one, name: '', colour: '', visible: true, locked: false }))
  const key = hashString(JSON.stringify([grown, assets, blob, sizeX, sizeZ, meadow.water.level, outlines, finer]))
  return { key, planting: grown, assets, terrain, waterLevel: meadow.water.level, outlines, finer }
}

/** The name under which workers know the terrain of a meadow. */
export function terrainName({ ground }: Meadow): string {
  return `${ground.blob}/${ground.sizeX}/${ground.sizeZ}`
}

/** A large number as one says it. */
function inWords(count: number): string {
  return count >= 1e6 ? `${Number((count / 1e6).toPrecision(2)).toLocaleString('en')} million` : Math.round(count).toLocaleString('en')
}

function tileName(side: number, { i, j }: TileAddress): string {
  return `${side}:${i}:${j}`
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

/** Names all that a tile depends on: the planting's own setup and earlier rooms in reach. */
function nameOfTile(setup: string, rect: Rect, reach: number, near: (reach: number) => NearRooms[]): string {
  return setup + nameOfRooms(rect, reach, near(reach))
}

/** The tiles of an earlier planting whose rooms could reach into a tile widened by `reach`. */
function nearRooms({ row, largestRoom, tileSide }: Earlier, rect: Rect, reach: number): NearRooms {
  const by = reach + largestRoom
  const tiles: RoomCells[] = []
  const i1 = Math.floor((rect.x1 + by) / tileSide)
  const j1 = Math.floor((rect.z1 + by) / tileSide)
  for (let j = Math.floor((rect.z0 - by) / tileSide); j <= j1; j++)
    for (let i = Math.floor((rect.x0 - by) / tileSide); i <= i1; i++) {
      const cells = roomsOf(row, tileName(tileSide, { i, j }))
      if (cells) tiles.push(cells)
    }
  return { tiles, largestRoom }
}

/** The rooms of a shown tile, sorted when first asked for; null when there is no such tile. */
function roomsOf(row: Row, key: string): RoomCells | null {
  const tile = row.tiles.get(key)
  if (!tile) return null
  let cells = row.rooms.get(key)
  if (!cells) row.rooms.set(key, (cells = roomCells(tile.shown, tile.rect)))
  return cells
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
