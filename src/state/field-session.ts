import type { StoreApi } from 'zustand/vanilla'
import { createStore } from 'zustand/vanilla'
import type { Terrain } from '../core/ground/terrain.ts'
import { createTerrain } from '../core/ground/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import type { Answer, Sight } from '../core/plantings/ask.ts'
import { bytesToHeights } from '../document/blobs.ts'
import type { History } from '../document/history.ts'
import { edit, redo, startHistory, undo } from '../document/history.ts'
import { ProblemError, sentenceOf } from '../document/problem.ts'
import type { Grower, PlantingState } from '../engine/grower.ts'
import { PROBE, TINT } from '../engine/grow-refs.ts'
import { createGrower } from '../engine/grower.ts'
import { setupOf, terrainName } from '../engine/setup.ts'
import type { GroundFacts } from '../engine/io-refs.ts'
import { GROUND_FACTS } from '../engine/io-refs.ts'
import type { Pool } from '../engine/pool.ts'
import type { TintOutput } from '../engine/protocol.ts'
import type { MeadowStore } from '../storage/store.ts'
import type { InstanceTiles } from './instances.ts'
import { createInstanceTiles } from './instances.ts'
import { notify } from './notices.ts'
import { lockMeadow } from './tab-lock.ts'

export type SaveState = 'saved' | 'saving' | 'unsaved' | 'failed' | 'elsewhere'

export interface FieldState {
  readonly history: History
  readonly save: SaveState
  /** Why saving failed. */
  readonly saveSentence: string | null
  readonly plantings: Readonly<Record<string, PlantingState>>
  readonly growing: boolean
  /** Duration of the last growing, ms, and how many tiles it grew. */
  readonly lastGrowing: { readonly milliseconds: number; readonly tiles: number } | null
  readonly terrain: Terrain
  readonly facts: GroundFacts | null
}

/** One open meadow: its document with undo, its instances, its saving. */
export interface FieldSession {
  readonly id: string
  readonly store: StoreApi<FieldState>
  readonly instances: InstanceTiles
  /** Makes a named edit; edits with the same gesture are one step of undo. */
  edit(name: string, recipe: (draft: Meadow) => void, gesture?: string): void
  undo(): void
  redo(): void
  /** Bytes of a blob; throws ProblemError when it is missing. */
  blob(hash: string): Promise<Uint8Array<ArrayBuffer>>
  putBlob(hash: string, bytes: Uint8Array<ArrayBuffer>): Promise<void>
  /** What a planting says to the first place of its ground along a line of sight; null when there is none. */
  probe(planting: string, sight: Sight): Promise<Answer | null>
  /** Where the conditions of a planting hold, one of them or all; null when it is gone. */
  tint(planting: string, use: string | null): Promise<TintOutput | null>
  /** Where the camera looks: tiles near it grow first. */
  setFocus(x: number, z: number): void
  cancelGrowing(): void
  /** Makes this tab the one that writes. */
  takeOver(): void
  setPicture(picture: Blob): Promise<void>
  /** Writes at once what is not saved yet. */
  flush(): Promise<void>
  close(): Promise<void>
}

/** Cells along the ground that a tint is worked out for. */
const TINT_SIDE = 512
const SAVE_AFTER = 300
/** Between one telling of counts and progress and the next, ms. */
const TELL_AFTER = 120
/** Changes that follow each other faster than this, as in a drag, grow together, ms. */
const GROW_AFTER = 90
/** A growing that has shown nothing for so long is called off for the next change all the same, ms. */
const SHOW_WITHIN = 500
const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds))

/** Opens a meadow of the store. Throws ProblemError when it is not there or damaged. */
export async function openSession(store: MeadowStore, pool: Pool, id: string): Promise<FieldSession> {
  const meadow = await store.read(id)
  if (!meadow)
    throw new ProblemError('There is no meadow at this address in this browser; go back to the gate and pick one.')
  const blobs = new Map<string, Uint8Array<ArrayBuffer>>()

  async function blob(hash: string): Promise<Uint8Array<ArrayBuffer>> {
    const known = blobs.get(hash)
    if (known) return known
    const bytes = await store.getBlob(hash)
    if (!bytes)
      throw new ProblemError(
        'A part of this meadow is missing from the browser’s store; bring the meadow in again from its .meadow file.',
      )
    blobs.set(hash, bytes)
    return bytes
  }

  async function terrainOf({ ground }: Meadow): Promise<Terrain> {
    const heights = bytesToHeights(await blob(ground.blob))
    return createTerrain(heights, ground.columns, ground.rows, ground.sizeX, ground.sizeZ)
  }

  const firstTerrain = await terrainOf(meadow)
  const instances = createInstanceTiles()
  const state = createStore<FieldState>(() => ({
    history: startHistory(meadow),
    save: 'saved',
    saveSentence: null,
    plantings: {},
    growing: false,
    lastGrowing: null,
    terrain: firstTerrain,
    facts: null,
  }))

  // News of plantings is told together, a few times a second: every telling draws the page anew.
  const news = new Map<string, PlantingState | null>()
  let telling: ReturnType<typeof setTimeout> | null = null
  function tellLater(planting: string, next: PlantingState | null): void {
    news.set(planting, next)
    telling ??= setTimeout(tell, TELL_AFTER)
  }
  function tell(): void {
    if (telling) clearTimeout(telling)
    telling = null
    if (news.size === 0) return
    const plantings = { ...state.getState().plantings }
    for (const [planting, next] of news)
      if (next) plantings[planting] = next
      else delete plantings[planting]
    news.clear()
    state.setState({ plantings })
  }

  let focus: [number, number] = [0, 0]
  let shared = ''
  /** What the current growing grows; tells that something of it is to be seen. */
  let growingFor: Meadow | null = null
  let shown: (() => void) | null = null
  let firstShown: Promise<void> = Promise.resolve()
  const grower: Grower = createGrower(
    pool,
    {
      onTile(planting, tile, block, rect) {
        instances.set(planting, tile, block, rect)
        shown?.()
      },
      onGone(planting) {
        instances.drop(planting)
        tellLater(planting, null)
      },
      onState: tellLater,
      onDone(milliseconds, tiles) {
        tell()
        shown?.()
        // A change made meanwhile waits for its turn: growing goes on.
        const growing = state.getState().history.meadow !== growingFor
        state.setState(tiles > 0 ? { growing, lastGrowing: { milliseconds, tiles } } : { growing })
      },
    },
    () => performance.now(),
  )

  /** Hands the ground to the workers when it is another one. */
  async function shareTerrain(wanted: Meadow): Promise<void> {
    const name = terrainName(wanted)
    if (name === shared) return
    const terrain = await terrainOf(wanted)
    if (shared) pool.forget(shared)
    shared = name
    const { stored, columns, rows, sizeX, sizeZ } = terrain
    pool.share({ type: 'terrain', name, heights: stored as Float32Array<ArrayBuffer>, columns, rows, sizeX, sizeZ })
    state.setState({ terrain, facts: null })
    pool.run(GROUND_FACTS, name).then(
      (facts) => state.setState({ facts }),
      () => undefined,
    )
  }

  const handed = new Set<string>()

  /** Hands images and shapes of meshes to the workers, and takes back those that are no longer there. */
  async function shareParts({ images, meshes }: Meadow): Promise<void> {
    const wanted = new Set([...images.map(({ blob: name }) => name), ...meshes.map(({ shape }) => shape)])
    for (const name of wanted) {
      if (handed.has(name)) continue
      const bytes = await blob(name)
      handed.add(name)
      pool.share({ type: 'bytes', name, bytes })
    }
    for (const name of [...handed]) {
      if (wanted.has(name)) continue
      handed.delete(name)
      pool.forget(name)
    }
  }

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
    await Promise.all([wait > 0 ? pause(wait) : null, Promise.race([firstShown, pause(SHOW_WITHIN)])])
    growNext = false
    lastGrow = performance.now()
    if (closed) return
    const { meadow: wanted } = state.getState().history
    try {
      await shareTerrain(wanted)
      await shareParts(wanted)
      if (state.getState().history.meadow !== wanted) return
      growingFor = wanted
      firstShown = new Promise((resolve) => (shown = resolve))
      await grower.grow(wanted, focus)
    } catch (error) {
      shown?.()
      state.setState({ growing: false })
      notify('warning', sentenceOf(error, 'Growing'))
    }
  }

  let timer: ReturnType<typeof setTimeout> | null = null
  let written = meadow
  let writing: Promise<void> = Promise.resolve()
  let mine = true

  function flush(): Promise<void> {
    if (timer) clearTimeout(timer)
    timer = null
    writing = writing.then(async () => {
      const { meadow: wanted } = state.getState().history
      if (wanted === written || !mine) return
      state.setState({ save: 'saving' })
      try {
        await store.write(wanted)
        written = wanted
        const settled = state.getState().history.meadow === wanted
        state.setState({ save: settled ? 'saved' : 'unsaved', saveSentence: null })
      } catch (error) {
        const sentence = sentenceOf(error, 'Saving')
        state.setState({ save: 'failed', saveSentence: sentence })
        notify('warning', sentence)
      }
    })
    return writing
  }

  function apply(next: History): void {
    const before = state.getState().history
    if (next === before) return
    if (!mine) {
      notify('warning', 'This meadow is open for change in another tab; choose “Change it here” first.')
      return
    }
    state.setState({ history: next, ...(next.meadow === before.meadow ? {} : { save: 'unsaved' as const }) })
    if (next.meadow === before.meadow) return
    if (timer) clearTimeout(timer)
    timer = setTimeout(() => void flush(), SAVE_AFTER)
    void regrow()
  }

  const lock = lockMeadow(id, (now) => {
    const gained = now && !mine
    mine = now
    state.setState({ save: now ? 'saved' : 'elsewhere' })
    if (gained) void reread()
  })

  /** After another tab wrote: what it saved is what goes on here. */
  async function reread(): Promise<void> {
    const fresh = await store.read(id).catch(() => null)
    if (!fresh || JSON.stringify(fresh) === JSON.stringify(state.getState().history.meadow)) return
    written = fresh
    state.setState({ history: startHistory(fresh) })
    void regrow()
  }

  const onHide = () => void flush()
  addEventListener('pagehide', onHide)
  document.addEventListener('visibilitychange', onHide)
  void regrow()

  return {
    id,
    store: state,
    instances,
    edit: (name, recipe, gesture) => apply(edit(state.getState().history, name, recipe, gesture ?? null)),
    undo: () => apply(undo(state.getState().history)),
    redo: () => apply(redo(state.getState().history)),
    blob,
    async putBlob(hash, bytes) {
      blobs.set(hash, bytes)
      await store.putBlob(hash, bytes)
    },
    async probe(id, sight) {
      const { meadow: now } = state.getState().history
      const planting = now.plantings.find((one) => one.id === id)
      if (!planting) return null
      await shareTerrain(now)
      await shareParts(now)
      const { bounds } = state.getState().terrain
      return pool.run(PROBE, { setup: setupOf(now, planting, 0), near: grower.nearArea(planting, bounds), sight }, { urgent: true })
    },
    async tint(id, use) {
      const { meadow: now } = state.getState().history
      const planting = now.plantings.find((one) => one.id === id)
      if (!planting) return null
      await shareTerrain(now)
      await shareParts(now)
      const { bounds } = state.getState().terrain
      return pool.run(TINT, { setup: setupOf(now, planting, 0), near: grower.nearArea(planting, bounds), use, side: TINT_SIDE }, { urgent: true })
    },
    setFocus: (x, z) => {
      focus = [x, z]
    },
    cancelGrowing() {
      grower.cancel()
      shown?.()
      state.setState({ growing: false })
    },
    takeOver: () => lock.take(),
    setPicture: (picture) => (mine ? store.setPicture(id, picture) : Promise.resolve()),
    flush,
    async close() {
      removeEventListener('pagehide', onHide)
      document.removeEventListener('visibilitychange', onHide)
      closed = true
      grower.cancel()
      if (telling) clearTimeout(telling)
      await flush()
      lock.release()
      if (shared) pool.forget(shared)
      for (const name of handed) pool.forget(name)
    },
  }
}
