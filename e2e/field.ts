import type { Locator, Page } from '@playwright/test'
import { expect } from '@playwright/test'
import type { Outline } from '../src/core/meadow.ts'
import { pointsOf } from '../src/core/outlines/outline.ts'

/** Steps that many tests share, done as a person would. */

export async function openDemo(page: Page): Promise<void> {
  await page.goto('/')
  await page.getByRole('button', { name: 'Open the demo meadow' }).click()
  await page.waitForURL(/\/field\//)
  await settled(page)
}

/** Waits until nothing grows any more and all is saved. */
export async function settled(page: Page): Promise<void> {
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  await page.waitForFunction(
    () => {
      const state = window.waywardMeadow?.session.store.getState()
      return state && !state.growing && state.lastGrowing !== null && (state.save === 'saved' || state.save === 'tab-only')
    },
    null,
    { timeout: 180_000 },
  )
}

export function card(page: Page, name: string): Locator {
  return page.locator('.card').filter({ has: page.getByRole('button', { name, exact: true }) })
}

export async function countOf(page: Page, name: string): Promise<number> {
  return Number((await card(page, name).getByTestId('count').innerText()).replaceAll(',', ''))
}

/** Drags a number sideways by so many pixels. */
export async function scrub(page: Page, number: Locator, pixels: number, steps = 6): Promise<void> {
  await number.evaluate((one) => one.scrollIntoView({ block: 'center' }))
  const box = await number.boundingBox()
  if (!box) throw new Error('the number is not to be seen')
  const x = box.x + box.width / 2
  const y = box.y + box.height / 2
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let k = 1; k <= steps; k++) await page.mouse.move(x + (pixels * k) / steps, y)
  await page.mouse.up()
}

/** Clicks a number and types another. */
export async function type(page: Page, number: Locator, text: string): Promise<void> {
  await number.click()
  await page.keyboard.press('Control+A')
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}

/** Hands the meadow off in a form, all of it or one planting; returns the bytes of the file. */
export async function handOff(page: Page, form: string, only?: string): Promise<Buffer> {
  await page.getByRole('button', { name: 'Hand off', exact: true }).click()
  if (only !== undefined) {
    await page.locator('.going input').first().waitFor()
    for (const box of await page.locator('.going input').all()) {
      const name = await box.locator('xpath=..').locator('.grow').innerText()
      await box.setChecked(name === only)
    }
  }
  await page.getByRole('radio', { name: new RegExp(`^${form.replace(/[()]/g, '\\$&')}`) }).check()
  const download = page.waitForEvent('download', { timeout: 180_000 })
  await page.getByRole('button', { name: `Hand off ${form}` }).click()
  const stream = await (await download).createReadStream()
  const pieces: Buffer[] = []
  for await (const piece of stream) pieces.push(piece as Buffer)
  await page.getByRole('button', { name: 'Back to the field' }).click()
  return Buffer.concat(pieces)
}

export interface CsvRow {
  readonly planting: string
  readonly asset: string
  readonly numbers: readonly number[]
  /** #rrggbbaa */
  readonly tint: string
}

/** Rows of a handed-off table: x y z, quaternion, scale. */
export function readCsv(bytes: Buffer): CsvRow[] {
  const lines = bytes.toString('utf8').trimEnd().split('\r\n').slice(1)
  return lines.map((line) => {
    const cells = line.split(',')
    return { planting: cells[0], asset: cells[1], numbers: cells.slice(3, 13).map(Number), tint: cells[13] }
  })
}

/** Opens a drawer by its tab. */
export async function openDrawer(page: Page, name: 'Plantings' | 'Ground' | 'Outlines' | 'Beacons' | 'Nursery' | 'Views'): Promise<void> {
  const tab = page.getByRole('navigation', { name: 'Drawers' }).getByRole('button', { name, exact: true })
  if ((await tab.getAttribute('aria-pressed')) !== 'true') await tab.click()
}

/** The outlines of the open meadow, with the points of their lines. */
export async function outlines(page: Page): Promise<(Omit<Outline, 'lines'> & { readonly lines: (readonly number[])[] })[]> {
  const found = await page.evaluate(() => window.waywardMeadow!.session.store.getState().history.meadow.outlines)
  return found.map((one) => ({ ...one, lines: pointsOf(one) }))
}

/** Opens the card of a planting and one of its folds. */
export async function openFold(page: Page, planting: string, fold: string): Promise<void> {
  if (!(await card(page, planting).isVisible())) await openDrawer(page, 'Plantings')
  const name = card(page, planting).getByRole('button', { name: planting, exact: true })
  if ((await name.getAttribute('aria-expanded')) !== 'true') await name.click()
  const head = page.getByRole('button', { name: fold, exact: true })
  if ((await head.getAttribute('aria-expanded')) !== 'true') await head.click()
}

/** Chooses an entry of a menu; one that is still closing is waited for. */
export async function choose(page: Page, menu: Locator, entry: string | RegExp): Promise<void> {
  await expect(page.getByRole('menuitem')).toHaveCount(0)
  await menu.click()
  await page.getByRole('menuitem', { name: entry, exact: typeof entry === 'string' }).click()
}

export { expect }
