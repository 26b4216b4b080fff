import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { lengthOf } from '../src/core/long-list.ts'
import { tabTo } from './acts.ts'
import { card, expect, openDrawer, openFold, settled, type } from './field.ts'
import { add, heightOf, inFolds, startSmall, TEST } from './small-ground.ts'

/** Ways in: meadows to start from, first steps, help on every control; panels; fingers. */

const view = (page: Page) => page.evaluate(() => window.waywardMeadow!.landscape.view())
const widthOf = async (page: Page, what: string) => (await page.locator(what).boundingBox())!.width

/** Share of the window that shows the picture and nothing over it. */
const freeShare = (page: Page) =>
  page.evaluate(() => {
    let free = 0
    let all = 0
    for (let y = 2; y < innerHeight; y += 4)
      for (let x = 2; x < innerWidth; x += 4) {
        const top = document.elementFromPoint(x, y)
        all++
        if (top?.closest('.picture') && !top.closest('[data-over]')) free++
      }
    return free / all
  })

test('a meadow to start from in one click; the first steps follow what is done, are put away and called back', async ({ page }) => {
  await page.goto('/')
  const starters = page.getByRole('region', { name: 'Meadows to start from' })
  await expect(starters.getByRole('button')).toHaveCount(3)
  await starters.getByRole('button', { name: 'Start from Lapwing Bog' }).click()
  await page.waitForURL(/\/field\//)
  await settled(page)
  await expect(page.getByRole('heading', { name: 'Lapwing Bog' })).toBeVisible()
  const total = Number((await page.getByTestId('total').innerText()).replace(/\D/g, ''))
  expect(total).toBeGreaterThan(5000)
  expect(await page.evaluate(() => Object.values(window.waywardMeadow!.session.store.getState().plantings).every(({ count }) => count > 0))).toBe(true)

  const line = page.locator('.first-line')
  await expect(line).toContainText('Click on the name of a planting')
  await page.getByRole('button', { name: 'Bog cotton by the pools', exact: true }).click()
  await expect(line).toContainText('Drag a bold number')
  // Out of turn: what is done counts, and is not asked for again.
  await page.keyboard.press('t')
  await expect(line).toContainText('Drag a bold number')
  await type(page, card(page, 'Bog cotton by the pools').getByRole('spinbutton').first(), '3')
  await expect(line).toContainText('add a condition')
  await page.getByRole('button', { name: /Put the first steps away/ }).click()
  await expect(line).toHaveCount(0)
  // With a drawer and a card open, conditions and all, two thirds of the window are picture.
  await openFold(page, 'Bog cotton by the pools', 'Where')
  const free = await freeShare(page)
  console.log(`free picture: ${(100 * free).toFixed(1)} %`)
  expect(free).toBeGreaterThan(0.67)
  await page.reload()
  await settled(page)
  await expect(line).toHaveCount(0)
  await page.getByRole('link', { name: 'Guide' }).click()
  await page.getByRole('button', { name: 'Show the first steps again' }).click()
  await expect(line).toContainText('Click on the name of a planting')
})

test('help on each control by one key, the guide about it by the same once more; panels are sized and folded', async ({ page }) => {
  await startSmall(page, '4')
  const number = page.locator('.folds, .card').getByRole('spinbutton', { name: 'Spacing' }).first()
  await number.focus()
  await page.keyboard.press('h')
  const hint = page.locator('.hint')
  await expect(hint).toContainText('Press H again for the guide')
  await page.keyboard.press('h')
  await expect(page).toHaveURL(/guide\?page=/)
  await expect(page.locator('.guide-book [aria-current=page]')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.locator('.guide-book')).toHaveCount(0)
  // The colour of a habitat is told by a legend, with the share of the ground that it takes.
  await openFold(page, TEST, 'Where')
  await add(page, 'Height')
  await type(page, inFolds(page, 'Height, from'), '5')
  await type(page, inFolds(page, 'Soft edge'), '0')
  await page.locator('.picture').focus()
  await page.keyboard.press('i')
  const side = Array.from({ length: 200 }, (_, i) => (i + 0.5) / 2 - 50)
  const taken = side.flatMap((x) => side.map((z) => heightOf(x, z))).filter((height) => height > 5).length / side.length ** 2
  const legend = page.locator('.tint-legend')
  await expect(legend).toContainText('refused')
  await expect.poll(async () => Math.abs(Number(/(\d+) % of the ground/.exec(await legend.innerText())?.[1]) - 100 * taken)).toBeLessThan(2)
  await legend.getByRole('button').click()
  await expect(legend).toHaveCount(0)
  // Letters go into a text: no help is asked for there.
  await openDrawer(page, 'Nursery')
  const search = page.getByRole('searchbox', { name: 'Search the nursery' })
  await search.focus()
  await page.keyboard.type('hh')
  await expect(search).toHaveValue('hh')

  await openDrawer(page, 'Plantings')
  await tabTo(page, /^Width of the drawer$/)
  const before = await widthOf(page, '.drawer')
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowRight')
  const wider = await widthOf(page, '.drawer')
  expect(wider).toBeGreaterThan(before + 20)
  await page.reload()
  await settled(page)
  await page.getByRole('button', { name: TEST, exact: true }).click()
  expect(await widthOf(page, '.drawer')).toBeCloseTo(wider, 0)
  const edge = (await page.getByRole('separator', { name: 'Width of the card' }).boundingBox())!
  const card0 = await widthOf(page, '.folds')
  await page.mouse.move(edge.x + 3, edge.y + 100)
  await page.mouse.down()
  await page.mouse.move(edge.x - 57, edge.y + 100, { steps: 4 })
  await page.mouse.up()
  expect(await widthOf(page, '.folds')).toBeCloseTo(card0 + 60, -1)
  await page.locator('.picture').focus()
  await page.keyboard.press('f')
  await expect(page.locator('.folds')).toHaveCount(0)
  await page.keyboard.press('f')
  await expect(page.locator('.folds')).toBeVisible()
  await page.keyboard.press('c')
  await expect(page.locator('.drawer, .folds, .tabs')).toHaveCount(0)
  await page.keyboard.press('c')
  await expect(page.locator('.drawer')).toBeVisible()
})

test('fingers turn, move and zoom the picture, also while drawing; targets are 44 px', async ({ browser }) => {
  const context = await browser.newContext({ hasTouch: true, isMobile: true, viewport: { width: 1024, height: 768 }, deviceScaleFactor: 0.5 })
  const page = await context.newPage()
  await page.goto('/')
  await page.getByRole('button', { name: 'New meadow', exact: true }).tap()
  await page.waitForURL(/\/field\//)
  await settled(page)
  const touch = await context.newCDPSession(page)
  /** Moves fingers from and to places, px. */
  const fingers = async (...ways: readonly (readonly [number, number, number, number])[]) => {
    const at = (t: number) => ways.map(([x0, y0, x1, y1], id) => ({ x: x0 + t * (x1 - x0), y: y0 + t * (y1 - y0), id }))
    // One comes down after the other, as fingers do.
    for (let count = 1; count <= ways.length; count++) await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: at(0).slice(0, count) })
    for (let k = 1; k <= 6; k++) {
      await touch.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: at(k / 6) })
      await page.waitForTimeout(30)
    }
    await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] })
    await page.waitForTimeout(150)
  }
  const far = ({ position: p, target: t }: Awaited<ReturnType<typeof view>>) => Math.hypot(p[0] - t[0], p[1] - t[1], p[2] - t[2])
  const first = await view(page)
  await fingers([560, 420, 700, 420])
  const turned = await view(page)
  expect(turned.position).not.toEqual(first.position)
  expect(turned.target).toEqual(first.target)
  expect(far(turned)).toBeCloseTo(far(first), 3)
  await fingers([520, 420, 420, 420], [620, 420, 720, 420])
  const near = await view(page)
  expect(far(near)).toBeLessThan(0.8 * far(turned))

  await page.keyboard.press('d')
  for (const [x, y] of [[500, 500], [600, 500]]) await page.touchscreen.tap(x, y)
  const drawn = () => page.evaluate(() => window.waywardMeadow!.landscape.view() && document.querySelectorAll('.outline-overlay .handle').length)
  await expect.poll(drawn).toBe(2)
  await fingers([470, 420, 530, 420], [670, 420, 610, 420])
  expect(far(await view(page))).toBeGreaterThan(1.1 * far(near))
  expect(await drawn()).toBe(2)
  await page.touchscreen.tap(560, 560)
  await expect.poll(drawn).toBe(3)
  await page.keyboard.press('Enter')
  const [patch] = await page.evaluate(() => window.waywardMeadow!.session.meadow().outlines)
  expect(lengthOf(patch.lines[0])).toBe(6)

  const small = await page.locator('button:visible, select:visible').evaluateAll((all) =>
    all.map((one) => ({ name: one.getAttribute('aria-label') ?? one.textContent, box: one.getBoundingClientRect() })).filter(({ box }) => box.width > 0 && (box.height < 43.5 || box.width < 43.5)).map(({ name, box }) => `${name} ${Math.round(box.width)} × ${Math.round(box.height)}`),
  )
  expect(small).toEqual([])
  await context.close()
})
