import type { StoreApi } from 'zustand/vanilla'
import { createStore } from 'zustand/vanilla'
import type { Terrain } from '../core/grounds/terrain.ts'
import { createTerrain } from '../core/grounds/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import { blobsOf, bytesToHeights } from '../document/blobs.ts'
import { checkChange } from '../document/check-change.ts'
import type { Editor } from '../document/edits/editor.ts'
import type { History } from '../document/history.ts'
import { edit, redo, startHistory, undo } from '../document/history.ts'
import { tellProblem } from '../document/log.ts'
import { refusedByLock } from '../document/locks.ts'
import { ProblemError } from '../document/problem.ts'
import { FILE_PATIENCE, MAKE_TERRAIN } from '../runner/io-refs.ts'
import type { Pool } from '../runner/pool.ts'
import type { MeadowStore, StoreNews } from '../storage/store.ts'
import { GONE, TAKEN } from '../storage/store.ts'
import type { FieldGrowth } from './field-growth.ts'
import { createFieldGrowth } from './field-growth.ts'
import type { FieldState, SaveState } from './field-state.ts'
import type { InstanceTiles } from './instances.ts'
import { createInstanceTiles } from './instances.ts'
import { notify } from './notices.ts'
import type { Saving } from './saving.ts'
import { createSaving } from './saving.ts'
import type { TabLock } from './tab-lock.ts'
import { lockMeadow } from './tab-lock.ts'

/** One open meadow: its document with undo, its instances, its saving. */
export interface FieldSession extends Editor, Pick<FieldGrowth, 'probe' | 'tint' | 'setFocus'> {
  readonly id: string
  readonly store: StoreApi<FieldState>
  readonly instances: InstanceTiles
  /** What was damaged in what was stored and is left out, in words. */
  readonly leftOut: readonly string[]
  /** What stands elsewhere since an earlier version, in words. */
  readonly thrownAnew: string | null
  undo(): void
  redo(): void
  /** Bytes of a blob; throws ProblemError when it is missing. */
  blob(hash: string): Promise<Uint8Array<ArrayBuffer>>
  putBlob(hash: string, bytes: Uint8Array<ArrayBuffer>): Promise<void>
  cancelGrowing(): void
  /** Makes this tab the one that writes. */
  takeOver(): void
  /** Puts a meadow that is gone from the store back into it. */
  keepAgain(): Promise<void>
  setPicture(picture: Blob): Promise<void>
  /** Writes at once what is not saved yet. */
  flush(): Promise<void>
  /** Whether leaving now would lose something that is seen. */
  wouldLose(): boolean
  close(): Promise<void>
}

const MISSING = 'A part of this meadow is missing from the browser’s store; bring the meadow in again from its .meadow file.'
const ELSEWHERE = 'This meadow is open for change in another tab; choose “Change it here” first.'

/** Opens a meadow of the store. Throws ProblemError when it is not there or nothing of it can be opened. */
export async function openSession(store: MeadowStore, pool: Pool, id: string): Promise<FieldSession> {
  const owner = crypto.randomUUID()
  const shelf = createShelf(store, pool)
  const lockEvents = createLockEvents()
  const lock = lockMeadow(id, owner, lockEvents.events)
  try {
    const taken = await lockEvents.first
    const first = taken ? await store.take(id, owner) : { meadow: await store.read(id), leftOut: [], thrownAnew: null }
    if (!first?.meadow) throw new ProblemError('There is no meadow at this address in this browser; go back to the gate and pick one.')
    const { meadow, leftOut, thrownAnew } = first
    const firstTerrain = await shelf.terrainOf(meadow)
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
    return startSession({ id, owner, store, pool, shelf, state, lock, lockEvents, leftOut, thrownAnew, taken })
  } catch (error) {
    lock.release()
    throw error
  }
}

interface SessionParts {
  readonly id: string
  readonly owner: string
  readonly store: MeadowStore
  readonly pool: Pool
  readonly shelf: ReturnType<typeof createShelf>
  readonly state: StoreApi<FieldState>
  readonly lock: TabLock
  readonly lockEvents: ReturnType<typeof createLockEvents>
  readonly leftOut: readonly string[]
  readonly thrownAnew: string | null
  /** Whether it was taken for writing when it was read. */
  readonly taken: boolean
}

function startSession({ id, owner, store, pool, shelf, state, lock, lockEvents, leftOut, thrownAnew, taken }: SessionParts): FieldSession {
  const instances = createInstanceTiles()
  const growth = createFieldGrowth({ pool, state, instances, blob: shelf.get, terrainOf: shelf.terrainOf })
  const current = () => state.getState().history.meadow
  let saving: Saving | null = null
  let mine = false
  /** Edits made while the meadow is being taken over: they wait until it has been read again. */
  let waiting: (() => void)[] | null = null

  const kept = (save: SaveState, saveSentence: string | null) => {
    // Where the browser keeps nothing, what was written lasts as long as the tab.
    const told = save === 'saved' && !store.lasting ? 'tab-only' : save
    if (state.getState().save === told && state.getState().saveSentence === saveSentence) return
    state.setState({ save: told, saveSentence: told === 'tab-only' ? store.sentence : saveSentence })
  }

  function begin(): void {
    mine = true
    saving?.stop()
    saving = createSaving(store, owner, current, {
      onKept(now, sentence) {
        if (now === 'failed' && state.getState().save !== 'failed' && sentence) notify('warning', sentence)
        if (mine) kept(now, sentence)
      },
      onLoss(reason, sentence) {
        mine = false
        kept(reason === 'gone' ? 'gone' : 'elsewhere', sentence)
        notify('warning', sentence)
      },
    })
    kept('saved', null)
    const held = waiting
    waiting = null
    for (const run of held ?? []) run()
  }

  /** After the right to write was gained from another tab: what that one saved is what goes on here. */
  async function takeAnew(): Promise<void> {
    waiting ??= []
    kept('taking', null)
    try {
      const fresh = await store.take(id, owner)
      if (!fresh) return gone()
      if (JSON.stringify(fresh.meadow) !== JSON.stringify(current())) {
        state.setState({ history: startHistory(fresh.meadow) })
        void growth.regrow()
      }
      begin()
    } catch (error) {
      kept('failed', tellProblem(error, 'Taking the meadow over'))
    }
  }

  function gone(): void {
    mine = false
    saving?.stop()
    if (state.getState().save !== 'gone') notify('warning', GONE)
    kept('gone', GONE)
  }

  /** `byHand`: an edit, which locks hold off; to take one back or make it again is not kept from. */
  function apply(next: History, byHand: boolean): boolean {
    const before = state.getState().history
    if (next === before) return true
    const refusal = (byHand ? refusedByLock(before.meadow, next.meadow) : null) ?? checkChange(before.meadow, next.meadow)
    if (refusal) {
      notify('warning', refusal)
      return false
    }
    state.setState({ history: next })
    if (next.meadow === before.meadow) return true
    saving?.note(next.change)
    void growth.regrow()
    return true
  }

  /** Runs what changes the document now, later or not at all, as the right to write is. */
  function change(make: () => History, byHand: boolean): boolean {
    if (waiting) waiting.push(() => void apply(make(), byHand))
    else if (mine || state.getState().save === 'gone') return apply(make(), byHand)
    else {
      notify('warning', ELSEWHERE)
      return false
    }
    return true
  }

  function hear(news: StoreNews): void {
    if (news.type === 'cleared') return gone()
    if (news.id !== id) return
    if (news.type === 'erased') gone()
    else if (news.type === 'removed' && news.away)
      notify('warning', 'This meadow was removed at the gate. What you change is still kept with it.', { label: 'Bring it back', run: () => void store.setRemoved(id, null) })
    else if (news.type === 'renamed' && current().name !== news.name) {
      const renamed = edit(state.getState().history, 'Rename at the gate', (draft) => void (draft.name = news.name))
      if (mine || waiting) change(() => edit(state.getState().history, 'Rename at the gate', (draft) => void (draft.name = news.name)), true)
      else state.setState({ history: renamed })
    }
  }

  lockEvents.use({
    onGained: () => void takeAnew(),
    onLost(how) {
      mine = false
      if (how === 'stolen') {
        if (saving?.pending()) notify('warning', TAKEN)
        saving?.stop()
      }
      kept('elsewhere', null)
    },
    async onAsked() {
      await saving?.flush()
      saving?.stop()
      saving = null
    },
  })
  if (lockEvents.held()) void (taken ? begin() : takeAnew())
  else kept('elsewhere', null)
  const stopListening = store.listen(hear)
  const wouldLose = () => {
    const { save } = state.getState()
    return save === 'gone' || save === 'failed' || (!store.lasting && state.getState().history.past.length > 0) || (saving?.pending() ?? false)
  }
  const stopWatching = watchLeaving(wouldLose, () => void saving?.flush())
  void growth.regrow()

  return {
    id,
    store: state,
    instances,
    leftOut,
    thrownAnew,
    meadow: current,
    edit: (name, recipe, gesture) => change(() => edit(state.getState().history, name, recipe, gesture ?? null), true),
    undo: () => void change(() => undo(state.getState().history), false),
    redo: () => void change(() => redo(state.getState().history), false),
    blob: shelf.get,
    putBlob: shelf.put,
    probe: growth.probe,
    tint: growth.tint,
    setFocus: growth.setFocus,
    cancelGrowing: growth.cancel,
    takeOver() {
      waiting ??= []
      kept('taking', null)
      lock.take()
    },
    async keepAgain() {
      const lost = await shelf.putAll(current())
      await store.add(current(), owner)
      begin()
      notify('word', lost === 0 ? 'The meadow is kept again.' : `The meadow is kept again, but ${lost} of its parts were only in the store and are lost; what needs them cannot be shown.`)
    },
    setPicture: (picture) => (mine ? store.setPicture(id, picture) : Promise.resolve()),
    flush: async () => saving?.flush(),
    wouldLose,
    async close() {
      stopListening()
      stopWatching()
      growth.close()
      await saving?.flush()
      saving?.stop()
      lock.release()
    },
  }
}

/** Writes when the page is hidden, and has the browser ask before it is left when something would be lost. */
function watchLeaving(wouldLose: () => boolean, write: () => void): () => void {
  const ask = (event: Event) => {
    if (wouldLose()) event.preventDefault()
  }
  addEventListener('pagehide', write)
  addEventListener('beforeunload', ask)
  document.addEventListener('visibilitychange', write)
  return () => {
    removeEventListener('pagehide', write)
    removeEventListener('beforeunload', ask)
    document.removeEventListener('visibilitychange', write)
  }
}

/** Grounds of more samples are looked through by a worker, so that the page goes on meanwhile. */
const LARGE_GROUND = 1 << 20

/** Blobs of the store, each read once. */
function createShelf(store: MeadowStore, pool: Pool) {
  const blobs = new Map<string, Uint8Array<ArrayBuffer>>()

  async function get(hash: string): Promise<Uint8Array<ArrayBuffer>> {
    const known = blobs.get(hash)
    if (known) return known
    const bytes = await store.getBlob(hash)
    if (!bytes) throw new ProblemError(MISSING)
    blobs.set(hash, bytes)
    return bytes
  }

  return {
    get,
    async put(hash: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
      blobs.set(hash, bytes)
      await store.putBlob(hash, bytes)
    },
    /** Puts all blobs of a meadow back into the store; returns how many are nowhere any more. */
    async putAll(meadow: Meadow): Promise<number> {
      let lost = 0
      for (const hash of blobsOf(meadow)) {
        const bytes = blobs.get(hash)
        if (bytes) await store.putBlob(hash, bytes)
        else if (!(await store.getBlob(hash))) lost++
      }
      return lost
    },
    async terrainOf({ ground }: Meadow): Promise<Terrain> {
      const { blob, columns, rows, sizeX, sizeZ } = ground
      const bytes = await get(blob)
      if (columns * rows < LARGE_GROUND) return createTerrain(bytesToHeights(bytes), columns, rows, sizeX, sizeZ)
      const lent = bytes.slice()
      const options = { doing: 'Laying out the ground', milliseconds: FILE_PATIENCE }
      const terrain = await pool.alone(MAKE_TERRAIN, { bytes: lent, columns, rows, sizeX, sizeZ }, options, [lent.buffer])
      // The same bytes need not be held twice.
      const { buffer, byteOffset, byteLength } = terrain.stored
      blobs.set(blob, new Uint8Array(buffer as ArrayBuffer, byteOffset, byteLength))
      return terrain
    },
  }
}

type Uses = Parameters<typeof lockMeadow>[2]

/** What the lock tells before the session is there to hear it. */
function createLockEvents() {
  let use: Uses | null = null
  let held: boolean | null = null
  let settle: (held: boolean) => void = () => undefined
  const first = new Promise<boolean>((resolve) => (settle = resolve))
  const tell = (now: boolean, how: Parameters<Uses['onLost']>[0] = 'waiting') => {
    const before = held
    held = now
    if (before === null) settle(now)
    else if (now) use?.onGained()
    else use?.onLost(how)
  }
  return {
    first,
    held: () => held === true,
    use: (uses: Uses) => void (use = uses),
    events: {
      onGained: () => tell(true),
      onLost: (how) => tell(false, how),
      onAsked: async () => use?.onAsked(),
    } satisfies Uses,
  }
}
