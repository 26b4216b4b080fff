import type { Block } from '../core/columns.ts'
import { namedBy } from '../core/grow.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { shareGround } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { tellProblem } from '../document/log.ts'
import { countOf, growPlanting, stateOf } from './grow-planting.ts'
import type { Run } from './grow-tiles.ts'
import { createHandover } from './handover.ts'
import type { Pack, PackPlan } from './kept.ts'
import { packsOf, restoredFrom } from './kept.ts'
import type { Asked, Earlier, Row } from './neighbours.ts'
import { askAround, packNear } from './neighbours.ts'
import { pacer } from './pacer.ts'
import type { Pool } from '../runner/pool.ts'
import { CancelledError } from '../runner/pool.ts'
import type { PackedNear } from '../runner/protocol.ts'
import type { GrowerEvents } from './planting-state.ts'
import { handOf } from './hands.ts'
import { ALL_THERE } from './touch-ups.ts'
import { paintedFor } from './strokes.ts'
import { setupOf } from './setup.ts'

export interface Grower {
  /** Grows what has changed; calls off what an earlier call had not finished. */
  grow(meadow: Meadow, focus: readonly [number, number]): Promise<void>
  /** Calls off the current growing; what is shown stays. */
  cancel(): void
  /** Cancels, and takes back what workers were handed. */
  release(): void
  /** Takes in a pack of an earlier growing and shows it: what of it no longer fits grows anew. Tells which it was; null when it is torn or another engine's. */
  restore(pack: unknown): Pick<Pack, 'planting' | 'part' | 'name'> | null
  /** What has grown, to be kept; no plans of what is growing. */
  packs(): { readonly planting: string; readonly plans: readonly PackPlan[] | null }[]
  /** The shown blocks of a planting. */
  blocksOf(planting: string): Block[]
  /** What a planting's conditions can ask of earlier plantings, and of strokes, in a rectangle. */
  nearArea(meadow: Meadow, planting: Planting, rect: Rect): PackedNear
  /** The name of a planting's setup for questions about it, which workers then know; what the meadow names beside it must have been shared. */
  give(meadow: Meadow, planting: Planting): string
}

/** More than this in all of a meadow would outgrow the memory of a browser tab. */
const MOST_IN_ALL = 4_000_000

export interface GrowerOptions {
  /** Most instances in all. */
  readonly most?: number
  /** Names what grows: kept tiles of another are grown anew. */
  readonly engine?: string
  /** Whether much is shown coarsely at first; by default it is. */
  readonly coarse?: boolean
}

/** Keeps the instances of a meadow up to date, tile by tile. */
export function createGrower(pool: Pool, events: GrowerEvents, now: () => number, { most = MOST_IN_ALL, engine = '', coarse = true }: GrowerOptions = {}): Grower {
  const rows = new Map<string, Row>()
  const handover = createHandover(pool)
  let current = new AbortController()

  async function grow(meadow: Meadow, focus: readonly [number, number]): Promise<void> {
    current.abort()
    const own = new AbortController()
    current = own
    const run: Run = { pool, events, meadow, focus, coarse, signal: own.signal, pace: pacer(now) }
    const started = now()
    let grownTiles = 0
    for (const id of [...rows.keys()]) {
      if (meadow.plantings.some((planting) => planting.id === id)) continue
      rows.delete(id)
      events.onGone(id)
    }
    handover.keepOnly(new Set(meadow.plantings.map(({ id }) => id)))
    try {
      const earlier: (Earlier & Pick<Planting, 'grounds'>)[] = []
      for (const planting of meadow.plantings) {
        const row = rows.get(planting.id) ?? emptyRow()
        rows.set(planting.id, row)
        grownTiles += await bringUpToDate(run, planting, row, earlier)
        const { facts } = row
        const frees = !planting.visible && planting.freeWhileHidden
        if (facts && facts.largestRoom > 0 && !frees) earlier.push({ planting: planting.id, grounds: planting.grounds, row, plots: facts.plots, largestRoom: facts.largestRoom, of: 'shown' })
      }
      events.onDone(now() - started, grownTiles)
    } catch (error) {
      if (!(error instanceof CancelledError)) throw error
    }
  }

  /** Grows what of a planting has changed; returns how many tiles grew. A planting that cannot grow says why, and keeps others from nothing. */
  async function bringUpToDate(run: Run, planting: Planting, row: Row, earlier: readonly (Earlier & Pick<Planting, 'grounds'>)[]): Promise<number> {
    const yields = PLANTINGS.get(planting.kind).yieldsToEarlier(planting.params)
    const neighbours = { rooms: yields ? earlier.filter((one) => shareGround(one, planting)) : [], asked: askedBy(planting), painted: paintedFor(run.meadow, planting), hand: handOf(run.meadow, planting) }
    const needs = [setupOf(run.meadow, planting, 0).setup.key, ...[...neighbours.rooms, ...neighbours.asked].map((one) => `${one.planting}:${one.row.version}`), ...neighbours.painted.map(({ planting: id, strokes }) => `${id}/${strokes?.name ?? ''}`), neighbours.hand?.name ?? ''].join(' ')
    if (row.settled === needs) return 0
    row.settled = ''
    try {
      const others = [...rows.values()].reduce((sum, one) => sum + (one === row ? 0 : countOf(one)), 0)
      const grown = await growPlanting(run, handover, planting, row, neighbours, { others, most })
      row.settled = needs
      return grown
    } catch (error) {
      if (error instanceof CancelledError) throw error
      events.onState(planting.id, { ...stateOf(row, 'failed'), sentence: tellProblem(error, `Growing “${planting.name}”`) })
      return 0
    }
  }

  /** The plantings that a planting's conditions and drivers name, as far as they have grown. */
  function askedBy(planting: Planting): Asked[] {
    const reaches = new Map<string, number>()
    for (const { to, id, reach } of namedBy(planting)) if (to === 'planting') reaches.set(id, Math.max(reach, reaches.get(id) ?? 0))
    return [...reaches].flatMap(([id, reach]) => {
      const row = rows.get(id)
      return row?.facts ? [{ planting: id, row, plots: row.facts.plots, reach }] : []
    })
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
    nearArea(meadow, planting, rect) {
      return packNear(rect, 0, { rooms: [], elsewhere: [], asked: askAround(askedBy(planting), rect, 0), painted: paintedFor(meadow, planting), hand: null }, false)
    },
    give: (meadow, planting) => handover.giveToAsk(meadow, planting).setup.key,
    restore(pack) {
      const found = restoredFrom(pack, engine)
      if (!found) return null
      const row = rows.get(found.planting) ?? emptyRow()
      rows.set(found.planting, row)
      row.facts = found.facts
      row.setupKey = found.setupKey
      row.version++
      for (const [key, tile] of found.tiles) {
        row.tiles.set(key, tile)
        // Of an exact count more may have grown than is shown.
        if (row.facts?.exactCount === null) events.onTile(found.planting, key, tile.shown, tile.rect)
      }
      return found
    },
    packs: () => [...rows].map(([planting, row]) => ({ planting, plans: packsOf(planting, row, engine) })),
    blocksOf: (planting) => [...(rows.get(planting)?.tiles.values() ?? [])].map((tile) => tile.shown),
  }
}

function emptyRow(): Row {
  return { facts: null, setupKey: '', settled: '', version: 0, tiles: new Map(), plain: new Map(), touches: 0, touchUps: ALL_THERE }
}
