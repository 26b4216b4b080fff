import type { StoreApi } from 'zustand/vanilla'
import { createStore } from 'zustand/vanilla'
import type { Editor } from '../document/edits/editor.ts'
import { followChange, measureChange } from '../document/edits/posies.ts'
import { followPegs, ridersToMove } from '../document/edits/riding.ts'
import { startHistory } from '../document/history.ts'
import { ProblemError } from '../document/problem.ts'
import { heightOf } from '../core/grounds/terrain.ts'
import type { Pool } from '../runner/pool.ts'
import type { MeadowStore, StoreNews } from '../storage/store.ts'
import { instanceOf } from './chosen.ts'
import type { FieldGrowth } from './field-growth.ts'
import { createFieldGrowth } from './field-growth.ts'
import type { FieldState } from './field-state.ts'
import type { InstanceTiles } from './instances.ts'
import { createInstanceTiles } from './instances.ts'
import { notify } from './notices.ts'
import type { OpenDocument } from './open-document.ts'
import { createOpenDocument } from './open-document.ts'
import type { Shelf } from './shelf.ts'
import { createShelf } from './shelf.ts'
import type { TabLock } from './tab-lock.ts'
import { lockMeadow } from './tab-lock.ts'
import type { WriteRight } from './write-right.ts'
import { createWriteRight } from './write-right.ts'

/** One open meadow: its document with undo, its instances, its saving. */
export interface FieldSession extends Editor, Pick<FieldGrowth, 'probe' | 'see' | 'tint' | 'holds' | 'setFocus'> {
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
  readonly shelf: Shelf
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
  const growth = createFieldGrowth({ id, grown: store.grown, pool, state, instances, blob: shelf.get, terrainOf: shelf.terrainOf })
  const right: WriteRight = createWriteRight({
    id,
    owner,
    store,
    current: () => document.meadow(),
    told: () => state.getState().save,
    tell(save, saveSentence) {
      const now = state.getState()
      if (now.save !== save || now.saveSentence !== saveSentence) state.setState({ save, saveSentence })
    },
    onAnother(meadow) {
      document.replace(meadow)
      void growth.regrow()
    },
    onBegun: () => document.runWaiting(),
  })
  const document: OpenDocument = createOpenDocument({
    get: () => state.getState().history,
    set: (history) => state.setState({ history }),
    leave: right.leave,
    follows: [(before, draft, now) => followChange(before, draft, now, heightOf(state.getState().terrain)), measureChange, followPegs(() => heightOf(state.getState().terrain))],
    onRefused: (sentence) => notify('warning', sentence ?? ELSEWHERE),
    onChange(change) {
      right.note(change)
      void growth.regrow()
    },
  })

  lockEvents.use(right)
  if (!lockEvents.held()) right.onLost('waiting')
  else if (taken) right.begin()
  else void right.takeAnew()
  // What patterns ride on may stand elsewhere once it has grown: they go along in the same step.
  const stopRiding = state.subscribe((now, before) => {
    if (now.growing || !before.growing) return
    const heightAt = heightOf(now.terrain)
    const moved = ridersToMove(now.history.meadow, (...id) => instanceOf(instances, ...id), heightAt)
    if (moved.length > 0) document.settle((draft) => draft.plantings.forEach((one) => (one.base = moved.find(({ planting }) => planting === one.id)?.base ?? one.base)))
  })
  const stopListening = store.listen((news) => hear(news, id, store, document, right))
  const wouldLose = () => {
    const { save, history } = state.getState()
    return save === 'gone' || save === 'failed' || (!store.lasting && history.past.length > 0) || right.pending()
  }
  const stopWatching = watchLeaving(wouldLose, () => void right.flush())
  void growth.regrow()

  return {
    id,
    store: state,
    instances,
    leftOut,
    thrownAnew,
    meadow: document.meadow,
    edit: document.edit,
    undo: document.undo,
    redo: document.redo,
    blob: shelf.get,
    putBlob: shelf.put,
    probe: growth.probe,
    see: growth.see,
    tint: growth.tint,
    holds: growth.holds,
    setFocus: growth.setFocus,
    cancelGrowing: growth.cancel,
    takeOver() {
      right.ask()
      lock.take()
    },
    async keepAgain() {
      const lost = await shelf.putAll(document.meadow())
      await store.add(document.meadow(), owner)
      right.begin()
      notify('word', lost === 0 ? 'The meadow is kept again.' : `The meadow is kept again, but ${lost} of its parts were only in the store and are lost; what needs them cannot be shown.`)
    },
    setPicture: (picture) => (right.mine() ? store.setPicture(id, picture) : Promise.resolve()),
    flush: right.flush,
    wouldLose,
    async close() {
      stopListening()
      stopRiding()
      stopWatching()
      const keeping = growth.close()
      await right.flush()
      await keeping
      right.stop()
      lock.release()
    },
  }
}

/** What becomes known of the store from elsewhere. */
function hear(news: StoreNews, id: string, store: MeadowStore, document: OpenDocument, right: WriteRight): void {
  if (news.type === 'cleared') return right.gone()
  if (news.id !== id) return
  if (news.type === 'erased') right.gone()
  else if (news.type === 'removed' && news.away)
    notify('warning', 'This meadow was removed at the gate. What you change is still kept with it.', { label: 'Bring it back', run: () => void store.setRemoved(id, null) })
  else if (news.type === 'renamed' && document.meadow().name !== news.name) {
    const { name } = news
    if (right.holds()) document.edit('Rename at the gate', (draft) => void (draft.name = name))
    else document.renamed(name)
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
