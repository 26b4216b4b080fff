import { test } from '@playwright/test'
import { valuesOf } from '../src/core/long-list.ts'
import type { Stroke } from '../src/core/meadow.ts'
import { card, expect, openDrawer, openFold, settled, type } from './field.ts'
import { drag, meadow, past, plantByHand, seen, strip, takeUp } from './by-hand.ts'
import type { Place } from './small-ground.ts'
import { heightOf, places, standBlock, startSmall, TEST } from './small-ground.ts'

/** What is done by hand, through the interface, and what comes out of it. */

test.use({ viewport: { width: 1280, height: 800 } })

/** Distance in plan from a place to the line of a stroke, by its own pieces. */
function away({ lines: [line] }: Stroke, { x, z }: { readonly x: number; readonly z: number }): number {
  const p = valuesOf(line)
  let least = Math.hypot(x - p[0], z - p[2])
  for (let k = 7; k < p.length; k += 7) {
    const [ax, az, bx, bz] = [p[k - 7], p[k - 5], p[k], p[k + 2]]
    const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (z - az) * (bz - az)) / ((bx - ax) ** 2 + (bz - az) ** 2 || 1)))
    least = Math.min(least, Math.hypot(ax + t * (bx - ax) - x, az + t * (bz - az) - z))
  }
  return least
}

function nearest(rows: readonly Place[]): number {
  let least = Infinity
  rows.forEach((a, i) => rows.slice(0, i).forEach((b) => (least = Math.min(least, Math.hypot(a.x - b.x, a.z - b.z)))))
  return least
}

const key = ({ x, z }: { readonly x: number; readonly z: number }) => `${x.toFixed(2)} ${z.toFixed(2)}`

test('a brush sows on the terrain: what grows keeps to strokes and spacing, is cleared by kinds, thinned, and taken back', async ({ page }) => {
  await startSmall(page)
  await plantByHand(page, /^Sown by hand/, /^Thrift/)
  await expect(strip(page)).toContainText('more of Thrift')
  await page.mouse.move(...(await seen(page, -8, 4)))
  await expect(page.locator('.status')).toContainText('Drag to sow Thrift')
  await drag(page, [[-8, 4], [4, 10], [14, 2]])
  const first = await places(page, 'Thrift')
  const [stroke] = (await meadow(page)).strokes
  expect(first.length).toBeGreaterThan(200)
  expect(first.every((row) => away(stroke, row) < 3.001)).toBe(true)
  // The settings stay open to change: another spacing grows anew under the same stroke.
  await type(page, card(page, 'Thrift').getByRole('spinbutton', { name: 'Spacing' }), '1.5')
  const wide = await places(page, 'Thrift')
  expect(wide.every((row) => away(stroke, row) < 3.001)).toBe(true)
  expect(nearest(wide)).toBeGreaterThan(1.4999)
  expect(wide.length).toBeLessThan(first.length / 4)
  await type(page, card(page, 'Thrift').getByRole('spinbutton', { name: 'Spacing' }), '0.5')
  const sown = await places(page, 'Thrift')
  const grass = await places(page)

  // One kind alone, of whichever planting: the grass goes, the thrift stays.
  await takeUp(page, 'Sow')
  await page.getByRole('button', { name: /^What the brush does: / }).click()
  await page.getByRole('button', { name: /^Of what: / }).click()
  await page.getByRole('button', { name: /^Of what: / }).click()
  await strip(page).getByRole('combobox', { name: 'Asset' }).selectOption({ label: TEST })
  await drag(page, [[-8, 4], [14, 2]])
  const cleared = await places(page)
  const clear = (await meadow(page)).strokes.at(-1) as Stroke
  expect(clear).toMatchObject({ act: 'clear', only: [expect.any(String)] })
  const kept = new Set(cleared.map(key))
  for (const row of grass) {
    // Inside the soft edge all go, outside all stay.
    if (away(clear, row) < 1.79) expect(kept.has(key(row))).toBe(false)
    if (away(clear, row) > 3.01) expect(kept.has(key(row))).toBe(true)
  }
  expect(cleared.length).toBeLessThan(grass.length)
  // Some of it may come up where the grass gave room.
  const thrift = new Set((await places(page, 'Thrift')).map(key))
  expect(sown.every((row) => thrift.has(key(row)))).toBe(true)

  // Where nothing of the open planting is, it says so and offers the wider choice.
  await takeUp(page, 'Sow')
  await page.getByRole('button', { name: /^Of what: / }).click()
  await drag(page, [[6, -32], [10, -32]])
  await expect(page.getByRole('status').filter({ hasText: 'Nothing here belongs to Thrift' })).toBeVisible()
  await page.getByRole('button', { name: 'Take all plantings' }).click()
  await expect(page.getByRole('button', { name: 'Of what: all plantings' })).toBeVisible()
  await page.getByRole('button', { name: /^What the brush does: / }).click()
  const before = (await places(page)).length
  await takeUp(page, 'Sow')
  await drag(page, [[-16, -30], [-4, -33], [10, -30]])
  const thin = (await meadow(page)).strokes.at(-1) as Stroke
  expect(thin).toMatchObject({ act: 'thin', strength: 0.5 })
  expect((await places(page)).length).toBeLessThan(before)
  // All of it is taken back, one step for each pass of the brush.
  const passes = (await past(page)).filter((name) => /^(Sow|Clear|Thin) /.test(name))
  expect(passes).toEqual(['Sow Thrift', `Clear ${TEST}`, `Thin ${TEST}`])
  while ((await meadow(page)).strokes.length > 0) await page.keyboard.press('Control+z')
  await settled(page)
  expect((await places(page)).length).toBeGreaterThanOrEqual(grass.length)
})

test('a brush sows one side of a mesh; strokes are listed, widened, given away and taken out', async ({ page }) => {
  await startSmall(page)
  await standBlock(page)
  await openDrawer(page, 'Plantings')
  await plantByHand(page, /^Sown by hand/, /^Thrift/)
  await openFold(page, 'Thrift', 'Where')
  await page.locator('.folds').getByRole('combobox', { name: 'On a mesh' }).selectOption('all-over')
  const [{ position: [bx, by, bz] }] = (await meadow(page)).meshes
  await takeUp(page, 'Sow')
  await drag(page, [[bx - 3, bz + 6, by + 3], [bx + 3, bz + 6, by + 5]])
  const rows = (await places(page, 'Thrift')).filter(({ z }) => Math.abs(z - bz - 6) < 0.6)
  const [stroke] = (await meadow(page)).strokes
  expect(stroke.ground).not.toBe('terrain')
  expect(rows.length).toBeGreaterThan(20)
  // The top and the other sides stay bare.
  expect((await places(page, 'Thrift')).length).toBe(rows.length)

  await page.keyboard.press('Escape')
  await page.locator('.stroke-row').first().click()
  await type(page, page.getByRole('spinbutton', { name: 'Width of the stroke' }), '2')
  await settled(page)
  expect((await places(page, 'Thrift')).length).toBeLessThan(rows.length)
  await page.locator('.stroke-fields').getByRole('combobox').last().selectOption({ label: TEST })
  await settled(page)
  expect((await meadow(page)).strokes[0].planting).not.toBe(stroke.planting)
  await page.keyboard.press('Control+z')
  await page.getByRole('button', { name: 'Take this stroke out' }).click()
  await settled(page)
  expect((await meadow(page)).strokes).toEqual([])
})

test('things are chosen, a random share of them swapped in place, moved and taken out; the rules change and the touch-ups hold', async ({ page }) => {
  await startSmall(page)
  const before = await places(page)
  await takeUp(page, 'Choose')
  await drag(page, [[-15, 5], [15, 35]])
  const bar = page.getByRole('region', { name: 'What is chosen' })
  await expect(bar).toContainText('chosen')
  const many = Number(/^([\d,]+) chosen/.exec(await bar.innerText())?.[1].replace(',', ''))
  expect(many).toBeGreaterThan(20)
  await bar.getByRole('button', { name: 'choose', exact: true }).click()
  await bar.getByRole('button', { name: 'choose a random' }).click()
  const share = Math.round(0.4 * many)
  await expect(bar).toContainText(`${share} chosen`)
  const chosenNow = () => page.evaluate(() => [...document.querySelectorAll('.chosen-bar p')].map((one) => one.textContent).join())
  expect(await chosenNow()).toContain(`${share} cordgrass`)
  await bar.getByRole('button', { name: 'swap', exact: true }).click()
  await bar.getByRole('combobox', { name: /^Swap for another asset/ }).selectOption({ label: 'Thrift' })
  await expect(bar).toContainText(`${share} thrift`)
  // Place, turn and size stay, exactly: the table has as many rows, all where they were and as they were.
  const swapped = await places(page)
  const stands = (row: Place) => [row.x, row.y, row.z, ...row.turn, ...row.scale].map((value) => value.toFixed(4)).join(' ')
  expect(swapped.map(stands).sort()).toEqual(before.map(stands).sort())
  expect(await past(page)).toContain(`Swap for Thrift ${share}`)
  await page.keyboard.press('Control+z')
  await takeUp(page, 'Choose')

  // Nothing is chosen, so that no handle lies over what is picked.
  await page.keyboard.press('Escape')
  await expect(bar).toBeHidden()
  // One is picked, told about, moved by a number and turned by a key, then another taken out.
  const aim = before.filter(({ x, z }) => Math.hypot(x - 2, z - 18) < 9)[0]
  await page.mouse.click(...(await seen(page, aim.x, aim.z, aim.y + 0.3)))
  await expect(bar).toContainText('1 chosen')
  // One before it may hide what was aimed at: what is told is in the table.
  const told = /([-\d.]+) east, ([-\d.]+) south/.exec(await bar.innerText())
  const one = before.find(({ x, z }) => x.toFixed(2) === told?.[1] && z.toFixed(2) === told[2]) as Place
  expect(Math.hypot(one.x - aim.x, one.z - aim.z)).toBeLessThan(6)
  await bar.getByRole('button', { name: 'move, turn, size' }).click()
  await type(page, bar.getByRole('spinbutton', { name: 'east', exact: true }), '1.25')
  await settled(page)
  const moved = (await places(page)).find(({ x, z }) => Math.abs(x - one.x - 1.25) < 1e-3 && Math.abs(z - one.z) < 1e-3)
  expect(moved?.y).toBeCloseTo(heightOf(one.x + 1.25, one.z) + (one.y - heightOf(one.x, one.z)), 1)
  await takeUp(page, 'Choose')
  await bar.getByRole('button', { name: 'take out' }).click()
  await expect(page.getByRole('button', { name: 'Bring them back' })).toBeVisible()
  await settled(page)
  const without = await places(page)
  expect(without.some(({ x, z }) => Math.abs(x - one.x - 1.25) < 1e-3 && Math.abs(z - one.z) < 1e-3)).toBe(false)
  // The rules change: sizes and turns are thrown otherwise, and what was taken out stays out.
  await openFold(page, TEST, 'Where')
  await expect(page.locator('.folds')).toContainText('1 touched by hand')
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '5')
  await settled(page)
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '2')
  expect((await places(page)).map(stands).sort()).toEqual(without.map(stands).sort())
})

test('by keys alone: sown, placed, chosen, moved by a handle, turned, taken out, and strewn', async ({ page }) => {
  await startSmall(page)
  await page.keyboard.press('a')
  const focused = async (name: RegExp) => {
    for (let k = 0; k < 60; k++) {
      if (name.test(await page.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? document.activeElement?.textContent ?? ''))) return
      await page.keyboard.press('Tab')
    }
    throw new Error(`nothing called ${name.source} takes the focus`)
  }
  await focused(/^Thrift/)
  await page.keyboard.press('Space')
  await focused(/^Sown by hand/)
  await page.keyboard.press('Space')
  await focused(/^Let it grow$/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  const thrift = () => page.evaluate(() => {
    const { session } = window.waywardMeadow!
    const id = session.meadow().plantings.find(({ name }) => name === 'Thrift')?.id ?? ''
    return [...(session.instances.tiles.get(id)?.values() ?? [])].reduce((sum, { block }) => sum + block.count, 0)
  })
  // Enter places one where the cross is; Shift and Enter paint straight on from there.
  for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect.poll(thrift).toBe(1)
  for (let k = 0; k < 6; k++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Shift+Enter')
  await expect.poll(thrift).toBeGreaterThan(20)
  expect((await meadow(page)).strokes.length).toBe(1)
  // A pine, seen before it is placed, turned by a key.
  await page.keyboard.press('x')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('.')
  await page.keyboard.press('Enter')
  // One that grew there by rule may have made room for it.
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Place Thrift')
  await settled(page)
  // It is chosen by the cross, turned, and taken out.
  await page.keyboard.press('e')
  // The cross is still where it was placed.
  await page.keyboard.press('Enter')
  const bar = page.getByRole('region', { name: 'What is chosen' })
  await expect(bar).toContainText('1 chosen')
  const facts = await bar.innerText()
  await page.keyboard.press('.')
  await expect.poll(async () => (await bar.innerText()) !== facts).toBe(true)
  await focused(/^Move east: /)
  await page.keyboard.type('-2.5')
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Move one')
  await page.keyboard.press('Delete')
  await expect(bar).toBeHidden()
  expect((await past(page)).at(-1)).toBe('Take out one')
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Move one')
  // A line from here to there: a planting of its own lies along it.
  await page.keyboard.press('r')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  for (let k = 0; k < 5; k++) await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await meadow(page)).plantings.at(-1)).toMatchObject({ kind: 'strewn', along: [(await meadow(page)).outlines[0]?.id] })
  await settled(page)
  expect((await past(page)).at(-1)).toBe('Strew Thrift')
})
