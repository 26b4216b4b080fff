import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { countOf, expect, handOff, openDemo, settled } from './field.ts'

test('a meadow opened again shows what had grown: nothing grows anew, and it is handed off the very same', async ({ page }) => {
  await openDemo(page)
  const counts = await countOf(page, 'Saltmarsh grass')
  const before = await handOff(page, 'Table (CSV)')
  // What has grown is kept when nothing grows for a while.
  const instances = await page.evaluate(() => [...window.waywardMeadow!.session.instances.tiles.values()].flatMap((own) => [...own.values()]).reduce((sum, { block }) => sum + block.count, 0))
  await expect.poll(() => keptBytes(page), { timeout: 30_000 }).toBeGreaterThanOrEqual(62 * instances)
  const url = page.url()
  for (const how of ['reload', 'gate'] as const) {
    if (how === 'reload') await page.reload()
    else {
      await page.goto('/')
      await page.goto(url)
    }
    const start = Date.now()
    await settled(page)
    console.log(`opened again (${how}): all there ${Date.now() - start} ms after the page`)
    expect(await page.evaluate(() => window.waywardMeadow!.session.store.getState().lastGrowing!.tiles)).toBe(0)
    await expect(page.locator('.status')).toContainText('shown as it had grown')
  }
  expect(await countOf(page, 'Saltmarsh grass')).toBe(counts)
  expect((await handOff(page, 'Table (CSV)')).equals(before)).toBe(true)

  // A torn pack is grown anew without a word.
  await page.evaluate(async () => {
    const db = await new Promise<IDBDatabase>((resolve) => {
      const opening = indexedDB.open('wayward-meadow')
      opening.onsuccess = () => resolve(opening.result)
    })
    const store = db.transaction('grown', 'readwrite').objectStore('grown')
    await new Promise<void>((resolve) => {
      store.openCursor().onsuccess = ({ target }) => {
        const cursor = (target as IDBRequest<IDBCursorWithValue | null>).result
        if (!cursor) return resolve()
        const row = cursor.value as { pack: { bytes: Uint8Array } }
        if (row.pack.bytes.length > 500) {
          row.pack.bytes[200] ^= 1
          cursor.update(row)
        }
        cursor.continue()
      }
    })
    db.close()
  })
  await page.reload()
  await settled(page)
  expect(await page.evaluate(() => window.waywardMeadow!.session.store.getState().lastGrowing!.tiles)).toBeGreaterThan(50)
  await expect(page.getByRole('alert')).toHaveCount(0)
  expect((await handOff(page, 'Table (CSV)')).equals(before)).toBe(true)
})

/** Bytes of the grown tiles in the browser's store. */
async function keptBytes(page: Page): Promise<number> {
  return page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const opening = indexedDB.open('wayward-meadow')
        opening.onsuccess = () => {
          const db = opening.result
          const asking = db.transaction('grownUse').objectStore('grownUse').getAll()
          asking.onsuccess = () => {
            db.close()
            resolve((asking.result as { lengths: Record<string, number> }[]).reduce((sum, { lengths }) => sum + Object.values(lengths).reduce((all, one) => all + one, 0), 0))
          }
        }
      }),
  )
}
