import { test } from '@playwright/test'
import type { Page } from '@playwright/test'
import { encode } from 'fast-png'
import { slopeAt } from '../src/core/grounds/pick.ts'
import { heightAt } from '../src/core/grounds/terrain.ts'
import { card, choose, expect, openDrawer, openFold, outlines, settled, type } from './field.ts'
import type { Place } from './small-ground.ts'
import { add, clear, giveFile, inFolds, places, startSmall, terrain, TEST } from './small-ground.ts'

const addDriver = (page: Page, name: string) => choose(page, page.getByRole('button', { name: 'Add a driver' }), name)
const group = (page: Page, target: string, driver: string) => page.getByRole('group', { name: `${target} by ${driver.toLowerCase()}` })

/** Takes a driver's values from `first` to `second`, and its amounts from 0.5 to 2. */
async function setEnds(page: Page, driver: string, first: number, second: number): Promise<void> {
  const fields = group(page, 'Size', driver)
  await type(page, fields.getByRole('spinbutton', { name: `${driver}, first value` }), String(first))
  await type(page, fields.getByRole('spinbutton', { name: `${driver}, second value` }), String(second))
  await type(page, fields.getByRole('spinbutton', { name: 'Size at the first value' }), '0.5')
  await type(page, fields.getByRole('spinbutton', { name: 'Size at the second value' }), '2')
}

const remove = (page: Page, driver: string) => page.getByRole('button', { name: `Remove the driver ${driver.toLowerCase()}` }).click()

/** The size that a value of the field asks for. */
const sizeOf = (value: number, first: number, second: number) => 0.5 + 1.5 * Math.min(1, Math.max(0, (value - first) / (second - first)))

/** Largest difference between the sizes handed off and those that an independent measure of the field asks for. */
const worst = (rows: readonly Place[], first: number, second: number, field: (row: Place) => number) =>
  Math.max(...rows.map((row) => Math.abs(row.size - sizeOf(field(row), first, second))))

/** Distance to a line of x z x z …, by looking at every piece; below 0 inside a closed one. */
function distanceTo(line: readonly number[], closed: boolean, x: number, z: number): number {
  let best = Infinity
  let inside = false
  for (let i = 0; i < line.length - (closed ? 0 : 2); i += 2) {
    const [ax, az, bx, bz] = [line[i], line[i + 1], line[(i + 2) % line.length], line[(i + 3) % line.length]]
    const [ex, ez] = [bx - ax, bz - az]
    const t = Math.max(0, Math.min(1, ((x - ax) * ex + (z - az) * ez) / (ex * ex + ez * ez)))
    best = Math.min(best, Math.hypot(ax + t * ex - x, az + t * ez - z))
    if (az > z !== bz > z && x < (ex * (z - az)) / ez + ax) inside = !inside
  }
  return closed && inside ? -best : best
}

/** All sizes alike, so that a driver alone makes them differ. */
async function evenSizes(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'How it stands', exact: true }).click()
  await type(page, inFolds(page, 'Size, from'), '1')
  await type(page, inFolds(page, 'Size, to'), '1')
}

test('drivers of the ground: chosen and set by hand, read out of the table and by the probe', async ({ page }) => {
  await startSmall(page)
  await evenSizes(page)
  const sentence = card(page, TEST).locator('.sentence')

  const exact: readonly (readonly [driver: string, words: string, first: number, second: number, of: (row: Place) => number])[] = [
    ['Height above water', 'by the height above the water', 2, 9, ({ x, z }) => heightAt(terrain, x, z) + 1],
    ['Slope', 'by the slope', 5, 25, ({ x, z }) => slopeAt(terrain, x, z)],
  ]
  for (const [driver, words, first, second, of] of exact) {
    await addDriver(page, driver)
    await setEnds(page, driver, first, second)
    await expect(sentence).toContainText(words)
    expect(worst(await places(page), first, second, of)).toBeLessThan(6e-3)
    await remove(page, driver)
  }

  await addDriver(page, 'Formula')
  await page.getByRole('textbox', { name: 'Formula' }).fill('x / 100 + 0.5')
  await setEnds(page, 'Formula', 0, 1)
  expect(worst(await places(page), 0, 1, ({ x }) => x / 100 + 0.5)).toBeLessThan(2e-3)
  // The probe reads it at the place that is clicked.
  await page.keyboard.press('y')
  await expect(page.locator('.picture[data-tool=ask]')).toBeVisible()
  const frame = await page.locator('.picture').boundingBox()
  if (!frame) throw new Error('there is no picture')
  const [px, py] = await page.evaluate(() => window.waywardMeadow!.landscape.project(10, 5)!)
  await page.mouse.click(frame.x + px, frame.y + py)
  const reading = page.getByRole('list', { name: 'What drives it here' }).getByRole('listitem')
  await expect(reading).toHaveText(/^1\.4\d?.*Size, by formula: 0\.(59|6|61)/)
  await reading.getByRole('button').click()
  await expect(group(page, 'Size', 'Formula').getByRole('spinbutton').first()).toBeFocused()
  await page.locator('.picture').focus()
  await page.keyboard.press('Escape')
  await remove(page, 'Formula')

  await addDriver(page, 'Patchiness')
  await type(page, group(page, 'Size', 'Patchiness').getByRole('spinbutton', { name: 'Patch size' }), '50')
  await setEnds(page, 'Patchiness', 0.25, 0.75)
  const rows = await places(page)
  // Neighbours are alike, the whole is not: strangers would differ by 1.41 times their mean distance from the middle.
  const apart = rows.flatMap((a, i) => rows.slice(i + 1).filter((b) => Math.hypot(a.x - b.x, a.z - b.z) < 4).map((b) => Math.abs(a.size - b.size)))
  const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length
  const middle = mean(rows.map(({ size }) => size))
  expect(apart.length).toBeGreaterThan(200)
  expect(mean(apart)).toBeLessThan(mean(rows.map(({ size }) => Math.abs(size - middle))))
  expect(Math.min(...rows.map(({ size }) => size))).toBeLessThan(0.6)
  expect(Math.max(...rows.map(({ size }) => size))).toBeGreaterThan(1.9)
  await remove(page, 'Patchiness')

  await openDrawer(page, 'Ground')
  await type(page, page.getByRole('spinbutton', { name: 'Water level' }), '4')
  await openDrawer(page, 'Plantings')
  await addDriver(page, 'Distance to water')
  await setEnds(page, 'Distance to water', -5, 10)
  // The shore by brute force: places 25 cm apart on both sides of the water's height.
  const wet: [number, number, boolean][] = []
  for (let z = -49.9; z < 50; z += 0.25) for (let x = -49.9; x < 50; x += 0.25) wet.push([x, z, heightAt(terrain, x, z) < 4])
  const side = Math.round(Math.sqrt(wet.length))
  const shore = wet.filter(([, , under], i) => [i + 1, i + side].some((next) => next < wet.length && Math.abs(wet[next][0] - wet[i][0]) < 1 && wet[next][2] !== under))
  const sample = (await places(page)).filter((_, i) => i % 7 === 0)
  expect(sample.length).toBeGreaterThan(100)
  const off = worst(sample, -5, 10, ({ x, z }) => {
    const away = Math.min(...shore.map(([sx, sz]) => Math.hypot(sx + 0.125 - x, sz + 0.125 - z)))
    return heightAt(terrain, x, z) < 4 ? -away : away
  })
  expect(off).toBeLessThan(0.05)
})

test('paths and patches as conditions and as drivers, images and other plantings as drivers: set by hand, read out of the table', async ({ page }) => {
  await startSmall(page)
  await evenSizes(page)

  for (const [kind, key, driver, words] of [
    ['path', 'Shift+D', 'Distance to a path', 'by the distance to'],
    ['patch', 'd', 'Distance to a patch', 'by the distance to'],
  ] as const) {
    await page.locator('.picture').focus()
    await page.keyboard.press(key)
    for (const [x, y] of [[520, 360], [700, 420], [620, 560]]) await page.mouse.click(x, y)
    await page.keyboard.press('Enter')
    await openDrawer(page, 'Plantings')
    await addDriver(page, driver)
    await setEnds(page, driver, -2, 12)
    await expect(card(page, TEST).locator('.sentence')).toContainText(words)
    const drawn = (await outlines(page)).at(-1)!
    expect(drawn.kind).toBe(kind)
    expect(drawn.smooth).toBe(false)
    const half = kind === 'path' ? drawn.width / 2 : 0
    expect(worst(await places(page), -2, 12, ({ x, z }) => distanceTo(drawn.lines[0], kind === 'patch', x, z) - half)).toBeLessThan(2e-3)
    await remove(page, driver)

    // The same line as a condition: what grows lies where it says.
    await page.getByRole('button', { name: 'Where', exact: true }).click()
    if (kind === 'path') {
      await add(page, 'Distance to a path')
      await type(page, inFolds(page, 'From its edge, from'), '1')
      await type(page, inFolds(page, 'From its edge, to'), '6')
    } else await add(page, 'Patch')
    const kept = await places(page)
    expect(kept.length).toBeGreaterThan(15)
    for (const { x, z } of kept) {
      const away = distanceTo(drawn.lines[0], kind === 'patch', x, z) - half
      expect(away).toBeGreaterThan(kind === 'path' ? 1 - 1e-3 : -Infinity)
      expect(away).toBeLessThan(kind === 'path' ? 6 + 1e-3 : 1e-3)
    }
    await clear(page)
    await page.getByRole('button', { name: 'How it stands', exact: true }).click()
  }

  // An image that is white in the west and black in the east.
  const pixels = 64
  const data = new Uint8Array(pixels * pixels).map((_, i) => (i % pixels < pixels / 2 ? 255 : 0))
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Lay an image over the ground (PNG, JPEG)', 'halves.png', Buffer.from(encode({ width: pixels, height: pixels, data, depth: 8, channels: 1 })))
  await expect(page.getByText('lies over the whole ground now')).toBeVisible()
  await openDrawer(page, 'Plantings')
  await addDriver(page, 'Image')
  await setEnds(page, 'Image', 0, 1)
  const halves = (await places(page)).filter(({ x }) => Math.abs(x) > 100 / pixels)
  expect(halves.length).toBeGreaterThan(500)
  expect(worst(halves, 0, 1, ({ x }) => (x < 0 ? 1 : 0))).toBeLessThan(2e-3)
  await remove(page, 'Image')

  // A second planting whose size grows with the distance to the first.
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '9')
  await openDrawer(page, 'Nursery')
  await page.getByRole('button', { name: 'Spread Thrift' }).click()
  await openFold(page, 'Thrift', 'How it stands')
  await type(page, inFolds(page, 'Size, from'), '1')
  await type(page, inFolds(page, 'Size, to'), '1')
  await addDriver(page, 'Distance to a planting')
  await setEnds(page, 'Distance to a planting', 0, 5)
  await settled(page)
  const shrubs = await places(page)
  const small = await places(page, 'Thrift')
  expect(small.length).toBeGreaterThan(500)
  expect(worst(small, 0, 5, ({ x, z }) => Math.min(...shrubs.map((one) => Math.hypot(one.x - x, one.z - z))))).toBeLessThan(2e-3)
})

test('a driver changes what it is told to: each target is read out of the table', async ({ page }) => {
  await startSmall(page)
  await evenSizes(page)
  const before = (await places(page)).length
  for (const name of ['Turn', 'Lean']) for (const end of ['from', 'to']) await type(page, inFolds(page, `${name}, ${end}`), '0')
  await type(page, inFolds(page, 'Follow the slope'), '0')
  await page.locator('.folds').getByRole('combobox', { name: 'Rests on' }).selectOption('centre')
  await addDriver(page, 'Formula')
  await page.getByRole('textbox', { name: 'Formula' }).fill('x / 100 + 0.5')
  const share = ({ x }: Place) => Math.min(1, Math.max(0, x / 100 + 0.5))
  let label = 'Size'
  const target = async (next: string, value: string, low: string, high: string) => {
    await group(page, label, 'Formula').getByRole('combobox', { name: 'What it changes' }).selectOption(value)
    label = next
    await type(page, group(page, label, 'Formula').getByRole('spinbutton', { name: `${label} at the first value` }), low)
    await type(page, group(page, label, 'Formula').getByRole('spinbutton', { name: `${label} at the second value` }), high)
    return places(page)
  }
  const most = (rows: readonly Place[], off: (row: Place) => number) => Math.max(...rows.map((row) => Math.abs(off(row))))

  let rows = await target('Height alone', 'height', '1', '3')
  expect(most(rows, (row) => row.scale[1] - 1 - 2 * share(row))).toBeLessThan(2e-3)
  expect(most(rows, (row) => row.scale[0] - 1)).toBeLessThan(1e-6)
  rows = await target('Girth alone', 'girth', '1', '3')
  expect(most(rows, (row) => row.scale[0] - 1 - 2 * share(row))).toBeLessThan(2e-3)
  expect(most(rows, (row) => row.scale[1] - 1)).toBeLessThan(1e-6)
  rows = await target('Lift', 'lift', '0', '4')
  expect(most(rows, (row) => row.y - heightAt(terrain, row.x, row.z) - 4 * share(row))).toBeLessThan(4e-3)
  rows = await target('Turn', 'turn', '0', '180')
  // A turn t about the upright axis is the quaternion (0, sin t/2, 0, cos t/2).
  expect(most(rows, (row) => Math.atan2(row.turn[1], row.turn[3]) - (share(row) * Math.PI) / 2)).toBeLessThan(2e-3)
  rows = await target('Lean', 'lean', '0', '40')
  // What of the own up axis still points up is the cosine of the lean.
  expect(most(rows, (row) => Math.acos(Math.min(1, 1 - 2 * (row.turn[0] ** 2 + row.turn[2] ** 2))) - (share(row) * 40 * Math.PI) / 180)).toBeLessThan(3e-3)
  rows = await target('Density', 'density', '0', '100')
  expect(Math.abs(rows.length / before - 0.5)).toBeLessThan(0.06)
  const west = rows.filter(({ x }) => x < -25).length
  const east = rows.filter(({ x }) => x > 25).length
  // An eighth and seven eighths of what stood there: 7 times, give or take four standard errors.
  expect(east / west).toBeGreaterThan(4.5)
  expect(east / west).toBeLessThan(10)
})
