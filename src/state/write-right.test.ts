import type { Meadow } from '../core/meadow.ts'
import { heightsToBytes } from '../document/blobs.ts'
import { newMeadow } from '../document/new-planting.ts'
import { createMemoryStore } from '../storage/memory-store.ts'
import type { MeadowStore } from '../storage/store.ts'
import { GONE, TAKEN } from '../storage/store.ts'
import type { SaveState } from './field-state.ts'
import { noticeStore } from './notices.ts'
import { createWriteRight } from './write-right.ts'

const start = newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 40 })
const rest = () => new Promise((resolve) => setTimeout(resolve, 5))
const notices = () => noticeStore.getState().notices.map(({ sentence }) => sentence)

async function bench({ lasting = true, kept = true } = {}) {
  const store: MeadowStore = { ...createMemoryStore(lasting ? null : 'Nothing is kept here.'), lasting }
  await store.putBlob(start.ground.blob, heightsToBytes(new Float32Array(81)))
  if (kept) await store.add(start)
  let save: SaveState = 'elsewhere'
  let current: Meadow = start
  const told: string[] = []
  const right = createWriteRight({
    id: start.id,
    owner: 'me',
    store,
    current: () => current,
    told: () => save,
    tell: (now, sentence) => {
      save = now
      told.push(sentence ? `${now}: ${sentence}` : now)
    },
    onAnother: (meadow) => {
      current = meadow
      told.push(`read ${meadow.name}`)
    },
    onBegun: () => void told.push('begun'),
  })
  noticeStore.setState({ notices: [] })
  return { store, right, told, change: (meadow: Meadow) => (current = meadow) }
}

describe('the right to write', () => {
  it('is had once it has begun: edits are noted, and the whole is written', async () => {
    const { store, right, told, change } = await bench()
    expect(right.leave()).toBe('never')
    await store.take(start.id, 'me')
    right.begin()
    expect([right.leave(), right.mine()]).toEqual(['now', true])
    change({ ...start, name: 'Changed' })
    right.note([{ op: 'replace', path: ['name'], value: 'Changed' }])
    expect(right.pending()).toBe(true)
    await right.flush()
    await rest()
    expect(right.pending()).toBe(false)
    expect((await store.read(start.id))?.name).toBe('Changed')
    expect(told[0]).toBe('saved')
    right.stop()
  })

  it('while it is asked for, edits wait; what another tab has saved is read first', async () => {
    const { store, right, told } = await bench()
    await store.take(start.id, 'other')
    await store.write({ ...start, name: 'From there' }, 'other', 1)
    right.ask()
    expect([right.leave(), right.holds(), right.mine()]).toEqual(['later', true, false])
    await right.takeAnew()
    expect(told).toEqual(['taking', 'taking', 'read From there', 'saved', 'begun'])
    expect(right.leave()).toBe('now')
    right.stop()
  })

  it('is not read anew where nothing has changed', async () => {
    const { right, told } = await bench()
    await right.takeAnew()
    expect(told.filter((one) => one.startsWith('read'))).toEqual([])
    right.stop()
  })

  it('a meadow that is gone from the store may be changed on, and says where it stands', async () => {
    const { right, told } = await bench({ kept: false })
    await right.takeAnew()
    expect(told.slice(-2)).toEqual([`gone: ${GONE}`, 'begun'])
    expect(right.leave()).toBe('now')
    expect(notices()).toEqual([GONE])
    // Said once.
    noticeStore.setState({ notices: [] })
    right.gone()
    expect(notices()).toEqual([])
    expect(right.mine()).toBe(false)
  })

  it('where the browser keeps nothing, saved means in this tab only', async () => {
    const { right, told } = await bench({ lasting: false })
    right.begin()
    expect(told).toEqual(['tab-only: Nothing is kept here.', 'begun'])
    right.stop()
  })

  it('handed over, all is written first; taken without asking, what was not written is told', async () => {
    const { store, right, change } = await bench()
    await store.take(start.id, 'me')
    right.begin()
    change({ ...start, name: 'Handed over' })
    right.note([{ op: 'replace', path: ['name'], value: 'Handed over' }])
    right.onLost('handing')
    await right.onAsked()
    expect((await store.read(start.id))?.name).toBe('Handed over')
    expect(right.leave()).toBe('never')
    const second = await bench()
    await second.store.take(start.id, 'me')
    second.right.begin()
    second.right.note([{ op: 'replace', path: ['name'], value: 'Lost' }])
    second.right.onLost('stolen')
    expect(notices()).toEqual([TAKEN])
    expect(second.told.at(-1)).toBe('elsewhere')
  })

  it('granted twice, it begins once; lost while the meadow is read anew, it does not begin at all', async () => {
    const { store, right, told } = await bench()
    const slow: (() => void)[] = []
    const take = store.take
    store.take = async (...given) => {
      await new Promise<void>((resolve) => slow.push(resolve))
      return take(...given)
    }
    right.onGained()
    right.onGained()
    expect(slow.length).toBe(1)
    slow[0]()
    await rest()
    expect(told.filter((one) => one === 'begun').length).toBe(1)
    right.onGained()
    expect(slow.length).toBe(1)
    right.onLost('handing')
    right.onGained()
    right.onLost('stolen')
    slow[1]()
    await rest()
    expect(told.filter((one) => one === 'begun').length).toBe(1)
    expect(told.at(-1)).toBe('elsewhere')
    expect([right.mine(), right.leave()]).toEqual([false, 'never'])
    right.stop()
  })
})
