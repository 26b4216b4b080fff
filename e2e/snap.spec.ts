import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { SINGLE } from '../src/core/hand/layout.ts'
import { valuesOf } from '../src/core/long-list.ts'
import { card, expect, openDrawer, settled, type } from './field.ts'
import type { Place } from './small-ground.ts'
import { giveFile, heightOf, places, startSmall, TEST } from './small-ground.ts'
import { meadow, past, plantByHand, seen, setTo, snapTo, strip, takeUp } from './by-hand.ts'

/** Things set exactly: by snapping, by numbers, in rows; and what comes out of it. */

test.use({ viewport: { width: 1280, height: 800 } })

/** A ramp of 10 × 4 × 6 m: its slope rises from the west to the east. */
const RAMP = ['v -5 0 -3', 'v 5 0 -3', 'v 5 0 3', 'v -5 0 3', 'v 5 4 -3', 'v 5 4 3', 'f 1 4 6 5', 'f 2 5 6 3', 'f 1 5 2', 'f 4 3 6', 'f 1 2 3 4'].join('\n')

async function standRamp(page: Page): Promise<readonly [number, number, number]> {
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Bring in a mesh to stand here (GLB, glTF, OBJ, PLY, STL)', 'ramp.obj', Buffer.from(RAMP))
  await page.getByRole('dialog').getByRole('button', { name: 'Stand it in the meadow' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  return (await meadow(page)).meshes[0].position
}

const bar = (page: Page) => page.getByRole('region', { name: 'What is chosen' })
const act = (page: Page, word: string) => bar(page).getByRole('button', { name: word, exact: true }).click()
/** Waits for so many things to have been placed: what lies under a click is told soon, not at once. */
async function arePlaced(page: Page, count: number): Promise<void> {
  await expect.poll(async () => valuesOf((await meadow(page)).hands[0]?.singles[0] ?? []).length / SINGLE).toBe(count)
  await settled(page)
}
const turned = ([x, y, z, w]: readonly number[], [vx, vy, vz]: readonly number[]) => {
  const [tx, ty, tz] = [2 * (y * vz - z * vy), 2 * (z * vx - x * vz), 2 * (x * vy - y * vx)]
  return [vx + w * tx + y * tz - z * ty, vy + w * ty + z * tx - x * tz, vz + w * tz + x * ty - y * tx]
}
const near = (a: readonly number[], b: readonly number[], by: number) => Math.hypot(...a.map((one, c) => one - b[c])) < by

test('on a slope’s face: a post on its centre, on its normal, turned by its edge; a corner put onto a corner', async ({ page }) => {
  await startSmall(page, '6')
  const [px, py, pz] = await standRamp(page)
  await plantByHand(page, /^One by one/, /^Groyne post/)
  // Else a tuft that chance put before the post is taken for it.
  await card(page, TEST).getByRole('button', { name: 'Hide' }).click()
  await setTo(page, 'Turned and sized', 'as shown')
  await setTo(page, 'Stands', 'square to the ground')
  await snapTo(page, 'Centres of faces')
  // Shown, it stands as it was thrown: by keys it comes to a turn of 0 and a size of 1.
  const over = [...(await seen(page, px + 0.2, pz + 0.1, py + 2.1))] as [number, number]
  await page.mouse.move(...over)
  await expect(page.getByRole('status').filter({ hasText: 'Set to the centre of a face of ramp' })).toHaveCount(1)
  await page.evaluate(() => document.querySelector<HTMLElement>('.picture')?.focus())
  await page.mouse.click(...over)
  await arePlaced(page, 1)
  const [post] = await places(page, 'Groyne post')
  expect(near([post.x, post.y, post.z], [px, py + 2, pz], 1e-4)).toBe(true)
  const long = Math.hypot(10, 4)
  expect(near(turned(post.turn, [0, 1, 0]), [-4 / long, 10 / long, 0], 1e-4)).toBe(true)
  // About its own up it is turned by what was shown, which the planting threw: in whole steps once it is changed by hand.
  await page.keyboard.press('Control+z')
  await settled(page)
  await page.mouse.move(over[0] + 1, over[1])
  await page.keyboard.press('.')
  await page.mouse.click(over[0] + 1, over[1])
  await arePlaced(page, 1)
  const [stepped] = await places(page, 'Groyne post')
  const east = turned(stepped.turn, [1, 0, 0])
  const [along, across] = [(10 * east[0] + 4 * east[1]) / long, east[2]]
  const degrees = (Math.atan2(across, along) * 180) / Math.PI
  expect(Math.abs(degrees / 15 - Math.round(degrees / 15))).toBeLessThan(1e-3)

  // Its corner onto a corner of the ramp: held by the corner of its box that was grabbed.
  await snapTo(page, 'Corners')
  await takeUp(page, 'Choose')
  await page.mouse.click(...(await seen(page, stepped.x, stepped.z, stepped.y + 1)))
  await expect(bar(page)).toContainText('1 chosen')
  const size = (await meadow(page)).assets.find(({ name }) => name === 'Groyne post')!.size
  const corner = (row: Place, [u, v, w]: readonly number[]) => {
    const [x, y, z] = turned(row.turn, [u * size[0] * row.scale[0], v * size[1] * row.scale[1], w * size[2] * row.scale[2]])
    return [row.x + x, row.y + y, row.z + z] as const
  }
  // No handle lies over it.
  await setTo(page, 'The handles', 'do not show')
  // The upper ones are seen from everywhere.
  // A little within the box, so that it is the post that is under the pointer.
  const grabbed = corner(stepped, [0.47, 0.98, 0.47])
  const goal = [px + 5, py + 4, pz + 3] as const
  const [from, to] = [await seen(page, grabbed[0], grabbed[2], grabbed[1]), await seen(page, goal[0], goal[2], goal[1])]
  await page.mouse.move(...from)
  await page.mouse.down()
  for (let k = 1; k <= 8; k++) await page.mouse.move(from[0] + ((to[0] + 3 - from[0]) * k) / 8, from[1] + ((to[1] - from[1]) * k) / 8)
  await expect(page.getByRole('status').filter({ hasText: 'Set to a corner of ramp' })).toHaveCount(1)
  await page.mouse.up()
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Move one')
  await settled(page)
  const [moved] = await places(page, 'Groyne post')
  const corners = [-0.5, 0.5].flatMap((u) => [0, 1].flatMap((v) => [-0.5, 0.5].map((w) => corner(moved, [u, v, w]))))
  expect(corners.some((one) => near(one, goal, 1e-3))).toBe(true)
  expect(moved.turn).toEqual(stepped.turn)
})

test('eleven posts 2.25 m apart: on a grid by hand, and by one duplicate', async ({ page }) => {
  await startSmall(page, '6')
  await plantByHand(page, /^One by one/, /^Groyne post/)
  await snapTo(page, '', '2.25')
  for (let k = 0; k < 11; k++) await page.mouse.click(...(await seen(page, -11.25 + 2.25 * k + 0.1, 9.1)))
  await arePlaced(page, 11)
  const byHand = (await places(page, 'Groyne post')).sort((a, b) => a.x - b.x)
  expect(byHand.length).toBe(11)
  byHand.forEach((row, k) => expect(near([row.x, row.z], [-11.25 + 2.25 * k, 9], 1e-5)).toBe(true))
  // The same by duplicating one.
  for (let k = 0; k < 10; k++) await page.keyboard.press('Control+z')
  await settled(page)
  await takeUp(page, 'Choose')
  const [first] = await places(page, 'Groyne post')
  await takeUp(page, 'Choose')
  await page.mouse.click(...(await seen(page, first.x, first.z, first.y + 1)))
  await act(page, 'duplicate')
  await type(page, bar(page).getByRole('spinbutton', { name: 'Each copy: east' }), '2.25')
  await type(page, bar(page).getByRole('spinbutton', { name: 'Each copy: how many times' }), '10')
  await bar(page).getByRole('button', { name: 'make', exact: true }).click()
  await settled(page)
  const copied = (await places(page, 'Groyne post')).sort((a, b) => a.x - b.x)
  expect(copied.length).toBe(11)
  copied.forEach((row, k) => {
    expect(near([row.x, row.z], [first.x + 2.25 * k, first.z], 1e-5)).toBe(true)
    expect(row.y - heightOf(row.x, row.z)).toBeCloseTo(first.y - heightOf(first.x, first.z), 1)
  })
  expect((await past(page)).at(-1)).toBe('Duplicate 10')
})

test('a fence of twenty by two clicks, spaced out anew to 1.8 m; then a ring, which stays open to change', async ({ page }) => {
  await startSmall(page, '6')
  await plantByHand(page, /^One by one/, /^Groyne post/)
  await setTo(page, 'How many', 'in a row')
  await type(page, strip(page).getByRole('spinbutton', { name: 'Things in the row' }), '20')
  await page.mouse.click(...(await seen(page, -14, 12)))
  await page.mouse.click(...(await seen(page, 10, 20)))
  await arePlaced(page, 20)
  const placed = (await places(page, 'Groyne post')).sort((a, b) => a.x - b.x)
  expect(placed.length).toBe(20)
  expect((await past(page)).at(-1)).toBe('Place 20 Groyne post')
  await takeUp(page, 'Choose')
  await page.locator('.folds').getByRole('button', { name: 'choose them' }).click()
  await act(page, 'space out')
  const run = (await meadow(page)).runs[0]
  const spacing = bar(page).getByRole('spinbutton', { name: `Spacing of ${run.name}` })
  await type(page, spacing, '1.8')
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Space out 20')
  const anew = (await places(page, 'Groyne post')).sort((a, b) => a.x - b.x)
  const way = Math.hypot(placed[19].x - placed[0].x, placed[19].z - placed[0].z)
  anew.forEach((row, k) => {
    const at = [placed[0].x + ((placed[19].x - placed[0].x) / way) * 1.8 * k, placed[0].z + ((placed[19].z - placed[0].z) / way) * 1.8 * k]
    expect(near([row.x, row.z], at, 1e-4)).toBe(true)
  })
  expect(anew.map(({ turn }) => turn.join())).toEqual(placed.map(({ turn }) => turn.join()))
  // One step back, it is as it was.
  await page.keyboard.press('Control+z')
  expect((await places(page, 'Groyne post')).map(({ x, z }) => `${x} ${z}`).sort()).toEqual(placed.map(({ x, z }) => `${x} ${z}`).sort())
  // Round a ring, of a radius that is set afterwards.
  await takeUp(page, 'Choose')
  await act(page, 'space out')
  await bar(page).getByRole('combobox', { name: 'Space out evenly' }).selectOption('ring')
  await expect.poll(async () => (await meadow(page)).runs.map(({ kind }) => kind)).toEqual(['ring'])
  const ring = (await meadow(page)).runs[0]
  await type(page, bar(page).getByRole('spinbutton', { name: `Radius of ${ring.name}` }), '6')
  await expect.poll(async () => (await meadow(page)).runs[0].to[0] !== ring.to[0] || (await meadow(page)).runs[0].to[2] !== ring.to[2]).toBe(true)
  const round = await places(page, 'Groyne post')
  for (const { x, z } of round) expect(Math.hypot(x - ring.from[0], z - ring.from[2])).toBeCloseTo(6, 3)
  const angles = round.map(({ x, z }) => Math.atan2(z - ring.from[2], x - ring.from[0])).sort((a, b) => a - b)
  for (let k = 1; k < 20; k++) expect(angles[k] - angles[k - 1]).toBeCloseTo((2 * Math.PI) / 20, 3)
})

test('a handle moves by a typed number, a group moves as one and is entered, and a match takes over', async ({ page }) => {
  await startSmall(page, '6')
  await plantByHand(page, /^One by one/, /^Groyne post/)
  for (const [x, z] of [[-10, 10], [-4, 12], [6, 10]] as const) await page.mouse.click(...(await seen(page, x, z)))
  await arePlaced(page, 3)
  const before = (await places(page, 'Groyne post')).sort((a, b) => a.x - b.x)
  expect(before.length).toBe(3)
  await takeUp(page, 'Choose')
  const pick = async ({ x, y, z }: Place, times = 1) => page.mouse.click(...(await seen(page, x, z, y + 1)), { clickCount: times })
  await pick(before[0])
  await page.keyboard.down('Shift')
  await pick(before[1])
  await page.keyboard.up('Shift')
  await expect(bar(page)).toContainText('2 chosen')
  await act(page, 'group')
  await bar(page).getByRole('button', { name: 'make one of them' }).click()
  await page.keyboard.press('Escape')
  await expect(bar(page)).toBeHidden()
  // A click means both; a number that is typed to a handle moves both.
  await pick(before[1])
  await expect(bar(page)).toContainText('2 chosen')
  await page.getByRole('button', { name: /^Move east: / }).focus()
  await page.keyboard.type('1.25')
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Move 2')
  const moved = (await places(page, 'Groyne post')).sort((a, b) => a.x - b.x)
  moved.forEach((row, k) => expect(near([row.x, row.y, row.z], [before[k].x + (k < 2 ? 1.25 : 0), before[k].y, before[k].z], 1e-4)).toBe(true))
  // Entered by a double click, one alone is meant; the third is turned and sized like it.
  await takeUp(page, 'Choose')
  await page.mouse.dblclick(...(await seen(page, moved[1].x, moved[1].z, moved[1].y + 1)))
  await expect(bar(page)).toContainText('1 chosen')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')
  await pick(moved[2])
  await expect(bar(page)).toContainText('1 chosen')
  await act(page, 'match')
  await bar(page).getByRole('button', { name: 'take over from another…' }).click()
  await pick(moved[0])
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Match one')
  const after = (await places(page, 'Groyne post')).sort((a, b) => a.x - b.x)
  expect([after[2].turn, after[2].scale]).toEqual([moved[0].turn, moved[0].scale])
  expect([after[2].x, after[2].z]).toEqual([moved[2].x, moved[2].z])
  // It is tinted, and no other.
  await act(page, 'tint')
  await bar(page).getByRole('button', { name: 'tint', exact: true }).last().click()
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Tint one')
  const tints = (await places(page, 'Groyne post')).sort((a, b) => a.x - b.x).map(({ tint }) => tint)
  expect(new Set(tints.slice(0, 2)).size).toBe(1)
  expect(tints[2]).not.toBe(tints[0])
})
