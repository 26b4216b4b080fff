import { Dexie } from 'dexie'
import { newMeadow } from '../document/new-planting.ts'
import type { Database } from './database.ts'
import { defineTables } from './database.ts'
import { openDexieStore } from './dexie-store.ts'
import type { GrownPack } from './grown.ts'
import { createGrownStore } from './grown.ts'

let n = 0
const pack = (planting: string, part: number, length: number): GrownPack => ({ planting, part, bytes: new Uint8Array(length).fill(part) })
async function database(name = `grown-${n++}`): Promise<Database> {
  const db = new Dexie(name) as Database
  defineTables(db)
  await db.open()
  return db
}
const kept = async (store: Pick<ReturnType<typeof createGrownStore>, 'each'>, meadow: string) => {
  const found: string[] = []
  await store.each(meadow, async (one) => void found.push(`${(one as GrownPack).planting}/${(one as GrownPack).part} ${(one as GrownPack).bytes.length}`))
  return found.sort()
}

describe('grown tiles in the browser’s store', () => {
  it('are there at the next opening, each in the place of the one before, and only of their own meadow', async () => {
    const store = createGrownStore(await database(), async () => 1000)
    expect(await store.put('a', pack('p', 0, 100))).toBe(true)
    expect(await store.put('a', pack('p', 1, 50))).toBe(true)
    expect(await store.put('b', pack('p', 0, 10))).toBe(true)
    await store.put('a', pack('p', 0, 120))
    expect(await kept(store, 'a')).toEqual(['p/0 120', 'p/1 50'])
    await store.retain('a', new Set(['p/1']))
    expect(await kept(store, 'a')).toEqual(['p/1 50'])
    await store.clear('a')
    expect(await kept(store, 'a')).toEqual([])
    expect(await kept(store, 'b')).toEqual(['p/0 10'])
    await store.clear()
    expect(await kept(store, 'b')).toEqual([])
  })

  it('take no more than their share: those of the meadow that was open longest ago go first, and never its own for it', async () => {
    const store = createGrownStore(await database(), async () => 300)
    for (const meadow of ['old', 'middle', 'new']) {
      await store.put(meadow, pack('p', 0, 100))
      await new Promise((resolve) => setTimeout(resolve, 3))
    }
    // Opened again, the oldest is no longer the oldest.
    await kept(store, 'old')
    await store.put('new', pack('p', 1, 80))
    expect([await kept(store, 'old'), await kept(store, 'middle'), await kept(store, 'new')]).toEqual([['p/0 100'], [], ['p/0 100', 'p/1 80']])
    expect(await store.put('new', pack('p', 2, 200))).toBe(false)
    expect(await kept(store, 'new')).toEqual(['p/0 100', 'p/1 80'])
  })

  it('a pack that has gone missing is passed over', async () => {
    const db = await database()
    const store = createGrownStore(db, async () => 1000)
    await store.put('a', pack('p', 0, 10))
    await store.put('a', pack('p', 1, 10))
    await db.grown.delete(['a', 'p/0'])
    expect(await kept(store, 'a')).toEqual(['p/1 10'])
  })

  it('go with their meadow when it is erased, and make room when a document does not fit', async () => {
    const name = `grown-${n++}`
    const store = await openDexieStore(name)
    const blob = '5'.repeat(64)
    await store.putBlob(blob, new Uint8Array(16))
    const [one, two] = ['One', 'Two'].map((own) => newMeadow(own, blob, { samples: 2, size: 10 }))
    await store.add(one)
    await store.grown.put(one.id, pack('p', 0, 10))
    await store.erase(one.id)
    expect(await kept(store.grown, one.id)).toEqual([])

    await store.grown.put(two.id, pack('p', 0, 10))
    const put = IDBObjectStore.prototype.put
    let refusals = 0
    IDBObjectStore.prototype.put = function (this: IDBObjectStore, ...given: Parameters<typeof put>) {
      if (this.name === 'documents' && refusals++ === 0) throw new DOMException('no room', 'QuotaExceededError')
      return put.apply(this, given)
    }
    try {
      await store.add(two, 'me')
    } finally {
      IDBObjectStore.prototype.put = put
    }
    expect(refusals).toBe(2)
    expect((await store.read(two.id))?.name).toBe('Two')
    expect(await kept(store.grown, two.id)).toEqual([])
  })
})
