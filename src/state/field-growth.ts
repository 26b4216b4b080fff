import type { StoreApi } from 'zustand/vanilla'
import type { Terrain } from '../core/grounds/terrain.ts'
import { thingsNamed } from '../core/grow.ts'
import type { Meadow } from '../core/meadow.ts'
import type { Answer, Seen } from '../core/plantings/ask.ts'
import { MESH } from '../core/things/mesh.ts'
import type { Sight } from '../core/grounds/ground.ts'
import type { SnapWish } from '../core/grounds/snap.ts'
import { tellProblem } from '../document/log.ts'
import { HOLDS, PROBE, SEE, TINT } from '../runner/grow-refs.ts'
import { createGrower } from '../growth/grower.ts'
import type { PlantingState } from '../growth/planting-state.ts'
import { GROUND_FACTS } from '../runner/io-refs.ts'
import type { Pool } from '../runner/pool.ts'
import type { ProbeInput, SeeInput, TintOutput } from '../runner/protocol.ts'
import { terrainName } from '../growth/setup.ts'
import { createShares } from '../growth/shares.ts'
import type { GrownStore } from '../storage/grown.ts'
import type { FieldState } from './field-state.ts'
import type { InstanceTiles } from './instances.ts'
import { createKeptGrowth } from './kept-growth.ts'
import { notify } from './notices.ts'

declare const __ENGINE__: string | undefined
/** Names the code that grows, so that tiles kept by another version are grown anew. */
const ENGINE = typeof __ENGINE__ === 'string' ? __ENGINE__ : 'unnamed'

/** Cells along the ground that a tint is worked out for. */
const TINT_SIDE = 512
/** Between one telling of counts and progress and the next, ms. */
const TELL_AFTER = 120
/** Changes that follow each other faster than this, as in a drag, grow together, ms. */
const GROW_AFTER = 90
/** A growing that has shown nothing for so long is called off for the next change all the same, ms. */
const SHOW_WITHIN = 500
const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds))

export interface FieldGrowth {
  /** Grows what the document holds now, as soon as it is its turn. */
  regrow(): Promise<void>
  /** What a planting says to the first place of its ground along a line of sight; null when there is none. */
  probe(planting: string, sight: Sight): Promise<Answer | null>
  /** Where lines of sight first meet the terrain or meshes, of those that are named; null where they meet none. */
  see(sights: readonly Sight[], grounds: readonly string[], snap?: SnapWish): Promise<readonly (Seen | null)[]>
  /** Where the conditions of a planting hold, one of them or all; null when it is gone. */
  tint(planting: string, use: string | null): Promise<TintOutput | null>
  /** Where the conditions of a planting hold, one of them or all, at places of a ground: weights 0…255; null when it is gone. */
  holds(planting: string, use: string | null, ground: string, places: Float64Array<ArrayBuffer>): Promise<Uint8Array | null>
  /** Where the camera looks: tiles near it grow first. */
  setFocus(x: number, z: number): void
  cancel(): void
  /** Ends it; resolves when what has grown is kept. */
  close(): Promise<void>
}

interface GrowthOptions {
  /** The meadow's name in the store. */
  readonly id: string
  /** Where what has grown is kept from one opening to the next. */
  readonly grown: GrownStore
  readonly pool: Pool
  readonly state: StoreApi<FieldState>
  readonly instances: InstanceTiles
  readonly blob: (hash: string) => Promise<Uint8Array<ArrayBuffer>>
  readonly terrainOf: (meadow: Meadow) => Promise<Terrain>
}

/** Keeps the instances of an open meadow grown. */
export function createFieldGrowth({ id: meadowId, grown, pool, state, instances, blob, terrainOf }: GrowthOptions): FieldGrowth {
  const news = createNews(state)
  const shares = createShares(pool, { blob, terrainOf })
  /** Puts all that a meadow stands on into the workers' hands. */
  async function share(meadow: Meadow): Promise<void> {
    const terrain = await shares.with(meadow)
    if (!terrain) return
    state.setState({ terrain, facts: null })
    pool.run(GROUND_FACTS, terrainName(meadow)).then(
      (facts) => state.setState({ facts }),
      () => undefined,
    )
  }
  let focus: [number, number] = [0, 0]
  /** What the current growing grows; tells that something of it is to be seen. */
  let growingFor: Meadow | null = null
  let shown: (() => void) | null = null
  let firstShown: Promise<void> = Promise.resolve()
  const grower = createGrower(
    pool,
    {
      onTile(planting, tile, block, rect) {
        instances.set(planting, tile, block, rect)
        shown?.()
      },
      onGone(planting) {
        instances.drop(planting)
        news.later(planting, null)
      },
      onState: news.later,
      onDone(milliseconds, tiles) {
        news.tell()
        shown?.()
        // A change made meanwhile waits for its turn: growing goes on.
        const growing = state.getState().history.meadow !== growingFor
        state.setState(tiles > 0 || state.getState().lastGrowing === null ? { growing, lastGrowing: { milliseconds, tiles } } : { growing })
        if (tiles > 0) kept.grown()
      },
    },
    () => performance.now(),
    { engine: ENGINE },
  )
  const kept = createKeptGrowth(grown, meadowId, grower)
  const restored = instances.together(kept.restore)

  let growNext = false
  let lastGrow = -Infinity
  let closed = false
  async function regrow(): Promise<void> {
    state.setState({ growing: true })
    if (growNext) return
    growNext = true
    // The first of many changes grows at once, those of one turn together; the others at a calm pace.
    // And each is let come to show something: a drag that goes on and on is seen at work.
    const wait = lastGrow + GROW_AFTER - performance.now()
    await Promise.all([restored, wait > 0 ? pause(wait) : null, Promise.race([firstShown, pause(SHOW_WITHIN)])])
    growNext = false
    lastGrow = performance.now()
    if (closed) return
    const { meadow: wanted } = state.getState().history
    try {
      await share(wanted)
      if (state.getState().history.meadow !== wanted) return
      growingFor = wanted
      firstShown = new Promise((resolve) => (shown = resolve))
      const growing = grower.grow(wanted, focus)
      // Only now is what was growing called off that may still have needed it.
      shares.forgetOld()
      await growing
    } catch (error) {
      shown?.()
      state.setState({ growing: false })
      notify('warning', tellProblem(error, 'Growing'))
    }
  }

  /** The setup of a planting and what is near it, with all that it names in the workers' hands; null when it is gone. */
  async function asked(id: string) {
    const { meadow } = state.getState().history
    const planting = meadow.plantings.find((one) => one.id === id)
    if (!planting) return null
    const names = Object.fromEntries(thingsNamed(planting, meadow).map(({ thing }) => [thing.id, thing.name]))
    await share(meadow)
    const { bounds } = state.getState().terrain
    return { setup: grower.give(meadow, planting), near: grower.nearArea(meadow, planting, bounds), names }
  }

  return {
    regrow,
    ...questions(pool, asked),
    see: (sights, grounds, snap) => seeIn(state.getState().history.meadow, pool, share, { sights, grounds, snap: snap ?? null }),
    setFocus: (x, z) => {
      focus = [x, z]
    },
    cancel() {
      grower.cancel()
      shown?.()
      state.setState({ growing: false })
    },
    close() {
      closed = true
      grower.cancel()
      news.stop()
      const keeping = kept.flush()
      grower.release()
      shares.release()
      return keeping
    },
  }
}

/** What is asked of a planting's conditions, with all that they look at in the workers' hands. */
function questions(pool: Pool, asked: (id: string) => Promise<Pick<ProbeInput, 'setup' | 'near' | 'names'> | null>): Pick<FieldGrowth, 'probe' | 'tint' | 'holds'> {
  return {
    async probe(id, sight) {
      const input = await asked(id)
      return input && pool.run(PROBE, { ...input, sight }, { urgent: true })
    },
    async tint(id, use) {
      const input = await asked(id)
      return input && pool.run(TINT, { setup: input.setup, near: input.near, use, side: TINT_SIDE }, { urgent: true })
    },
    async holds(id, use, ground, places) {
      const input = await asked(id)
      return input && pool.run(HOLDS, { setup: input.setup, near: input.near, use, ground, places }, { urgent: true })
    },
  }
}

/** Where lines of sight first meet grounds of a meadow. */
async function seeIn(meadow: Meadow, pool: Pool, share: (meadow: Meadow) => Promise<void>, { sights, grounds, snap }: Pick<SeeInput, 'sights' | 'grounds' | 'snap'>): Promise<readonly (Seen | null)[]> {
  await share(meadow)
  const things = meadow.meshes.filter(({ id }) => grounds.includes(id)).map((mesh) => ({ kind: MESH.kind, called: mesh.name, thing: MESH.bare(mesh) }))
  return pool.run(SEE, { surroundings: { terrain: terrainName(meadow), waterLevel: meadow.water.level, things }, grounds, sights, snap }, { urgent: true })
}

/** News of plantings is told together, a few times a second: every telling draws the page anew. */
function createNews(state: StoreApi<FieldState>) {
  const news = new Map<string, PlantingState | null>()
  let telling: ReturnType<typeof setTimeout> | null = null
  function stop(): void {
    if (telling) clearTimeout(telling)
    telling = null
  }
  function tell(): void {
    stop()
    if (news.size === 0) return
    const plantings = { ...state.getState().plantings }
    for (const [planting, next] of news)
      if (next) plantings[planting] = next
      else delete plantings[planting]
    news.clear()
    state.setState({ plantings })
  }
  return {
    later(planting: string, next: PlantingState | null): void {
      news.set(planting, next)
      telling ??= setTimeout(tell, TELL_AFTER)
    },
    tell,
    stop,
  }
}
