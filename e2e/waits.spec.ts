import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { card, expect, scrub, settled } from './field.ts'

/** How long a person waits for the demo; medians of so many goes, each in a browser of its own. */
const GOES = 5

interface Waits {
  /** From the click until nothing grows any more, and until the picture stands with all there is, ms. */
  readonly grown: number
  readonly picture: number
  /** The same when the page is loaded again. */
  readonly again: number
  readonly againPicture: number
  /** Back in the field from the guide, the handoff and the gate, until its picture stands. */
  readonly guide: number
  readonly handoff: number
  readonly gate: number
  /** From pointer down to the first new tile of the spacing that is dragged, and from pointer up until all has settled. */
  readonly firstTile: number
  readonly allSettled: number
}

test('what a person waits for in the demo, medians of five @long', async ({ browser }) => {
  test.setTimeout(1_800_000)
  const all: Waits[] = []
  for (let go = 0; go < GOES; go++) {
    const context = await browser.newContext()
    all.push(await waitsOf(await context.newPage()))
    await context.close()
  }
  const median = (of: keyof Waits) => [...all.map((one) => one[of])].sort((a, b) => a - b)[GOES >> 1]
  for (const [what, of] of [
    ['click to grown', 'grown'],
    ['click to the full picture', 'picture'],
    ['again, all there', 'again'],
    ['again, the full picture', 'againPicture'],
    ['back from the guide', 'guide'],
    ['back from the handoff', 'handoff'],
    ['back from the gate', 'gate'],
    ['drag, first new tile', 'firstTile'],
    ['drag, all settled', 'allSettled'],
  ] as const)
    console.log(`${what}: ${Math.round(median(of))} ms (${all.map((one) => Math.round(one[of])).join(', ')})`)
  expect(all.length).toBe(GOES)
})

async function waitsOf(page: Page): Promise<Waits> {
  await page.goto('/')
  await page.getByRole('button', { name: 'Open the demo meadow' }).waitFor()
  let start = Date.now()
  await page.getByRole('button', { name: 'Open the demo meadow' }).click()
  const grown = await grownSince(page, start)
  const picture = await standsSince(page, start)
  // What has grown is kept when nothing grows for a while.
  await page.waitForTimeout(6000)

  start = Date.now()
  await page.reload()
  const again = await grownSince(page, start)
  const againPicture = await standsSince(page, start)
  expect(await tilesGrown(page)).toBe(0)

  await page.getByRole('button', { name: 'Guide', exact: true }).or(page.getByRole('link', { name: 'Guide', exact: true })).first().click()
  await page.waitForTimeout(500)
  start = Date.now()
  await page.goBack()
  const guide = await standsSince(page, start)
  expect(await tilesGrown(page)).toBe(0)

  await page.getByRole('button', { name: 'Hand off', exact: true }).click()
  await page.getByRole('button', { name: 'Back to the field' }).waitFor()
  start = Date.now()
  await page.getByRole('button', { name: 'Back to the field' }).click()
  const handoff = await standsSince(page, start)
  expect(await tilesGrown(page)).toBe(0)

  const url = new URL(page.url()).pathname
  await page.getByRole('link', { name: 'Gate' }).or(page.getByRole('button', { name: 'Gate' })).first().click()
  await page.locator(`a[href="${url}"]`).first().waitFor()
  start = Date.now()
  await page.locator(`a[href="${url}"]`).first().click()
  const gate = await standsSince(page, start)
  expect(await tilesGrown(page)).toBe(0)

  return { grown, picture, again, againPicture, guide, handoff, gate, ...(await dragged(page)) }
}

async function grownSince(page: Page, start: number): Promise<number> {
  await settled(page)
  return Date.now() - start
}

/** Until the picture stands with all that there is. */
async function standsSince(page: Page, start: number): Promise<number> {
  await settled(page)
  await page.waitForFunction(() => window.waywardMeadow?.landscape.facts().rest, null, { timeout: 120_000 })
  return Date.now() - start
}

const tilesGrown = (page: Page) => page.evaluate(() => window.waywardMeadow!.session.store.getState().lastGrowing!.tiles)

/** Drags the spacing of the largest planting a little. */
async function dragged(page: Page): Promise<Pick<Waits, 'firstTile' | 'allSettled'>> {
  await card(page, 'Saltmarsh grass').getByRole('button', { name: 'Saltmarsh grass', exact: true }).click()
  await page.waitForTimeout(1500)
  await page.evaluate(() => {
    const seen = { down: 0, up: 0, first: 0, settled: 0 }
    Object.assign(window, { seen })
    addEventListener('pointerdown', () => (seen.down = performance.now()), true)
    addEventListener('pointerup', () => (seen.up = performance.now()), true)
    const { session } = window.waywardMeadow!
    session.instances.listen((planting) => {
      if (planting === 'saltgrass' && seen.down > 0 && seen.first === 0) seen.first = performance.now() - seen.down
    })
    session.store.subscribe(({ growing }, before) => {
      if (seen.up > 0 && before.growing && !growing) seen.settled = performance.now() - seen.up
    })
  })
  await scrub(page, card(page, 'Saltmarsh grass').getByRole('spinbutton', { name: 'Spacing' }), 24, 8)
  await page.waitForTimeout(300)
  await settled(page)
  await page.waitForTimeout(300)
  const { first, settled: last } = await page.evaluate(() => (window as unknown as { seen: { first: number; settled: number } }).seen)
  return { firstTile: first, allSettled: last }
}
