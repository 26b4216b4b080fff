import { Dexie } from 'dexie'
import { spliced } from '../core/long-list.ts'
import type { Meadow } from '../core/meadow.ts'
import { newMeadow, newOutline } from '../document/new-planting.ts'
import { packLists } from '../document/pieces.ts'
import { openDexieStore } from './dexie-store.ts'
import { meshOf } from '../testing/fields.ts'
import { createMemoryStore } from './memory-store.ts'
import type { MeadowStore } from './store.ts'

const blob = (fill: number) => ({ hash: fill.toString(16).repeat(64).slice(0, 64), bytes: new Uint8Array(16).fill(fill) })
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
      await store.add(one)
      await new Promise((resolve) => setTimeout(resolve, 5))
      await store.add(two)
      expect(await store.read(one.id)).toEqual(one)
      expect(await store.read('nobody')).toBeNull()
      expect((await store.list()).map((entry) => entry.name)).toEqual(['Two', 'One'])
      expect(await store.getBlob(blob(1).hash)).toEqual(blob(1).bytes)
      expect((await store.list())[1].bytes).toBe(16 + JSON.stringify(one).length)
    })

    it('gives back a large blob byte for byte, and forgets all of it', async () => {
      const store = await open()
      // Pieces are of 1 MB: one byte less, as many, one more, and more than two.
      for (const [k, length] of [1048575, 1048576, 1048577, 2500001].entries()) {
        const { hash } = blob(5 + k)
        const bytes = Uint8Array.from({ length }, (_, i) => (i * 7919) >>> 8)
        const meadow = meadowOn('Large', hash)
        await store.putBlob(hash, bytes)
        await store.add(meadow)
        const back = await store.getBlob(hash)
        expect(back?.length).toBe(length)
        expect(back?.every((byte, i) => byte === bytes[i])).toBe(true)
        expect((await store.list())[0].bytes).toBe(length + JSON.stringify(meadow).length)
        await store.collect()
        expect((await store.getBlob(hash))?.length).toBe(length)
        await store.erase(meadow.id)
        await store.collect()
        expect(await store.getBlob(hash)).toBeNull()
      }
      expect(await store.list()).toEqual([])
    })

    it('keeps long lines in pieces: only those that are new are written, and none that a document names is cleared away', async () => {
      const store = await open()
      await store.putBlob(blob(1).hash, blob(1).bytes)
      const points = Array.from({ length: 8000 }, (_, i) => i % 97)
      const one = { ...meadowOn('One', blob(1).hash), outlines: [newOutline({ kind: 'path', name: 'P', colour: '#112233', lines: [points] })] }
      await store.add(one, 'me')
      const [line] = one.outlines[0].lines
      const moved = { ...one, outlines: [{ ...one.outlines[0], lines: [spliced(line, 4000, 2, [5.5, 6.5])] }] }
      await store.write(moved, 'me', 1)
      const entry = (await store.list())[0]
      expect(entry.bytes).toBe(16 + 8 * points.length + JSON.stringify(packLists(moved).document).length)
      await store.collect()
      expect(await store.read(one.id)).toEqual(moved)
      expect(await store.take(one.id, 'other')).toMatchObject({ meadow: moved, leftOut: [] })
      expect(await store.read(one.id)).toEqual(moved)
      await store.erase(one.id)
      await store.collect()
      for (const name of packLists(moved).blobs.keys()) expect(await store.getBlob(name)).toBeNull()
    })

    it('removes with a way back, and erases only blobs that nothing stands on', async () => {
      const store = await open()
      const one = meadowOn('One', blob(1).hash)
      const two = meadowOn('Two', blob(1).hash)
      const three = meadowOn('Three', blob(3).hash)
      for (const b of [blob(1), blob(3)]) await store.putBlob(b.hash, b.bytes)
      for (const meadow of [one, two, three]) await store.add(meadow)
      await store.setRemoved(one.id, 5)
      expect((await store.list()).find((entry) => entry.id === one.id)?.removed).toBe(5)
      await store.setRemoved(one.id, null)
      expect(await store.read(one.id)).toEqual(one)
      await store.erase(one.id)
      await store.erase(three.id)
      await store.collect()
      expect(await store.read(one.id)).toBeNull()
      expect(await store.getBlob(blob(1).hash)).not.toBeNull()
      expect(await store.getBlob(blob(3).hash)).toBeNull()
    })
  })

describe('a store in trouble', () => {
  it('writes only the pieces of a long line that are not there, and opens what has lost one without the line', async () => {
    const name = `pieces-${n++}`
    const store = await openDexieStore(name)
    await store.putBlob(blob(1).hash, blob(1).bytes)
    const outline = newOutline({ kind: 'path', name: 'P', colour: '#112233', lines: [Array.from({ length: 8000 }, (_, i) => i % 97)] })
    const meadow = { ...meadowOn('One', blob(1).hash), outlines: [outline] }
    await store.add(meadow, 'me')
    const db = await new Dexie(name).open()
    const names = async () => new Set((await db.table('blobs').toCollection().primaryKeys()) as string[])
    const before = await names()
    await store.write({ ...meadow, outlines: [{ ...outline, lines: [spliced(outline.lines[0], 4000, 2, [5.5, 6.5])] }] }, 'me', 1)
    const fresh = [...(await names())].filter((one) => !before.has(one))
    expect(fresh.length).toBe(1)
    expect(JSON.stringify(await db.table('documents').get(meadow.id)).length).toBeLessThan(4000)
    await db.table('blobs').delete(fresh[0])
    const taken = await store.take(meadow.id, 'me')
    expect(taken).toMatchObject({ leftOut: ['one of its outlines'], meadow: { outlines: [], name: 'One' } })
    db.close()
  })

  it('says that it is full, and keeps what was saved before', async () => {
    const store = await openDexieStore('full')
    const meadow = meadowOn('Kept', blob(1).hash)
    await store.putBlob(blob(1).hash, blob(1).bytes)
    await store.add(meadow)
    const put = failingWrites(new Dexie.QuotaExceededError('no room'))
    await expect(store.add({ ...meadow, name: 'Lost' })).rejects.toThrow('store is full. What was saved before is kept')
    put.restore()
    expect(await store.read(meadow.id)).toEqual(meadow)
  })

  it('opens a damaged document as far as it can, says what is left out, and keeps the original', async () => {
    const store = await openDexieStore('damaged')
    const meadow = meadowOn('Odd', blob(1).hash)
    await store.putBlob(blob(1).hash, blob(1).bytes)
    const odd = { ...meadow, water: { shown: true, level: 'high' as never }, beacons: [{ id: 'b' }, null], mood: 3 } as never
    await store.add(odd)
    const taken = await store.take(meadow.id, 'me')
    expect(taken?.meadow).toEqual({ ...meadow, water: { shown: false, level: 0 } })
    expect(taken?.leftOut).toEqual(['2 of its beacons', 'its water', '“mood”, which no meadow has'])
    expect(await store.original(meadow.id)).toEqual(odd)
    // From now on it opens as any other; the original stays as it was.
    expect((await store.take(meadow.id, 'you'))?.leftOut).toEqual([])
    expect(await store.original(meadow.id)).toEqual(odd)
  })

  it('puts a level ground where the heights are lost, and leaves out meshes without data', async () => {
    const store = await openDexieStore('lost')
    const meadow = { ...meadowOn('Lost', blob(1).hash), meshes: [meshOf({ blob: blob(2).hash, shape: blob(3).hash })] }
    await store.add(meadow)
    const taken = await store.take(meadow.id, 'me')
    expect(taken?.leftOut).toEqual(['its ground, whose heights are missing (a level one stands in)', '1 of its meshes, whose data is missing'])
    expect(await store.getBlob(taken?.meadow.ground.blob ?? '')).not.toBeNull()
  })

  it('refuses what is none at all, and is not held up by it', async () => {
    const store = await openDexieStore('none')
    const sound = meadowOn('Sound', blob(1).hash)
    await store.putBlob(blob(1).hash, blob(1).bytes)
    await store.putBlob(blob(2).hash, blob(2).bytes)
    await store.add(sound)
    await store.add({ ...sound, id: 'none', version: 'old' as never, ground: { blob: blob(2).hash } as never })
    await expect(store.take('none', 'me')).rejects.toThrow('“Sound” cannot be opened: it does not say which version')
    await store.collect()
    expect(await store.getBlob(blob(2).hash)).not.toBeNull()
    await store.erase('none')
    await store.collect()
    expect(await store.getBlob(blob(2).hash)).toBeNull()
    expect(await store.read(sound.id)).toEqual(sound)
  })

  it('brings a database of the first version over with all its meadows', async () => {
    const old = new Dexie('first version')
    old.version(1).stores({ meadows: 'id, modified, removed', blobs: 'hash' })
    const meadow = meadowOn('Old', blob(1).hash)
    await old.open()
    await old.table('blobs').put(blob(1))
    await old.table('meadows').put({ id: meadow.id, name: 'Old', created: 1, modified: 2, bytes: 3, picture: null, removed: null, document: meadow })
    old.close()
    const store = await openDexieStore('first version')
    expect(await store.read(meadow.id)).toEqual(meadow)
    expect(await store.list()).toEqual([{ id: meadow.id, name: 'Old', created: 1, modified: 2, bytes: 3, picture: null, removed: null }])
    await store.take(meadow.id, 'me')
    await store.write(meadow, 'me', 0)
    expect((await store.list())[0].bytes).toBe(16 + JSON.stringify(meadow).length)
  })
})

for (const [name, open] of makers)
  describe(`the journal of ${name}`, () => {
    const rename = (to: string) => [{ op: 'replace' as const, path: ['name'], value: to }]

    async function taken() {
      const store = await open()
      const meadow = meadowOn('Zero', blob(1).hash)
      await store.putBlob(blob(1).hash, blob(1).bytes)
      await store.add(meadow)
      await store.take(meadow.id, 'me')
      return { store, meadow }
    }

    it('is taken in when the meadow is read, in order, up to a gap', async () => {
      const { store, meadow } = await taken()
      for (const seq of [1, 3, 2, 5]) await store.note({ meadow: meadow.id, owner: 'me', seq, patches: rename(`Name ${seq}`) })
      expect((await store.read(meadow.id))?.name).toBe('Name 3')
      await store.write({ ...meadow, name: 'Whole' }, 'me', 4)
      expect((await store.read(meadow.id))?.name).toBe('Name 5')
      expect((await store.take(meadow.id, 'you'))?.meadow.name).toBe('Name 5')
    })

    it('counts only for the one who has taken the meadow; the other is told', async () => {
      const { store, meadow } = await taken()
      await store.take(meadow.id, 'you')
      await store.note({ meadow: meadow.id, owner: 'me', seq: 1, patches: rename('Late') })
      expect((await store.read(meadow.id))?.name).toBe('Zero')
      await expect(store.write({ ...meadow, name: 'Late' }, 'me', 1)).rejects.toThrow('taken over in another tab')
      expect((await store.read(meadow.id))?.name).toBe('Zero')
    })

    it('does not bring an erased meadow back', async () => {
      const { store, meadow } = await taken()
      const news: string[] = []
      const stop = store.listen(({ type }) => void news.push(type))
      await store.erase(meadow.id)
      await store.note({ meadow: meadow.id, owner: 'me', seq: 1, patches: rename('Ghost') })
      await expect(store.write(meadow, 'me', 1)).rejects.toThrow('no longer in the browser’s store')
      expect(await store.read(meadow.id)).toBeNull()
      expect(news).toEqual(['erased'])
      stop()
      // Put back as new: what was noted before does not count again.
      await store.add({ ...meadow, name: 'Again' }, 'me')
      expect((await store.read(meadow.id))?.name).toBe('Again')
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
