import type { Dexie, Table } from 'dexie'

/** Grown tiles that are kept beside documents: they can be grown anew, so they are the first to go. */

/** What is kept of them in one piece. */
export interface GrownPack {
  readonly planting: string
  readonly part: number
  readonly bytes: Uint8Array<ArrayBuffer>
}

export interface GrownStore {
  /** Calls `use` with each pack that is kept of a meadow, whatever it has become in the store. */
  each(meadow: string, use: (pack: unknown) => Promise<void>): Promise<void>
  /** Keeps a pack in the place of the one before; lets the packs of meadows go that were not open for longest. False when there is no room for it. */
  put(meadow: string, pack: GrownPack): Promise<boolean>
  /** Lets go what a meadow keeps beyond these, named as `planting/part`. */
  retain(meadow: string, names: ReadonlySet<string>): Promise<void>
  /** Lets go all of a meadow, or of all. */
  clear(meadow?: string): Promise<void>
}

interface GrownRow {
  readonly meadow: string
  readonly name: string
  readonly pack: GrownPack
}

/** How much a meadow keeps, by the names of its packs, bytes; and when it was last open, ms since 1970. */
interface UseRow {
  readonly meadow: string
  readonly used: number
  readonly lengths: Readonly<Record<string, number>>
}

export interface GrownTables {
  grown: Table<GrownRow, [string, string]>
  grownUse: Table<UseRow, string>
}

/** Share of what the browser grants this page that kept tiles may take, and the most of it, bytes. */
const SHARE = 0.1
const MOST = 512 * 1024 * 1024

async function room(): Promise<number> {
  const estimate = await globalThis.navigator?.storage?.estimate?.().catch(() => null)
  return Math.min(MOST, SHARE * (estimate?.quota ?? MOST / SHARE))
}

const sum = (lengths: UseRow['lengths']) => Object.values(lengths).reduce((all, length) => all + length, 0)

/** The kept tiles of a database; `most` is how much they may take, bytes. */
export function createGrownStore(db: Dexie & GrownTables, most: () => Promise<number> = room): GrownStore {
  const store: GrownStore = {
    async each(meadow, use) {
      const own = await db.grownUse.get(meadow)
      if (!own) return
      await db.grownUse.update(meadow, { used: Date.now() })
      // One at a time: a megabyte each.
      for (const name of Object.keys(own.lengths)) {
        const row = await db.grown.get([meadow, name])
        if (row) await use(row.pack)
      }
    },
    async put(meadow, pack) {
      const name = `${pack.planting}/${pack.part}`
      const limit = await most()
      return db.transaction('rw', db.grown, db.grownUse, async () => {
        const own = (await db.grownUse.get(meadow)) ?? { meadow, used: 0, lengths: {} }
        const lengths = { ...own.lengths, [name]: pack.bytes.length }
        if (sum(lengths) > limit) return false
        const others = (await db.grownUse.orderBy('used').toArray()).filter((one) => one.meadow !== meadow)
        let all = sum(lengths) + others.reduce((total, one) => total + sum(one.lengths), 0)
        for (const oldest of others) {
          if (all <= limit) break
          all -= sum(oldest.lengths)
          await db.grown.where('meadow').equals(oldest.meadow).delete()
          await db.grownUse.delete(oldest.meadow)
        }
        await db.grown.put({ meadow, name, pack })
        await db.grownUse.put({ meadow, used: Date.now(), lengths })
        return true
      })
    },
    async retain(meadow, names) {
      await db.transaction('rw', db.grown, db.grownUse, async () => {
        const own = await db.grownUse.get(meadow)
        if (!own) return
        const gone = Object.keys(own.lengths).filter((name) => !names.has(name))
        await db.grown.bulkDelete(gone.map((name): [string, string] => [meadow, name]))
        await db.grownUse.put({ ...own, lengths: Object.fromEntries(Object.entries(own.lengths).filter(([name]) => names.has(name))) })
      })
    },
    async clear(meadow) {
      await db.transaction('rw', db.grown, db.grownUse, async () => {
        if (meadow === undefined) {
          await db.grown.clear()
          await db.grownUse.clear()
          return
        }
        await db.grown.where('meadow').equals(meadow).delete()
        await db.grownUse.delete(meadow)
      })
    },
  }
  return store
}

/** Keeps nothing: for stores that last as long as the tab. */
export const KEEPS_NOTHING: GrownStore = { each: async () => undefined, put: async () => false, retain: async () => undefined, clear: async () => undefined }
