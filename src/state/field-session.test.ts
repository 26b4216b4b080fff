import { heightsToBytes } from '../document/blobs.ts'
import { newMeadow, newOutline, newPlanting } from '../document/new-planting.ts'
import { createInlinePool } from '../runner/inline-pool.ts'
import { createMemoryStore } from '../storage/memory-store.ts'
import type { MeadowStore } from '../storage/store.ts'
import { assetOf } from '../testing/fields.ts'
import type { FieldSession } from './field-session.ts'
import { openSession } from './field-session.ts'
import { noticeStore } from './notices.ts'

/** The browser's locks, as far as one name goes: queues, steals, gives up. */
function fakeLocks() {
  interface Held {
    steal: () => void
  }
  let held: Held | null = null
  const queue: (() => void)[] = []
  type Work = (lock: object | null) => Promise<unknown> | undefined
  async function hold(work: Work): Promise<unknown> {
    let steal: () => void = () => undefined
    const stolen = new Promise<never>((_, reject) => (steal = () => reject(new Error('stolen'))))
    const mine: Held = { steal }
    held = mine
    try {
      return await Promise.race([work({}), stolen])
    } finally {
      if (held === mine) {
        held = null
        queue.shift()?.()
      }
    }
  }
  return {
    async request(_name: string, options: { ifAvailable?: boolean; steal?: boolean; signal?: AbortSignal }, work: Work): Promise<unknown> {
      if (options.steal) {
        held?.steal()
        return hold(work)
      }
      if (!held) return hold(work)
      if (options.ifAvailable) return work(null)
      await new Promise<void>((resolve, reject) => {
        queue.push(resolve)
        options.signal?.addEventListener('abort', () => {
          const at = queue.indexOf(resolve)
          if (at >= 0) queue.splice(at, 1)
          reject(new Error('aborted'))
        })
      })
      return hold(work)
    },
  }
}

const HASH = 'a'.repeat(64)
const open: FieldSession[] = []
const until = async (holds: () => boolean) => {
  for (let k = 0; !holds(); k++) {
    if (k > 3000) throw new Error(`waited in vain: ${String(holds)}`)
    await new Promise((resolve) => setTimeout(resolve, 10))
  }
}
const settled = (session: FieldSession) => {
  const { growing, save, lastGrowing } = session.store.getState()
  return !growing && save === 'saved' && lastGrowing !== null
}
const countIn = (session: FieldSession) =>
  [...(session.instances.tiles.get('grass')?.values() ?? [])].reduce((sum, { block }) => sum + block.count, 0)
const respace = (session: FieldSession, spacing: number, gesture?: string) =>
  session.edit('Spacing', (draft) => void (draft.plantings[0].params.spacing = spacing), gesture)

/** A store with one meadow of level ground and one planting. */
async function stocked(): Promise<{ store: MeadowStore; id: string }> {
  const store: MeadowStore = { ...createMemoryStore(null), lasting: true }
  const bare = newMeadow('Test', HASH, { samples: 9, size: 40 })
  const planting = newPlanting({ id: 'grass', name: 'Grass', colour: '#5f7f3a', seed: 3, mix: [{ asset: 'tuft', share: 1 }], params: { spacing: 2, room: 0 } })
  const meadow = { ...bare, assets: [assetOf('tuft', 0.2)], plantings: [planting] }
  await store.putBlob(HASH, heightsToBytes(new Float32Array(81).fill(1)))
  await store.add(meadow)
  return { store, id: meadow.id }
}

async function opened(store: MeadowStore, id: string): Promise<FieldSession> {
  const session = await openSession(store, createInlinePool(1, true), id)
  open.push(session)
  return session
}

beforeEach(() => {
  Object.assign(globalThis, { addEventListener: () => undefined, removeEventListener: () => undefined })
  Object.assign(globalThis, { document: { addEventListener: () => undefined, removeEventListener: () => undefined } })
  Object.defineProperty(globalThis, 'navigator', { value: { locks: fakeLocks() }, configurable: true })
  noticeStore.setState({ notices: [] })
})
afterEach(async () => {
  for (const session of open.splice(0)) await session.close()
})

describe('an open meadow', () => {
  it('grows what it holds, grows edits anew and takes them back to the same bytes', async () => {
    const { store, id } = await stocked()
    const session = await opened(store, id)
    await until(() => settled(session))
    const before = countIn(session)
    // At least 0.62 per squared spacing on 40 m × 40 m.
    expect(before).toBeGreaterThan((0.62 * 1600) / 4)
    const bytes = () => [...session.instances.tiles.get('grass')!.values()].map(({ block }) => Buffer.from(block.buffer).toString('base64')).sort()
    const first = bytes()
    respace(session, 1)
    await until(() => settled(session) && countIn(session) > 3 * before)
    session.undo()
    await until(() => settled(session) && countIn(session) === before)
    expect(bytes()).toEqual(first)
    session.redo()
    await until(() => settled(session) && countIn(session) > 3 * before)
  })

  it('saves by itself, and takes all of one drag as one step', async () => {
    const { store, id } = await stocked()
    const session = await opened(store, id)
    for (const spacing of [1.9, 1.8, 1.7, 1.6]) respace(session, spacing, 'drag')
    expect(session.store.getState().save).toBe('saving')
    await until(() => settled(session))
    expect((await store.read(id))?.plantings[0].params.spacing).toBe(1.6)
    session.undo()
    expect(session.store.getState().history.meadow.plantings[0].params.spacing).toBe(2)
    await until(() => settled(session))
    expect((await store.read(id))?.plantings[0].params.spacing).toBe(2)
  })

  it('writes what is not saved yet when it is closed', async () => {
    const { store, id } = await stocked()
    const session = await opened(store, id)
    respace(session, 3)
    await session.close()
    expect((await store.read(id))?.plantings[0].params.spacing).toBe(3)
  })

  it('says when saving fails, loses nothing and saves with the next edit', async () => {
    const { store, id } = await stocked()
    let full = true
    const failing: MeadowStore = {
      ...store,
      note: (entry) => (full ? Promise.reject(new Error('no room')) : store.note(entry)),
      write: (...given) => (full ? Promise.reject(new Error('no room')) : store.write(...given)),
    }
    const session = await opened(failing, id)
    respace(session, 3)
    await until(() => session.store.getState().save === 'failed')
    expect(session.store.getState().saveSentence).toContain('Saving did not work')
    expect(session.store.getState().history.meadow.plantings[0].params.spacing).toBe(3)
    full = false
    session.edit('Rename', (draft) => void (draft.name = 'Renamed'))
    await until(() => settled(session))
    const kept = await store.read(id)
    expect([kept?.name, kept?.plantings[0].params.spacing]).toEqual(['Renamed', 3])
  })

  it('is written by one tab at a time; the other is told, can take over and goes on from what was saved', async () => {
    const { store, id } = await stocked()
    const first = await opened(store, id)
    await until(() => settled(first))
    const second = await opened(store, id)
    await until(() => second.store.getState().save === 'elsewhere')
    respace(second, 5)
    expect(second.store.getState().history.meadow.plantings[0].params.spacing).toBe(2)
    expect(noticeStore.getState().notices.map(({ sentence }) => sentence).join()).toContain('open for change in another tab')
    respace(first, 4)
    await until(() => settled(first))
    second.takeOver()
    await until(() => first.store.getState().save === 'elsewhere')
    await until(() => settled(second) && second.store.getState().history.meadow.plantings[0].params.spacing === 4)
    respace(second, 3)
    await until(() => settled(second))
    expect((await store.read(id))?.plantings[0].params.spacing).toBe(3)
    // When the tab that writes closes, the one that waits may write again.
    await second.close()
    await until(() => first.store.getState().save === 'saved' && first.store.getState().history.meadow.plantings[0].params.spacing === 3)
  })

  it('refuses what no meadow can hold with a sentence, keeps the rest, and opens again', async () => {
    const { store, id } = await stocked()
    const session = await opened(store, id)
    const outlines = (count: number) =>
      session.edit('Bring in outlines', ({ outlines: list }) => {
        for (let k = 0; k < count; k++) list.push(newOutline({ kind: 'path', name: 'P', colour: '#112233', lines: [[0, 0, 1, 1]] }))
      })
    outlines(600)
    outlines(600)
    expect(noticeStore.getState().notices.map(({ sentence }) => sentence).join()).toContain('A meadow holds at most 1,000 outlines, and there would be 1,200; nothing was changed.')
    session.edit('Size a mesh', ({ ground }) => void (ground.sizeX = 5_970_000))
    session.edit('Category', ({ assets }) => void (assets[0].category = 'x'.repeat(110)))
    session.edit('Name', (draft) => void (draft.name = 'Kept'))
    await session.close()
    const again = await opened(store, id)
    const { meadow } = again.store.getState().history
    expect([meadow.outlines.length, meadow.ground.sizeX, meadow.assets[0].category, meadow.name]).toEqual([600, 40, 'Test', 'Kept'])
  })

  it('changes nothing of a locked planting and says so, whoever asks; taking back goes past the lock', async () => {
    const { store, id } = await stocked()
    const session = await opened(store, id)
    expect(respace(session, 3)).toBe(true)
    session.edit('Lock the planting', ({ plantings: [one] }) => void (one.locked = true))
    expect(respace(session, 4)).toBe(false)
    expect(noticeStore.getState().notices.map(({ sentence }) => sentence).join()).toContain('The planting “Grass” is locked; unlock it first. Nothing was changed.')
    expect(session.edit('Rename', (draft) => void (draft.name = 'Other'))).toBe(true)
    expect(session.meadow().plantings[0].params.spacing).toBe(3)
    for (let k = 0; k < 3; k++) session.undo()
    expect(session.meadow().plantings[0]).toMatchObject({ locked: false, params: { spacing: 2 } })
    await session.close()
  })

  it('refuses what is not there with a sentence', async () => {
    const { store, id } = await stocked()
    await expect(openSession(store, createInlinePool(1), 'nobody')).rejects.toThrow('There is no meadow at this address')
    const holed: MeadowStore = { ...store, getBlob: async () => null }
    await expect(openSession(holed, createInlinePool(1), id)).rejects.toThrow('part of this meadow is missing')
  })
})
