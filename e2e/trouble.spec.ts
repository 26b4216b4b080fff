import { test } from '@playwright/test'
import { dropFiles } from './acts.ts'
import { axeFaults } from './axe.ts'
import { countOf, expect, openDemo, settled, type, card } from './field.ts'
import { startSmall, TEST } from './small-ground.ts'

test('bad files are refused in one sentence, and what there was is kept', async ({ page }) => {
  await openDemo(page)
  const before = await countOf(page, 'Samphire on the mud')
  for (const [name, bytes, sentence] of [
    ['empty.png', [], 'is empty (0 bytes)'],
    ['cut.asc', [...new TextEncoder().encode('ncols 4\nnrows 4\ncellsize 1\n1 2 3')], 'ends at row 1, column 4'],
    ['broken.glb', [0x67, 0x6c, 0x54, 0x46, 2, 0, 0, 0], 'damaged or cut-short GLB'],
  ] as const) {
    await dropFiles(page, [{ name, bytes }])
    await expect(page.getByRole('alert')).toContainText(sentence)
    await page.getByRole('button', { name: 'Cancel' }).click()
    await expect(page.getByRole('alert')).toHaveCount(0)
  }
  await dropFiles(page, [{ name: 'letter.docx', bytes: [1, 2] }])
  await expect(page.getByText('of no kind that can be brought in here')).toBeVisible()
  await settled(page)
  expect(await countOf(page, 'Samphire on the mud')).toBe(before)
})

test('a killed worker is replaced and growing goes on', async ({ page }) => {
  await startSmall(page)
  const before = await countOf(page, TEST)
  for (const worker of page.workers()) await worker.evaluate(() => self.close()).catch(() => undefined)
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '4')
  await settled(page)
  expect(await countOf(page, TEST)).toBeLessThan(before)
  expect(await countOf(page, TEST)).toBeGreaterThan(100)
})

test('a lost graphics context is told and comes back', async ({ page }) => {
  await startSmall(page)
  await page.evaluate(() => {
    const canvas = document.querySelector('.picture canvas') as HTMLCanvasElement
    const lose = canvas.getContext('webgl2')?.getExtension('WEBGL_lose_context')
    lose?.loseContext()
    setTimeout(() => lose?.restoreContext(), 500)
  })
  await expect(page.getByText('The graphics were taken away by the system')).toBeVisible()
  await page.waitForTimeout(1500)
  const colours = await page.evaluate(() => {
    window.waywardMeadow?.landscape.measure(1)
    const gl = (document.querySelector('.picture canvas') as HTMLCanvasElement).getContext('webgl2')
    const seen = new Set<string>()
    const pixel = new Uint8Array(4)
    for (let k = 0; k < 60; k++) {
      gl?.readPixels(400 + 9 * k, 40 + 8 * k, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel)
      seen.add(pixel.join())
    }
    return seen.size
  })
  expect(colours).toBeGreaterThan(10)
})

test('the same meadow in two tabs: one writes, the other is told and can take over', async ({ page, context }) => {
  await startSmall(page)
  const second = await context.newPage()
  await second.goto(page.url())
  await expect(second.getByTestId('save')).toHaveText('Open in another tab')
  await second.getByRole('button', { name: TEST, exact: true }).click()
  await second.getByRole('button', { name: 'Change it here' }).click()
  await expect(second.getByTestId('save')).toHaveText('Saved')
  await expect(page.getByTestId('save')).toHaveText('Open in another tab')
})

test('a browser that keeps nothing says so, and still works', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(window, 'indexedDB', { value: { open: () => { throw new DOMException('blocked', 'SecurityError') } } })
  })
  await page.goto('/')
  await expect(page.getByRole('alert')).toContainText('This browser keeps no data for this page')
  await page.getByRole('button', { name: 'Open the demo meadow' }).click()
  await settled(page)
  expect(await countOf(page, 'Samphire on the mud')).toBeGreaterThan(1000)
  await expect(page.getByTestId('save')).toHaveText('Only in this tab')
})

test('an unknown address says what to do', async ({ page }) => {
  await page.goto('/field/nobody')
  await expect(page.getByRole('alert')).toContainText('There is no meadow at this address')
})

test('every page passes axe, in light and in dusk', async ({ page }) => {
  const check = async (where: string) => {
    // Hints that hover above the page are no part of it.
    await page.mouse.move(640, 790)
    await page.waitForTimeout(300)
    expect((await axeFaults(page)).map(({ id, places }) => `${where}: ${id} ${places[0]}`)).toEqual([])
  }
  await page.goto('/')
  await page.getByRole('button', { name: 'Open the demo meadow' }).waitFor()
  await check('gate')
  await page.goto('/guide')
  await page.getByRole('heading', { name: 'Guide' }).waitFor()
  await check('guide')
  await openDemo(page)
  await page.getByRole('button', { name: 'Samphire on the mud', exact: true }).click()
  await check('field')
  await page.getByRole('button', { name: 'Dusk paper' }).click()
  await page.waitForTimeout(300)
  await check('field at dusk')
  await page.keyboard.press('n')
  await check('nursery at dusk')
  for (const [key, drawer] of [['g', 'ground'], ['l', 'outlines'], ['b', 'beacons'], ['v', 'views']] as const) {
    await page.keyboard.press(key)
    if (drawer === 'ground') await page.getByRole('button', { name: 'Wrecked hull', exact: true }).click()
    if (drawer === 'beacons') await page.getByRole('button', { name: 'Spring', exact: true }).click()
    await check(`${drawer} at dusk`)
  }
  await page.getByRole('button', { name: 'Hand off', exact: true }).click()
  await check('handoff at dusk')
})
