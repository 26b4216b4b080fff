import type { Page } from '@playwright/test'
import type { Meadow } from '../src/core/meadow.ts'
import { expect, settled, type } from './field.ts'

/** What tests of hand work do in the picture. */

export const meadow = (page: Page): Promise<Meadow> => page.evaluate(() => window.waywardMeadow!.session.meadow())
export const past = (page: Page) => page.evaluate(() => window.waywardMeadow!.session.store.getState().history.past.map(({ name }) => name))

/** Where a place of the meadow is seen on the page, px. */
export async function seen(page: Page, x: number, z: number, y?: number): Promise<[number, number]> {
  const at = await page.evaluate(([px, pz, py]) => window.waywardMeadow!.landscape.project(px as number, pz as number, py ?? undefined), [x, z, y ?? null])
  const frame = await page.locator('.picture').boundingBox()
  return [(at?.[0] ?? 0) + (frame?.x ?? 0), (at?.[1] ?? 0) + (frame?.y ?? 0)]
}

/** Drags over places of the meadow, on the ground or at heights of their own. */
export async function drag(page: Page, way: readonly (readonly [x: number, z: number, y?: number])[]): Promise<void> {
  const at = await Promise.all(way.map(([x, z, y]) => seen(page, x, z, y)))
  await page.mouse.move(...at[0])
  await page.mouse.down()
  for (const [k, [x, y]] of at.slice(1).entries()) for (let t = 1; t <= 6; t++) await page.mouse.move(at[k][0] + ((x - at[k][0]) * t) / 6, at[k][1] + ((y - at[k][1]) * t) / 6)
  await page.mouse.up()
  await settled(page)
}

export async function plantByHand(page: Page, how: RegExp, asset: RegExp): Promise<void> {
  await page.keyboard.press('a')
  await page.getByRole('radio', { name: how }).click()
  await page.getByRole('radio', { name: asset }).click()
  await page.getByRole('button', { name: 'Let it grow' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
}

/** Takes a tool up, whichever is in hand. */
export const takeUp = (page: Page, tool: string) => page.getByRole('radio', { name: tool, exact: true }).click()
export const strip = (page: Page) => page.locator('.tool-sentence')

/** Sets a setting of the tool in hand, which is a word that goes on to the next at each click. */
export async function setTo(page: Page, label: string, wanted: string): Promise<void> {
  for (let k = 0; k < 5 && !(await page.getByRole('button', { name: `${label}: ${wanted}`, exact: true }).count()); k++) await page.getByRole('button', { name: new RegExp(`^${label}: `) }).click()
}
/** Sets what things are set to, alone, and switches it on. */
export async function snapTo(page: Page, only: string, grid = '0'): Promise<void> {
  await page.getByRole('button', { name: 'What things are set to' }).click()
  const panel = page.getByRole('region', { name: 'What things are set to' })
  for (const name of ['Corners', 'Middles of edges', 'Centres of faces', 'Other things', 'Pegs']) {
    const box = panel.getByRole('checkbox', { name, exact: true }).or(panel.getByRole('switch', { name, exact: true }))
    if ((await box.isChecked()) !== (name === only)) await panel.getByText(name, { exact: true }).click()
  }
  await type(page, panel.getByRole('spinbutton', { name: 'Grid', exact: true }), grid)
  await page.getByRole('button', { name: 'Close what things are set to' }).click()
  const snap = page.getByRole('button', { name: /^Set things to corners/ })
  if ((await snap.getAttribute('aria-pressed')) !== 'true') await snap.click()
}
