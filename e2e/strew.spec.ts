import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { polylines } from '../src/core/outlines/outline.ts'
import { card, expect, openFold, settled, type } from './field.ts'
import { places, startSmall } from './small-ground.ts'
import { drag, meadow, past, plantByHand, seen, strip, takeUp } from './by-hand.ts'

/** Things strewn along lines, through the interface, and what comes out of it. */

test.use({ viewport: { width: 1280, height: 800 } })

/** Distance in plan from a place to a line x z x z …, by its pieces. */
function away(line: readonly number[], { x, z }: { readonly x: number; readonly z: number }): number {
  let least = Infinity
  for (let k = 0; k + 3 < line.length; k += 2) {
    const [ax, az, bx, bz] = line.slice(k, k + 4)
    const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (z - az) * (bz - az)) / ((bx - ax) ** 2 + (bz - az) ** 2 || 1)))
    least = Math.min(least, Math.hypot(ax + t * (bx - ax) - x, az + t * (bz - az) - z))
  }
  return least
}

const lineOf = async (page: Page, k: number) => polylines((await meadow(page)).outlines[k])[0]
const lengthOf = (line: readonly number[]) => line.slice(2).reduce((sum, _, k) => (k % 2 === 0 ? sum + Math.hypot(line[k + 2] - line[k], line[k + 3] - line[k + 1]) : sum), 0)

test('a line is drawn and things lie along it; all of it stays open to change, line by line', async ({ page }) => {
  await startSmall(page)
  await plantByHand(page, /^Strewn along a line/, /^Shells/)
  await expect(strip(page)).toContainText('one more line of the open planting (Shells)')
  await expect(page.locator('.folds').getByText('No lines yet')).toBeVisible()
  await drag(page, [[-20, 5], [-8, 12], [6, 6], [18, 14]])
  const line = await lineOf(page, 0)
  const rows = await places(page, 'Shells')
  const { every, toSides } = (await meadow(page)).plantings.find(({ name }) => name === 'Shells')!.params as { every: number; toSides: number }
  expect(Math.abs(rows.length - lengthOf(line) / every)).toBeLessThan(2)
  for (const row of rows) expect(away(line, row)).toBeLessThanOrEqual(toSides + 1e-3)
  // A second line joins; each is one step of undo.
  await takeUp(page, 'Strew')
  await drag(page, [[-20, -10], [10, -14]])
  expect((await places(page, 'Shells')).length).toBeGreaterThan(rows.length + 20 / every)
  expect((await past(page)).slice(-2)).toEqual(['Strew Shells', 'Strew Shells'])
  await page.keyboard.press('Control+z')
  expect(await places(page, 'Shells')).toEqual(rows)
  // What lies along it is set afterwards: fewer, and closer to the line.
  await openFold(page, 'Shells', 'How many')
  await type(page, page.locator('.folds').getByRole('spinbutton', { name: 'One every' }), String(2 * every))
  await type(page, page.locator('.folds').getByRole('spinbutton', { name: 'Spread to the sides' }), '0.2')
  const fewer = await places(page, 'Shells')
  expect(Math.abs(fewer.length - rows.length / 2)).toBeLessThan(3)
  for (const row of fewer) expect(away(line, row)).toBeLessThanOrEqual(0.2 + 1e-3)
  // The line stays a path: a point of it is moved, and all follows.
  await openFold(page, 'Shells', 'Where')
  await page.locator('.lines-list').getByRole('button', { name: /^Path 1/ }).click()
  await expect(page.getByRole('button', { name: /^Point 1 of/ })).toBeVisible()
  await page.getByRole('button', { name: /^Point 1 of/ }).focus()
  for (let k = 0; k < 6; k++) await page.keyboard.press('ArrowUp')
  await settled(page)
  const moved = await lineOf(page, 0)
  expect(moved).not.toEqual(line)
  const after = await places(page, 'Shells')
  for (const row of after) expect(away(moved, row)).toBeLessThanOrEqual(0.2 + 1e-3)
  // Taken out, nothing lies anywhere, and the card says what to do.
  await page.getByRole('button', { name: 'Take Path 1 out' }).click()
  await settled(page)
  await expect(card(page, 'Shells')).toContainText('draw a line over the ground')
  await page.getByRole('button', { name: 'Bring it back' }).click()
  expect(await places(page, 'Shells')).toEqual(after)
})

test('without a planting of lines, strewing begins one; off the ground, too short and on a locked one it says what to do', async ({ page }) => {
  await startSmall(page)
  await takeUp(page, 'Strew')
  await expect(strip(page)).toContainText('a new planting')
  await page.mouse.click(...(await seen(page, -10, 0)))
  await page.keyboard.press('Enter')
  await expect(page.getByText('A line needs at least 2 points')).toBeVisible()
  await page.mouse.click(...(await seen(page, -10, 0)))
  await page.mouse.click(...(await seen(page, 10, 3)))
  await page.keyboard.press('Enter')
  await settled(page)
  const [, strewn] = (await meadow(page)).plantings
  expect(strewn).toMatchObject({ kind: 'strewn', along: [(await meadow(page)).outlines[0].id] })
  await expect(strip(page)).toContainText('one more line of the open planting')
  await page.getByRole('button', { name: `What to do with ${strewn.name}` }).last().click()
  await page.getByRole('menuitem', { name: 'Lock' }).click()
  const before = await meadow(page)
  await drag(page, [[-20, -10], [10, -14]])
  await expect(page.getByText(/is locked; unlock it first/)).toBeVisible()
  expect((await meadow(page)).outlines).toEqual(before.outlines)
})
