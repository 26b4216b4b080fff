import type { Locator, Page } from '@playwright/test'
import { test } from '@playwright/test'
import { card, expect, openDrawer, openFold, settled } from './field.ts'
import { makeMany } from './many.ts'
import { startSmall } from './small-ground.ts'

/** Lists that are long: what is seen of them is drawn, and all of them is reached. */

async function openMany(page: Page, plantings: number, assets: number, outlines: number): Promise<void> {
  const file = await makeMany(plantings, assets, outlines)
  await page.goto('/')
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in a .meadow file' }).click()
  await (await chooser).setFiles({ name: 'many.meadow', mimeType: 'application/zip', buffer: file })
  await page.getByRole('link', { name: /Many of all/ }).first().click({ timeout: 120_000 })
  await page.waitForURL(/\/field\//)
  await settled(page)
}

/** Runs something and tells of the tasks over 50 ms meanwhile. */
async function tasksOf(page: Page, what: string, run: () => Promise<void>): Promise<number> {
  await page.evaluate(() => {
    const tasks: number[] = []
    const watch = new PerformanceObserver((list) => tasks.push(...list.getEntries().map(({ duration }) => duration)))
    watch.observe({ type: 'longtask' })
    Object.assign(window, { tasks, watch })
  })
  await run()
  await page.waitForTimeout(400)
  const tasks = await page.evaluate(() => {
    const seen = window as unknown as { tasks: number[]; watch: PerformanceObserver }
    seen.watch.disconnect()
    return seen.tasks
  })
  const longest = Math.max(0, ...tasks)
  console.log(`${what}: ${tasks.length === 0 ? 'no task over 50 ms' : `${tasks.length} tasks over 50 ms, the longest ${longest.toFixed(0)} ms`}`)
  return longest
}

/** Scrolls a list from its top to its end by the wheel, in so many turns. */
async function scroll(page: Page, list: Locator, turns: number): Promise<void> {
  const box = await list.boundingBox()
  if (!box) throw new Error('the list is not to be seen')
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  for (let k = 0; k < turns; k++) {
    await page.mouse.wheel(0, 120)
    await page.waitForTimeout(16)
  }
}

/** Opens a card; how long after the press it is there to be drawn, ms. */
async function open(page: Page, name: string): Promise<number> {
  const button = card(page, name).getByRole('button', { name, exact: true })
  await button.evaluate((one) => {
    const times = { pressed: 0, there: 0 }
    Object.assign(window, { times })
    addEventListener('click', ({ timeStamp }) => (times.pressed = timeStamp), { capture: true, once: true })
    const watch = new MutationObserver(() => {
      if (document.querySelector('.folds h2')?.textContent !== one.textContent) return
      watch.disconnect()
      // After what is drawn next.
      requestAnimationFrame(() => setTimeout(() => (times.there = performance.now())))
    })
    watch.observe(document.body, { childList: true, subtree: true, characterData: true })
  })
  await button.click()
  await expect.poll(() => page.evaluate(() => (window as unknown as { times: { there: number } }).times.there)).toBeGreaterThan(0)
  await page.waitForTimeout(600)
  return page.evaluate(() => {
    const { times } = window as unknown as { times: { pressed: number; there: number } }
    return times.there - times.pressed
  })
}

test('500 plantings, 2,000 assets, 1,000 outlines: scrolled, and a card opened @long', async ({ page }) => {
  test.setTimeout(900_000)
  await openMany(page, 500, 2000, 1000)
  await page.waitForFunction(() => window.waywardMeadow?.landscape.facts().rest)
  await page.waitForTimeout(3000)
  await openDrawer(page, 'Plantings')
  await tasksOf(page, 'plantings', () => scroll(page, page.locator('.drawer'), 180))
  await page.locator('.drawer').evaluate((one) => void (one.scrollTop = 0))
  // The first one is there a little later: its code is new to the browser.
  for (const name of ['Planting 1', 'Planting 2', 'Planting 5', 'Planting 7']) {
    const there = await open(page, name)
    console.log(`the card of ${name}: there after ${there.toFixed(0)} ms`)
  }
  await openDrawer(page, 'Nursery')
  await page.waitForTimeout(2000)
  await tasksOf(page, 'assets', () => scroll(page, page.locator('.drawer'), 300))
  await page.waitForTimeout(4000)
  await openDrawer(page, 'Outlines')
  await page.waitForTimeout(1000)
  await tasksOf(page, 'outlines', () => scroll(page, page.locator('.drawer'), 250))
})

test('long lists draw what is seen of them, and one menu serves them all', async ({ page }) => {
  await openMany(page, 90, 160, 120)
  const drawer = page.locator('.drawer')
  const toEnd = () => drawer.evaluate((one) => void (one.scrollTop = one.scrollHeight))
  await expect(drawer.getByText('Planting 0', { exact: true })).toBeVisible()
  expect(await drawer.locator('.card').count()).toBeLessThan(50)
  await expect(drawer.locator('.card').first()).toHaveAttribute('aria-setsize', '90')
  // The open card stays, however far the list is scrolled: what is typed in it is not lost.
  await openFold(page, 'Planting 1', 'Where')
  await toEnd()
  await expect(drawer.getByText('Planting 89', { exact: true })).toBeVisible()
  await expect(card(page, 'Planting 1').locator('.sentence')).toHaveCount(1)
  expect(await drawer.locator('.card').count()).toBeLessThan(50)

  // By pointer: rename the last but one, which is drawn among others by the same menu.
  await page.getByRole('button', { name: 'What to do with Planting 88' }).click()
  await page.getByRole('menuitem', { name: 'Rename' }).click()
  const name = page.getByRole('textbox', { name: 'Name of the planting' })
  await expect(name).toHaveValue('Planting 88')
  await page.keyboard.type('Last but one')
  await page.keyboard.press('Enter')
  await expect(drawer.getByText('Last but one', { exact: true })).toBeFocused()
  await page.getByRole('button', { name: 'What to do with Planting 89' }).click()
  await expect(page.getByRole('menu')).toBeVisible()
  // The menu that is open is another one's now.
  await page.keyboard.press('Escape')
  await expect(page.getByRole('button', { name: 'What to do with Planting 89' })).toBeFocused()
  // By keys: the last one is taken out, and the focus is not lost.
  await page.keyboard.press('Enter')
  await expect(page.getByRole('menuitem', { name: 'Remove' })).toBeVisible()
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('End')
  await page.keyboard.press('Enter')
  await expect(drawer.getByText('Planting 89', { exact: true })).toHaveCount(0)
  expect(await page.evaluate(() => window.waywardMeadow!.session.meadow().plantings.map((one) => one.name).slice(-2))).toEqual(['Planting 87', 'Last but one'])
  await expect(page.getByRole('menu')).toHaveCount(0)
  await expect.poll(() => page.evaluate(() => document.activeElement?.className)).toBe('card-name')

  // Small pictures are drawn apart from the page, of what is seen, with something on them.
  await openDrawer(page, 'Nursery')
  await expect(drawer.locator('.shelf-asset').first()).toBeVisible()
  expect(await drawer.locator('.shelf-asset').count()).toBeLessThan(80)
  expect(page.workers().map((worker) => worker.url()).filter((url) => url.includes('studio-worker'))).toHaveLength(1)
  await toEnd()
  // Whichever of the copies is the last boulder: something with a body, and nothing else of its name.
  const boulder = await page.evaluate(() => window.waywardMeadow!.session.meadow().assets.findLast(({ name }) => /^Boulder \d{3}$/.test(name))!.name)
  await page.getByRole('searchbox', { name: 'Search the nursery' }).fill(boulder)
  const picture = drawer.locator('.shelf-asset img')
  await expect(picture).toHaveCount(1)
  const seen = await picture.evaluate(async (image: HTMLImageElement) => {
    await image.decode()
    const canvas = new OffscreenCanvas(image.naturalWidth, image.naturalHeight)
    const context = canvas.getContext('2d')!
    context.drawImage(image, 0, 0)
    const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height)
    let drawn = 0
    for (let i = 3; i < data.length; i += 4) drawn += data[i] > 200 ? 1 : 0
    return { width, share: drawn / (width * height) }
  })
  expect(seen.width).toBe(192)
  expect(seen.share).toBeGreaterThan(0.1)
  expect(seen.share).toBeLessThan(0.9)

  await openDrawer(page, 'Outlines')
  await expect(drawer.locator('.outline').first()).toHaveAttribute('aria-setsize', '120')
  await toEnd()
  await page.getByRole('button', { name: 'What to do with Outline 119' }).click()
  await page.getByRole('menuitem', { name: 'Planting 1 grows along it' }).click()
  await openDrawer(page, 'Plantings')
  await expect(card(page, 'Planting 1').locator('.sentence')).toContainText('Outline 119')
})

test('where workers have no canvas, small pictures are drawn in the page', async ({ page }) => {
  await page.addInitScript(() => Reflect.deleteProperty(window, 'OffscreenCanvas'))
  await startSmall(page, '4')
  await openDrawer(page, 'Nursery')
  await expect(page.locator('.shelf-asset img').first()).toHaveAttribute('src', /^data:image\/png/)
  expect(page.workers().filter((worker) => worker.url().includes('studio-worker'))).toEqual([])
})
