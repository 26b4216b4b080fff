import { test } from '@playwright/test'
import { card, countOf, expect, settled, type } from './field.ts'
import { places, startBare } from './small-ground.ts'
import { drag, meadow, past, plantByHand, seen } from './by-hand.ts'

/** What stands in order is let go, changed, and gathered again. */

test.use({ deviceScaleFactor: 1, viewport: { width: 1280, height: 800 } })

/** The worst distance of places from evenly spaced ones on a straight line, by least squares in each direction. */
function worstOff(rows: readonly { readonly x: number; readonly z: number }[]): number {
  const sorted = [...rows].sort((a, b) => a.x - b.x)
  const middle = (sorted.length - 1) / 2
  const spread = sorted.reduce((sum, _, k) => sum + (k - middle) ** 2, 0)
  const gaps = (['x', 'z'] as const).map((c) => {
    const mean = sorted.reduce((sum, row) => sum + row[c], 0) / sorted.length
    const slope = sorted.reduce((sum, row, k) => sum + (k - middle) * (row[c] - mean), 0) / spread
    return sorted.map((row, k) => row[c] - mean - slope * (k - middle))
  })
  return Math.max(...sorted.map((_, k) => Math.hypot(gaps[0][k], gaps[1][k])))
}

test('a row is let go, one is moved, and all are gathered again: how far off is said; scattered posts get a live spacing', async ({ page }) => {
  await startBare(page, [4, 20, 19])
  await plantByHand(page, /^In a row/, /^Groyne post/)
  await page.keyboard.press('Escape')
  const sentence = card(page, 'Groyne post')
  await type(page, sentence.getByRole('spinbutton').nth(1), '1.2')
  await settled(page)
  await page.evaluate(() => window.waywardMeadow!.landscape.flyTo({ position: [8, 26, 20], target: [8, 6, 1] }))
  await page.waitForTimeout(700)
  const first = await places(page, 'Groyne post')
  expect(first.length).toBe(9)
  expect(worstOff(first)).toBeLessThan(1e-4)

  // All are let go.
  await page.getByRole('radio', { name: 'Choose', exact: true }).click()
  const box = first.reduce((all, { x, z }) => ({ x0: Math.min(all.x0, x), x1: Math.max(all.x1, x), z0: Math.min(all.z0, z), z1: Math.max(all.z1, z) }), { x0: 1e9, x1: -1e9, z0: 1e9, z1: -1e9 })
  const chooseAll = () => drag(page, [[box.x0 - 2, box.z0 - 3], [box.x1 + 2, box.z1 + 2.5]])
  await chooseAll()
  await expect(page.locator('.chosen-bar')).toContainText('9 chosen')
  const word = (name: string) => page.locator('.chosen-words').getByRole('button', { name, exact: true }).click()
  await word('let go')
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Let 9 go')
  await settled(page)

  // The third is moved by 0.4 m.
  const [, , third] = [...first].sort((a, b) => a.x - b.x)
  await page.mouse.click(...(await seen(page, third.x, third.z, third.y + 1)))
  await expect(page.locator('.chosen-bar')).toContainText('1 chosen')
  await word('move, turn, size')
  await type(page, page.locator('.chosen-part').getByRole('spinbutton', { name: 'south', exact: true }), '0.4')
  await settled(page)
  await page.keyboard.press('Escape')
  const moved = await places(page, 'Groyne post')
  const off = worstOff(moved)
  expect(off).toBeGreaterThan(0.2)

  // Gathered again: how far off they are is said, and then they are not.
  await chooseAll()
  await word('space out')
  const said = page.locator('.chosen-part').getByText(/off by up to/).first()
  await expect(said).toBeVisible()
  expect(Math.abs(Number(/([\d.]+)/.exec(await said.innerText())?.[1]) - off)).toBeLessThan(0.011)
  await page.getByRole('button', { name: 'a row', exact: true }).click()
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Gather 9 in a row')
  await settled(page)
  const { plantings } = await meadow(page)
  expect(plantings.map(({ kind }) => kind)).toEqual(['spread', 'row', 'row'])
  const again = (await places(page, plantings[2].name)).filter(({ x, z }) => x > box.x0 - 2 && x < box.x1 + 2 && z > box.z0 - 3 && z < box.z1 + 3)
  expect(again.length).toBe(9)
  expect(worstOff(again)).toBeLessThan(1e-4)
  for (const { x, z } of again) expect(Math.min(...moved.map((row) => Math.hypot(row.x - x, row.z - z)))).toBeLessThan(off + 1e-3)

  // Scattered posts, spaced out: the spacing stays open to change.
  await plantByHand(page, /^One by one/, /^Driftwood/)
  for (const [x, z] of [[5, 5], [6.4, 5.6], [8.6, 4.7], [10, 5.4]] as const) {
    const before = (await past(page)).length
    await page.mouse.move(...(await seen(page, x, z)))
    await page.mouse.click(...(await seen(page, x, z)))
    await expect.poll(async () => (await past(page)).length).toBe(before + 1)
  }
  await page.keyboard.press('Escape')
  await page.getByRole('radio', { name: 'Choose', exact: true }).click()
  await drag(page, [[3, 3.6], [12, 7]])
  await expect(page.locator('.chosen-bar')).toContainText('4 chosen')
  await word('space out')
  await page.getByRole('combobox', { name: 'Space out evenly' }).selectOption('in a row, as they lie')
  const spacing = page.locator('.run-fields').getByRole('spinbutton')
  await type(page, spacing, '1.25')
  await settled(page)
  const spaced = (await places(page, 'Driftwood')).sort((a, b) => a.x - b.x)
  expect(await countOf(page, 'Driftwood')).toBe(4)
  for (let k = 1; k < 4; k++) expect(Math.hypot(spaced[k].x - spaced[k - 1].x, spaced[k].z - spaced[k - 1].z)).toBeCloseTo(1.25, 2)
})
