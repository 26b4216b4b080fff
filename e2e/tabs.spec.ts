import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { expect } from './field.ts'

/** A new meadow in one tab, and a second tab at the gate of the same browser. */
async function twoTabs(page: Page) {
  await page.goto('/')
  await page.getByRole('button', { name: 'New meadow' }).click()
  await page.waitForFunction(() => window.waywardMeadow?.session.store.getState().save === 'saved')
  const second = await page.context().newPage()
  return { second, address: page.url() }
}

const setLevel = (page: Page, level: number) =>
  page.evaluate((wanted) => window.waywardMeadow?.session.edit('Change the water level', (meadow) => void (meadow.water.level = wanted)), level)
const levelOf = (page: Page) => page.evaluate(() => window.waywardMeadow?.session.store.getState().history.meadow.water.level)
const saved = (page: Page) => expect(page.getByTestId('save')).toHaveText('Saved')

test('an edit in the moment before another tab takes over is there, at 0 to 600 ms; an edit while taking over waits for its turn', async ({ page }) => {
  const { second, address } = await twoTabs(page)
  await second.goto(address)
  await expect(second.getByTestId('save')).toHaveText('Open in another tab')
  let [has, wants] = [page, second]
  for (const [k, wait] of [0, 50, 150, 300, 600].entries()) {
    await setLevel(has, k + 1)
    await wants.waitForTimeout(wait)
    await wants.bringToFront()
    await wants.getByRole('button', { name: 'Change it here' }).click()
    await wants.evaluate((name) => window.waywardMeadow?.session.edit('Add a view', (meadow) => void meadow.views.push({ id: name, name, position: [0, 1, 2], target: [0, 0, 0] })), `View ${k}`)
    await saved(wants)
    expect(await levelOf(wants)).toBe(k + 1)
    const views = await wants.evaluate(() => window.waywardMeadow?.session.store.getState().history.meadow.views.map(({ id }) => id))
    expect(views).toContain(`View ${k}`)
    await expect(has.getByTestId('save')).toHaveText('Open in another tab')
    ;[has, wants] = [wants, has]
  }
  // Requests for the right to write do not pile up.
  const pending = await page.evaluate(async () => (await navigator.locks.query()).pending?.length)
  expect(pending).toBe(1)
})

test('a new name given at the gate stays, and what is edited after it too', async ({ page }) => {
  const { second } = await twoTabs(page)
  await second.goto('/')
  await second.getByRole('button', { name: /What to do with/ }).click()
  await second.getByRole('menuitem', { name: 'Rename' }).click()
  await second.getByRole('textbox', { name: 'Name of the meadow' }).fill('Curlew marsh')
  await second.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Curlew marsh')
  await setLevel(page, 3)
  await saved(page)
  await page.reload()
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Curlew marsh')
  expect(await levelOf(page)).toBe(3)
})

test('erased at the gate while open: it says so, and can be kept again with all its parts', async ({ page }) => {
  const { second, address } = await twoTabs(page)
  await second.goto('/')
  await second.getByRole('button', { name: /What to do with/ }).click()
  await second.getByRole('menuitem', { name: 'Remove', exact: true }).click()
  await expect(page.getByText('was removed at the gate. What you change is still kept with it.')).toBeVisible()
  await second.getByRole('button', { name: 'Erase for good' }).click()
  await expect(page.getByTestId('save')).toHaveText('No longer kept')
  await setLevel(page, 7)
  await expect(page.getByTestId('save')).toHaveText('No longer kept')
  await page.getByRole('button', { name: 'Keep it here again' }).click()
  await saved(page)
  await setLevel(page, 8)
  await saved(page)
  await page.close()
  await second.goto(address)
  await second.waitForFunction(() => window.waywardMeadow?.session.store.getState().growing === false)
  expect(await levelOf(second)).toBe(8)
  // Its nursery is whole: thumbnails are drawn from the blobs.
  await second.getByRole('button', { name: 'Nursery', exact: true }).click()
  await expect(second.locator('.shelf img').first()).toBeVisible()
})

test('the data of the page cleared by the person: it says so, and can be kept again', async ({ page }) => {
  const { address } = await twoTabs(page)
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Storage.clearDataForOrigin', { origin: new URL(address).origin, storageTypes: 'indexeddb' })
  await expect(page.getByTestId('save')).toHaveText('No longer kept')
  await setLevel(page, 4)
  await page.getByRole('button', { name: 'Keep it here again' }).click()
  await saved(page)
  await page.reload()
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  expect(await levelOf(page)).toBe(4)
})

test('while nothing can be saved it says so, asks before leaving, and saves by itself once it can', async ({ page }) => {
  await twoTabs(page)
  await page.evaluate(() => {
    const real = IDBObjectStore.prototype.put
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError')
    }
    Object.assign(window, { makeRoom: () => (IDBObjectStore.prototype.put = real) })
  })
  await setLevel(page, 2)
  await expect(page.getByTestId('save')).toHaveText('Not saved; trying again')
  await expect(page.getByText('the browser’s store is full').or(page.getByText("the browser's store is full")).first()).toBeVisible()
  await page.getByRole('link', { name: 'Gate' }).click()
  await expect(page.getByRole('dialog')).toContainText('is not in the browser’s store')
  await page.getByRole('button', { name: 'Stay' }).click()
  await page.evaluate(() => (window as unknown as { makeRoom: () => void }).makeRoom())
  await expect(page.getByTestId('save')).toHaveText('Saved', { timeout: 20_000 })
  await page.reload()
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  expect(await levelOf(page)).toBe(2)
})
