import { test } from '@playwright/test'
import type { Page } from '@playwright/test'
import { decode, encode } from 'fast-png'
import { readFileSync } from 'node:fs'
import { heightAt } from '../src/core/ground/terrain.ts'
import { slopeAt } from '../src/core/ground/pick.ts'
import { createTerrain } from '../src/core/ground/terrain.ts'
import { saltingsHeights } from '../src/demo/saltings-terrain.ts'
import { card, choose, countOf, expect, handOff, openDemo, openFold, readCsv, settled, type } from './field.ts'

const TEST = 'Thorn shrubs'
const terrain = createTerrain(saltingsHeights(), 513, 513, 400, 400)

/** Where the shrubs stand, as the handed-off table says. */
async function places(page: Page): Promise<{ x: number; y: number; z: number; size: number; tint: string }[]> {
  await settled(page)
  return readCsv(await handOff(page, 'Table (CSV)', TEST)).map(({ numbers: n, tint }) => ({ x: n[0], y: n[1], z: n[2], size: n[7], tint }))
}

/** The shrubs with no condition at all, wide apart, and all else hidden from the handoff. */
async function startBare(page: Page): Promise<void> {
  await openDemo(page)
  await openFold(page, TEST, 'Where')
  for (const menu of await page.getByRole('button', { name: /^What to do with the condition/ }).all()) {
    void menu
    await choose(page, page.getByRole('button', { name: /^What to do with the condition/ }).first(), 'Remove')
  }
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '4')
  await settled(page)
}

const add = (page: Page, condition: string) => choose(page, page.getByRole('button', { name: 'Add a condition' }), condition)
const clear = (page: Page) => choose(page, page.getByRole('button', { name: /^What to do with the condition/ }).first(), 'Remove')
const inFolds = (page: Page, name: string) => page.locator('.folds').getByRole('spinbutton', { name, exact: true })

test('conditions of the ground are set by hand and read out of the table', async ({ page }) => {
  test.setTimeout(240_000)
  await startBare(page)
  const all = await places(page)
  expect(all.length).toBeGreaterThan(3000)

  await add(page, 'Formula')
  await page.getByRole('textbox', { name: 'Formula' }).fill('height > 3 && x > 0')
  let rows = await places(page)
  expect(rows.length).toBeGreaterThan(100)
  for (const { x, z } of rows) expect(x > 0 && heightAt(terrain, x, z) > 3 - 1e-6).toBe(true)
  await page.getByRole('textbox', { name: 'Formula' }).fill('height > ')
  await expect(page.locator('.formula').getByRole('alert')).toContainText('cannot be read')
  await page.getByRole('textbox', { name: 'Formula' }).fill('1 / x')
  await settled(page)
  await expect(card(page, TEST).getByRole('status')).toContainText('gives no number')
  await clear(page)

  await add(page, 'Slope')
  await type(page, inFolds(page, 'Slope, from'), '12')
  await type(page, inFolds(page, 'Slope, to'), '60')
  rows = await places(page)
  for (const { x, z } of rows) expect(slopeAt(terrain, x, z)).toBeGreaterThan(12 - 1e-6)
  // The other way round: all the rest, and nothing of it is lost.
  await page.getByRole('button', { name: 'Slope: the other way round' }).click()
  rows = await places(page)
  for (const { x, z } of rows) expect(slopeAt(terrain, x, z)).toBeLessThan(16 + 1e-6)
  await clear(page)

  await add(page, 'View')
  await page.locator('.folds').getByRole('combobox', { name: 'View' }).selectOption({ label: 'From the pine knoll' })
  const seen = (await places(page)).length
  expect(seen).toBeGreaterThan(10)
  expect(seen).toBeLessThan(all.length / 2)
  await clear(page)

  for (const [label, least] of [['Facing', 50], ['Hollow or ridge', 5], ['Distance to water', 20], ['Height above water', 20], ['Height', 1], ['Patchiness', 500]] as const) {
    await add(page, label)
    const count = (await places(page)).length
    expect(count).toBeGreaterThanOrEqual(label === 'Height' ? least : least)
    expect(count).toBeLessThanOrEqual(all.length)
    await clear(page)
  }
})

test('another planting, an obstacle and an image: set by hand, read out of the table', async ({ page }) => {
  test.setTimeout(240_000)
  await startBare(page)

  await add(page, 'Another planting')
  await page.locator('.folds').getByRole('combobox', { name: 'Planting' }).selectOption({ label: 'Pines on the knoll' })
  await page.locator('.folds').getByRole('combobox', { name: 'Keeps' }).selectOption('near')
  await type(page, inFolds(page, 'Distance'), '5')
  let rows = await places(page)
  const pines = readCsv(await handOff(page, 'Table (CSV)', 'Pines on the knoll')).map(({ numbers: n }) => [n[0], n[2]])
  expect(rows.length).toBeGreaterThan(20)
  for (const { x, z } of rows) expect(Math.min(...pines.map(([a, b]) => Math.hypot(a - x, b - z)))).toBeLessThan(5.001)
  // One that grows later cannot be waited for.
  await page.locator('.folds').getByRole('combobox', { name: 'Planting' }).selectOption({ label: 'Marram on the dunes' })
  await settled(page)
  await expect(card(page, TEST).getByRole('status')).toContainText('which grows after it; move “Marram on the dunes” above it')
  await page.keyboard.press('Control+z')
  await settled(page)
  await clear(page)

  await add(page, 'Obstacle')
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '1.2')
  await type(page, inFolds(page, 'Free above'), '6')
  await type(page, inFolds(page, 'Margin'), '1')
  rows = await places(page)
  // The hut is 5.5 by 4.3 m about 17, 13: nothing within two metres of its middle, something within eight.
  const away = rows.map(({ x, z }) => Math.hypot(x - 17, z - 13))
  expect(Math.min(...away)).toBeGreaterThan(2.8)
  expect(Math.min(...away)).toBeLessThan(8)
  await clear(page)

  // The western half is white.
  const side = 32
  const data = new Uint8Array(side * side).map((_, i) => (i % side < side / 2 ? 255 : 0))
  const png = Buffer.from(encode({ width: side, height: side, data, depth: 8, channels: 1 }))
  await page.keyboard.press('g')
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Lay an image over the ground (PNG, JPEG)' }).click()
  await (await chooser).setFiles({ name: 'halves.png', mimeType: 'image/png', buffer: png })
  await expect(page.getByText('lies over the whole ground now')).toBeVisible()
  await page.keyboard.press('p')
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '4')
  await add(page, 'Image')
  rows = await places(page)
  expect(rows.length).toBeGreaterThan(500)
  for (const { x } of rows) expect(x).toBeLessThan(400 / side)
  // All is there again after a reload.
  await page.reload()
  await settled(page)
  expect(await countOf(page, TEST)).toBe(rows.length)
})

test('conditions are combined, moved, copied, kept and shown on the ground', async ({ page }) => {
  await openDemo(page)
  await openFold(page, TEST, 'Where')
  const folds = page.locator('.folds')
  const titles = () => folds.locator('.condition legend label').allInnerTexts()
  const before = await titles()
  await folds.getByRole('checkbox', { name: 'Slope on' }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  expect(await titles()).toEqual([before[1], before[0], ...before.slice(2)])
  const all = await countOf(page, TEST)
  await folds.getByRole('combobox', { name: 'How the conditions go together' }).selectOption('any')
  await settled(page)
  expect(await countOf(page, TEST)).toBeGreaterThan(all)
  await page.keyboard.press('Control+z')
  await settled(page)
  expect(await countOf(page, TEST)).toBe(all)

  await choose(page, folds.getByRole('button', { name: 'Keep this habitat, or take a kept one' }), 'Keep this habitat')
  await folds.getByRole('button', { name: 'Copy all conditions' }).click()
  await openFold(page, 'Samphire on the mud', 'Where')
  const own = (await titles()).length
  await folds.getByRole('button', { name: 'Paste the copied conditions' }).click()
  expect((await titles()).length).toBe(own + before.length)
  await choose(page, folds.getByRole('button', { name: 'Keep this habitat, or take a kept one' }), `Take “${TEST}” (${before.length})`)
  expect((await titles()).length).toBe(before.length)

  // The tint: orange where the habitat takes the ground, grey elsewhere.
  const orange = async () => {
    await page.waitForTimeout(2500)
    await page.waitForFunction(() => window.waywardMeadow?.landscape.facts().rest)
    await page.waitForTimeout(500)
    return orangeShare(await page.screenshot())
  }
  await page.keyboard.press('v')
  await page.getByRole('button', { name: 'Over the saltings', exact: true }).click()
  await page.keyboard.press('c')
  const plain = await orange()
  await page.keyboard.press('i')
  const tinted = await orange()
  expect(tinted).toBeGreaterThan(plain + 0.01)
  await page.keyboard.press('Escape')
  expect(await orange()).toBeLessThan(tinted / 2)
})

/** Share of orange pixels, by a decoder of its own. */
function orangeShare(png: Buffer): number {
  const { data, width, height, channels } = decode(png)
  let orange = 0
  for (let i = 0; i < width * height; i++) {
    const [r, g, b] = [data[i * channels], data[i * channels + 1], data[i * channels + 2]]
    if (r > 120 && r > 1.7 * g && r > 2.5 * b) orange++
  }
  return orange / (width * height)
}

test('drivers and a beacon: set by hand, moved by key, read out of the table', async ({ page }) => {
  test.setTimeout(240_000)
  await startBare(page)
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Sizes, from' }).or(card(page, TEST).getByRole('spinbutton', { name: 'Size, from' })), '1')
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Size, to' }), '1')
  await page.getByRole('button', { name: 'How it stands', exact: true }).click()
  await choose(page, page.getByRole('button', { name: 'Add a driver' }), 'Height')
  const first = page.getByRole('group', { name: 'Size by height' })
  await type(page, first.getByRole('spinbutton', { name: 'Height, first value' }), '0')
  await type(page, first.getByRole('spinbutton', { name: 'Height, second value' }), '8')
  await type(page, first.getByRole('spinbutton', { name: 'Size at the first value' }), '0.5')
  await type(page, first.getByRole('spinbutton', { name: 'Size at the second value' }), '2')
  for (const { x, z, size } of await places(page)) expect(size).toBeCloseTo(0.5 + 1.5 * Math.min(1, Math.max(0, heightAt(terrain, x, z) / 8)), 3)
  await page.getByRole('button', { name: 'Remove the driver height' }).click()

  await choose(page, page.getByRole('button', { name: 'Add a driver' }), 'Nearness to a beacon')
  const by = page.getByRole('group', { name: /by nearness to a beacon/ })
  await by.getByRole('combobox', { name: 'What it changes' }).selectOption('tint')
  await page.keyboard.press('b')
  await page.getByRole('button', { name: 'Spring', exact: true }).click()
  await type(page, page.getByRole('spinbutton', { name: 'Reach' }), '40')
  const beacon = () => page.evaluate(() => window.waywardMeadow!.session.store.getState().history.meadow.beacons[0])
  const check = async () => {
    const { x: bx, z: bz, reach } = await beacon()
    let near = 0
    for (const { x, z, tint } of await places(page)) {
      const inReach = Math.hypot(x - bx, z - bz) < reach - 0.5
      if (inReach) near++
      // Out of reach all have the first colour.
      if (Math.hypot(x - bx, z - bz) > reach) expect(tint).toBe('#d8c48aff')
    }
    expect(near).toBeGreaterThan(20)
    return near
  }
  await check()
  const handle = page.getByRole('button', { name: 'Spring: drag it, or move it by the arrow keys' })
  await handle.focus()
  const from = await beacon()
  for (let i = 0; i < 4; i++) await page.keyboard.press('Alt+ArrowLeft')
  expect((await beacon()).x).toBeCloseTo(from.x - 20, 2)
  await settled(page)
  // Only the tiles in its reach have grown again.
  const { tiles, all } = await page.evaluate(() => {
    const { session } = window.waywardMeadow!
    return { tiles: session.store.getState().lastGrowing?.tiles ?? 0, all: [...session.instances.tiles.values()].reduce((sum, own) => sum + own.size, 0) }
  })
  console.log(`a beacon moved: ${tiles} of ${all} tiles grown again`)
  expect(tiles).toBeGreaterThan(0)
  expect(tiles).toBeLessThan(all / 3)
  await check()
  await page.keyboard.press('Control+z')
  expect((await beacon()).x).toBeCloseTo(from.x - 15, 2)
})

test('a mesh is brought in, stood in the meadow, grown on all over, moved with its plants and handed off', async ({ page }) => {
  test.setTimeout(240_000)
  await openDemo(page)
  await page.keyboard.press('g')
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in a mesh to stand here (GLB, OBJ, PLY, STL)' }).click()
  await (await chooser).setFiles({ name: 'Fan.glb', mimeType: 'model/gltf-binary', buffer: readFileSync('src/testing/fixtures/fandisk.glb') })
  const sheet = page.getByRole('dialog')
  await sheet.getByRole('button', { name: 'Stand it in the meadow' }).click({ timeout: 60_000 })
  await expect(page.getByRole('button', { name: 'Fan', exact: true })).toBeVisible()
  await type(page, page.getByRole('spinbutton', { name: 'Size of the mesh' }), '4')
  await type(page, page.getByRole('spinbutton', { name: 'Place along Y' }), '6')
  await page.keyboard.press('p')
  await openFold(page, TEST, 'Where')
  for (const menu of await page.getByRole('button', { name: /^What to do with the condition/ }).all()) {
    void menu
    await clear(page)
  }
  await page.locator('.grounds').getByRole('checkbox', { name: 'Fan' }).check()
  await page.locator('.folds').getByRole('combobox', { name: 'On a mesh' }).selectOption('all-over')
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '0.5')
  await page.getByRole('button', { name: 'How many', exact: true }).click()
  await type(page, inFolds(page, 'Own room'), '0')
  const before = await places(page)
  expect(before.length).toBeGreaterThan(50)
  let least = Infinity
  before.forEach((a, i) => before.slice(i + 1).forEach((b) => (least = Math.min(least, Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z)))))
  expect(least).toBeGreaterThanOrEqual(0.5 * (1 - 1e-4))

  await page.keyboard.press('g')
  await page.getByRole('button', { name: 'Fan', exact: true }).click()
  const x = page.getByRole('spinbutton', { name: 'Place along X' })
  const was = await page.evaluate(() => window.waywardMeadow!.session.store.getState().history.meadow.meshes.find(({ name }) => name === 'Fan')!.position[0])
  await type(page, x, String(was + 10))
  const after = await places(page)
  expect(after.length).toBe(before.length)
  after.forEach((row, i) => {
    expect(row.x).toBeCloseTo(before[i].x + 10, 3)
    expect(row.z).toBeCloseTo(before[i].z, 3)
  })
  const glb = await handOff(page, 'GLB with instancing', TEST)
  const json = JSON.parse(glb.subarray(20, 20 + glb.readUInt32LE(12)).toString()) as { nodes: { name: string }[] }
  expect(json.nodes.map(({ name }) => name)).toEqual(expect.arrayContaining(['Fan', 'Fishers’ hut']))
  await page.reload()
  await settled(page)
  expect(await countOf(page, TEST)).toBe(before.length)
})
