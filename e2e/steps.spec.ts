import type { Locator, Page } from '@playwright/test'
import { test } from '@playwright/test'
import { card, choose, expect, openDrawer, openFold, settled } from './field.ts'
import { add, startSmall, TEST } from './small-ground.ts'

const past = (page: Page) => page.evaluate(() => window.waywardMeadow?.session.store.getState().history.past.map(({ name }) => name) ?? [])
/** What a drag can change, as text. */
const changeable = (page: Page) => page.evaluate(() => JSON.stringify(window.waywardMeadow?.session.meadow(), (key, value: unknown) => (key === 'assets' ? undefined : value)))

/** Where a control is taken hold of: a thumb where it stands on its track, anything else in its middle. */
async function gripOf(control: Locator): Promise<[number, number]> {
  await control.evaluate((one) => one.scrollIntoView({ block: 'center' }))
  const box = await control.boundingBox()
  if (!box) throw new Error('the control is not to be seen')
  const share = await control.evaluate((one) => (one instanceof HTMLInputElement && one.type === 'range' ? (Number(one.value) - Number(one.min)) / (Number(one.max) - Number(one.min)) : null))
  return [share === null ? box.x + box.width / 2 : box.x + 6 + share * (box.width - 12), box.y + box.height / 2]
}

/** Drags a control in small moves; tells how many steps of undo that made, and takes them back. */
async function stepsOf(page: Page, control: Locator, dx: number, dy: number): Promise<number> {
  const [x, y] = await gripOf(control)
  const before = (await past(page)).length
  const was = await changeable(page)
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let k = 1; k <= 2; k++) {
    await page.mouse.move(x + (dx * k) / 2, y + (dy * k) / 2)
    // Every move is drawn before the next, as those of a hand are.
    await page.evaluate(() => new Promise(requestAnimationFrame))
  }
  await page.mouse.up()
  await page.waitForTimeout(30)
  const steps = (await past(page)).length - before
  for (let k = 0; k < steps; k++) await page.keyboard.press('Control+z')
  expect(await changeable(page)).toBe(was)
  return steps
}

test('one drag of every control of a card and of the drawers is one step of undo', async ({ page }) => {
  await startSmall(page)
  const name = TEST
  for (const condition of ['Height', 'Slope', 'Patchiness']) await add(page, condition)
  // A driver, to have its curve.
  await openFold(page, name, 'How it stands')
  await choose(page, page.getByRole('button', { name: 'Add a driver', exact: true }), 'Height')
  await openDrawer(page, 'Beacons')
  await page.getByRole('button', { name: 'Set a beacon', exact: true }).click()
  await openDrawer(page, 'Plantings')
  // Out of sight, so that the picture takes no time.
  await card(page, name).getByRole('button', { name: 'Hide', exact: true }).click()
  await settled(page)
  let tried = 0
  const tally: Record<string, number> = {}
  const tryAll = async (what: string, controls: Locator, dx: number, dy = 0) => {
    for (const control of await controls.all()) {
      if (!(await control.isVisible()) || (await control.getAttribute('aria-disabled')) === 'true' || (await control.isDisabled())) continue
      const label = (await control.getAttribute('aria-label')) ?? what
      // At its end a drag changes nothing one way; then it does the other.
      const steps = (await stepsOf(page, control, dx, dy)) || (await stepsOf(page, control, -dx, -dy))
      expect([what, label, steps]).toEqual([what, label, 1])
      tried++
      tally[what] = (tally[what] ?? 0) + 1
    }
  }
  for (const fold of ['What', 'Where', 'How many', 'How it stands']) {
    await openFold(page, name, fold)
    const folds = page.locator('.folds')
    await tryAll('number', folds.getByRole('spinbutton'), 33)
    await tryAll('thumb', folds.locator('input.thumb'), 12)
    await tryAll('curve', folds.locator('.curve-point'), 0, 9)
  }
  await tryAll('sentence', card(page, name).getByRole('spinbutton'), 30)
  await openDrawer(page, 'Ground')
  await tryAll('water', page.getByRole('spinbutton', { name: 'Water level' }), 20)
  await openDrawer(page, 'Beacons')
  await page.getByRole('button', { name: 'Beacon 1', exact: true }).click()
  await tryAll('beacon', page.locator('circle.handle.beacon'), 24, 10)
  await tryAll('beacon number', page.locator('.drawer').getByRole('spinbutton'), 21)
  expect(Object.keys(tally)).toEqual(expect.arrayContaining(['number', 'thumb', 'curve', 'sentence', 'water', 'beacon', 'beacon number']))
  expect(tried).toBeGreaterThan(25)
})
