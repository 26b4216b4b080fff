import { Dexie } from 'dexie'
import type { Meadow } from '../core/meadow.ts'
import { newMeadow } from '../document/new-planting.ts'
import { openDexieStore } from './dexie-store.ts'
import { createMemoryStore } from './memory-store.ts'
import type { MeadowStore } from './store.ts'

const blob = (fill: number) => ({ hash: fill.toString(16).repeat(64).slice(0, 64), bytes: new Uint8Array(1000).fill(fill) })
const meadowOn = (name: string, hash: string): Meadow => newMeadow(name, hash, { samples: 2, size: 10 })

let n = 0
const makers: [string, () => Promise<MeadowStore>][] = [
  ['the browser’s store', () => openDexieStore(`test-${n++}`)],
  ['the store in memory', async () => createMemoryStore(null)],
]

for (const [name, open] of makers)
  describe(name, () => {
    it('gives back what was written, and lists the newest first', async () => {
      const store = await open()
      const one = meadowOn('One', blob(1).hash)
      const two = meadowOn('Two', blob(2).hash)
      await store.putBlob(blob(1).hash, blob(1).bytes)
      await store.write(one)
      await new Promise((resolve) => setTimeout(resolve, 5))
      await store.write(two)
      expect(await store.read(one.id)).toEqual(one)
      expect(await store.read('nobody')).toBeNull()
      expect((await store.list()).map((entry) => entry.name)).toEqual(['Two', 'One'])
      expect(await store.getBlob(blob(1).hash)).toEqual(blob(1).bytes)
      expect((await store.list())[1].bytes).toBeGreaterThan(1000)
    })

    it('removes with a way back, and erases only blobs that nothing stands on', async () => {
      const store = await open()
      const one = meadowOn('One', blob(1).hash)
      const two = meadowOn('Two', blob(1).hash)
      const three = meadowOn('Three', blob(3).hash)
      for (const b of [blob(1), blob(3)]) await store.putBlob(b.hash, b.bytes)
      for (const meadow of [one, two, three]) await store.write(meadow)
      await store.setRemoved(one.id, 5)
      expect((await store.list()).find((entry) => entry.id === one.id)?.removed).toBe(5)
      await store.setRemoved(one.id, null)
      expect(await store.read(one.id)).toEqual(one)
      await store.erase(one.id)
      await store.erase(three.id)
      expect(await store.read(one.id)).toBeNull()
      expect(await store.getBlob(blob(1).hash)).not.toBeNull()
      expect(await store.getBlob(blob(3).hash)).toBeNull()
    })
  })

describe('a store in trouble', () => {
  it('says that it is full, and keeps what was saved before', async () => {
    const store = await openDexieStore('full')
    const meadow = meadowOn('Kept', blob(1).hash)
    await store.write(meadow)
    const put = failingWrites(new Dexie.QuotaExceededError('no room'))
    await expect(store.write({ ...meadow, name: 'Lost' })).rejects.toThrow('store is full. What was saved before is kept')
    put.restore()
    expect(await store.read(meadow.id)).toEqual(meadow)
  })

  it('leaves a damaged document as it is and says so', async () => {
    const store = await openDexieStore('damaged')
    const meadow = meadowOn('Odd', blob(1).hash)
    await store.write({ ...meadow, water: { shown: true, level: 'high' as never } })
    await expect(store.read(meadow.id)).rejects.toThrow('“Odd” cannot be opened: water.level')
  })
})

/** Makes every write of the database fail until it is restored. */
function failingWrites(error: Error) {
  const before = IDBObjectStore.prototype.put
  IDBObjectStore.prototype.put = () => {
    throw error
  }
  return { restore: () => (IDBObjectStore.prototype.put = before) }
}
