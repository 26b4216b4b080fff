import { test } from '@playwright/test'
import { dropFiles } from './acts.ts'
import { copyFileSync, mkdirSync, readFileSync } from 'node:fs'
import * as THREE from 'three'
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js'
import { slopeAt } from '../src/core/grounds/pick.ts'
import { createTerrain } from '../src/core/grounds/terrain.ts'
import { SALTINGS, saltingsHeights } from '../src/demo/saltings-terrain.ts'
import type { CsvRow } from './field.ts'
import { card, choose, countOf, expect, handOff, openDemo, readCsv, scrub, settled, type } from './field.ts'

const terrain = createTerrain(saltingsHeights(), SALTINGS.columns, SALTINGS.rows, SALTINGS.size, SALTINGS.size)

test('a newcomer opens the demo, changes a sentence, and takes it back by key', async ({ page }) => {
  await openDemo(page)
  await card(page, 'Saltmarsh grass').getByRole('button', { name: 'Saltmarsh grass', exact: true }).click()
  const before = await countOf(page, 'Saltmarsh grass')
  expect(before).toBeGreaterThan(60000)
  await scrub(page, card(page, 'Saltmarsh grass').getByRole('spinbutton', { name: 'Spacing' }), 80)
  await settled(page)
  const wider = await countOf(page, 'Saltmarsh grass')
  expect(wider).toBeLessThan(before)
  await page.keyboard.press('Control+z')
  await settled(page)
  expect(await countOf(page, 'Saltmarsh grass')).toBe(before)
  await page.keyboard.press('Control+Shift+z')
  await settled(page)
  expect(await countOf(page, 'Saltmarsh grass')).toBe(wider)
})

test('narrowing the slope clears the steep ground, in what is handed off', async ({ page }) => {
  await openDemo(page)
  await card(page, 'Marram on the dunes').getByRole('button', { name: 'Marram on the dunes', exact: true }).click()
  const steepest = (rows: CsvRow[]) =>
    Math.max(...rows.filter((row) => row.planting === 'Marram on the dunes').map(({ numbers: [x, , z] }) => slopeAt(terrain, x, z)))
  const before = readCsv(await handOff(page, 'Table (CSV)'))
  expect(steepest(before)).toBeGreaterThan(25)
  const limit = card(page, 'Marram on the dunes').getByRole('spinbutton', { name: 'Slope, to' })
  await type(page, limit, '12°')
  await settled(page)
  const after = readCsv(await handOff(page, 'Table (CSV)'))
  expect(steepest(after)).toBeLessThan(12.05)
  const count = (rows: CsvRow[]) => rows.filter((row) => row.planting === 'Marram on the dunes').length
  expect(count(after)).toBeLessThan(0.8 * count(before))
  expect(count(after)).toBe(await countOf(page, 'Marram on the dunes'))
})

test('own ground, own model, closed tab, and a GLB that another reader opens', async ({ page }, info) => {
  await openDemo(page)
  mkdirSync(info.outputDir, { recursive: true })
  // The plantings of the demo go: they are far too dense for eight kilometres.
  while ((await page.locator('.card').count()) > 0) {
    await page.locator('.card').first().getByRole('button', { name: /^What to do with/ }).click()
    await page.getByRole('menuitem', { name: 'Remove' }).click()
    await page.waitForTimeout(150)
  }
  // A real height file, dropped on the picture; a picture does not say its size and range, the person does.
  await dropFiles(page, [{ name: 'north_hills_16bit.png', bytes: readFileSync('src/testing/heights/north_hills_16bit.png') }])
  const sheet = page.getByRole('dialog')
  await expect(sheet.getByText('16-bit PNG, 400 × 400 samples')).toBeVisible()
  await type(page, sheet.getByRole('spinbutton', { name: 'Width, west to east' }), '7.98 km')
  await type(page, sheet.getByRole('spinbutton', { name: 'Depth, north to south' }), '7.98 km')
  await type(page, sheet.getByRole('spinbutton', { name: 'Lowest point' }), '180.001')
  await type(page, sheet.getByRole('spinbutton', { name: 'Highest point' }), '530.605')
  await sheet.getByLabel('Source, if it must be named').fill('National Land Survey of Finland, open data')
  await page.getByRole('button', { name: 'Use this ground' }).click()
  await expect(sheet).toHaveCount(0)
  await settled(page)
  await page.keyboard.press('n')
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: /^Bring in models/ }).click()
  const model = info.outputPath('Spiky column.glb')
  copyFileSync('src/testing/models/cactus.glb', model)
  await (await chooser).setFiles(model)
  await expect(page.getByText('1,236 triangles')).toBeVisible({ timeout: 90_000 })
  await page.getByLabel('Up in the file').selectOption('z')
  await page.waitForTimeout(500)
  await page.getByRole('button', { name: 'Put on the shelf and spread it' }).click()
  await expect(card(page, 'Spiky column')).toBeVisible()
  await settled(page)
  const count = await countOf(page, 'Spiky column')
  expect(count).toBeGreaterThan(500)
  // The tab is closed and opened again.
  await page.reload()
  await settled(page)
  expect(await countOf(page, 'Spiky column')).toBe(count)
  expect(await page.locator('.card').count()).toBe(1)

  const table = readCsv(await handOff(page, 'Table (CSV)'))
  expect(table.length).toBe(count)
  const byPlace = (a: readonly number[], b: readonly number[]) => a[0] - b[0] || a[2] - b[2]
  const wanted = table.map((row) => row.numbers).sort(byPlace)
  for (const form of ['GLB with instancing', 'GLB with plain nodes']) {
    const glb = await handOff(page, form)
    const { scene } = await new GLTFLoader().parseAsync(new Uint8Array(glb).buffer, '')
    scene.updateMatrixWorld(true)
    const found: number[][] = []
    const note = (matrix: THREE.Matrix4) => {
      const [p, q, s] = [new THREE.Vector3(), new THREE.Quaternion(), new THREE.Vector3()]
      matrix.decompose(p, q, s)
      found.push([...p.toArray(), ...q.toArray(), ...s.toArray()])
    }
    scene.traverse((object) => {
      if (object instanceof THREE.InstancedMesh)
        for (let i = 0; i < object.count; i++) {
          const matrix = new THREE.Matrix4()
          object.getMatrixAt(i, matrix)
          note(matrix)
        }
      else if (object instanceof THREE.Mesh && form === 'GLB with plain nodes' && object.name !== 'Water' && !object.name.startsWith('north') && !/hut|hull/i.test(object.name)) note(object.matrixWorld)
    })
    found.sort(byPlace)
    expect(found.length).toBe(count)
    let worst = 0
    found.forEach((row, i) => {
      // A quaternion and its negative are one rotation.
      const sign = row[3] * wanted[i][3] + row[4] * wanted[i][4] + row[5] * wanted[i][5] + row[6] * wanted[i][6] < 0 ? -1 : 1
      row.forEach((value, c) => (worst = Math.max(worst, Math.abs((c > 2 && c < 7 ? sign : 1) * value - wanted[i][c]))))
    })
    expect(worst).toBeLessThan(1e-5)
  }
})

test('cards: order by key and by drag, hide, lock, duplicate, throw again', async ({ page }) => {
  await openDemo(page)
  const names = () => page.locator('.card-name').allInnerTexts()
  const first = await names()
  await page.getByRole('button', { name: 'Thorn shrubs', exact: true }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await expect.poll(names).toEqual([first[0], first[2], first[1], ...first.slice(3)])
  await page.keyboard.press('Control+z')
  await expect.poll(names).toEqual(first)
  const grip = await page.locator('.card').nth(4).locator('.grip').boundingBox()
  const target = await page.locator('.card').nth(2).boundingBox()
  if (!grip || !target) throw new Error('no cards')
  await page.mouse.move(grip.x + 5, grip.y + 5)
  await page.mouse.down()
  await page.mouse.move(grip.x + 5, grip.y - 20, { steps: 4 })
  await page.mouse.move(grip.x + 5, target.y + 10, { steps: 6 })
  await page.mouse.up()
  await expect.poll(async () => (await names())[2]).toBe(first[4])
  await page.keyboard.press('Control+z')
  await settled(page)

  await card(page, 'Samphire on the mud').getByRole('button', { name: 'Hide' }).click()
  await expect(card(page, 'Samphire on the mud').getByRole('button', { name: 'Show' })).toBeVisible()
  await page.getByRole('button', { name: 'Samphire on the mud', exact: true }).click()
  const placeOf = () =>
    page.evaluate(() => {
      const tiles = window.waywardMeadow?.session.instances.tiles.get('samphire')
      const block = [...(tiles?.values() ?? [])].find((tile) => tile.block.count > 0)?.block
      return block ? [block.position[0], block.position[2]] : null
    })
  const before = await placeOf()
  await page.keyboard.press('t')
  await settled(page)
  expect(await placeOf()).not.toEqual(before)
  await page.getByRole('button', { name: 'What to do with Samphire on the mud' }).click()
  await page.getByRole('menuitem', { name: 'Lock' }).click()
  await expect(card(page, 'Samphire on the mud').getByRole('spinbutton', { name: 'Spacing' })).toHaveAttribute('aria-disabled', 'true')
  await page.getByRole('button', { name: 'What to do with Samphire on the mud' }).click()
  await page.getByRole('menuitem', { name: 'Duplicate' }).click()
  await expect(page.getByRole('button', { name: 'Samphire on the mud copy', exact: true })).toBeVisible()
})

test('the gate: take out, bring in, rename, duplicate, remove and bring back', async ({ page }, info) => {
  await openDemo(page)
  await page.getByRole('link', { name: 'Gate' }).click()
  const menu = page.getByRole('button', { name: 'What to do with Gullhaven Saltings', exact: true })
  await menu.click()
  const download = page.waitForEvent('download')
  await page.getByRole('menuitem', { name: 'Take out as a .meadow file' }).click()
  const path = info.outputPath('saltings.meadow')
  await (await download).saveAs(path)
  expect(readFileSync(path).subarray(0, 2).toString()).toBe('PK')
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in a .meadow file' }).click()
  await (await chooser).setFiles(path)
  await expect(page.locator('.meadow')).toHaveCount(2)
  const whatToDo = (name: string) => page.getByRole('button', { name: `What to do with ${name}`, exact: true })
  await choose(page, whatToDo('Gullhaven Saltings 2'), 'Rename')
  await page.getByRole('textbox', { name: 'Name of the meadow' }).fill('North marsh')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('link', { name: 'North marsh', exact: true })).toBeVisible()
  await choose(page, whatToDo('North marsh'), 'Duplicate')
  await expect(page.locator('.meadow')).toHaveCount(3)
  await choose(page, whatToDo('North marsh copy'), 'Remove')
  await expect(page.locator('.meadow')).toHaveCount(2)
  await page.getByRole('button', { name: 'Bring it back' }).click()
  await expect(page.locator('.meadow')).toHaveCount(3)
  // The gate has not loaded the picture's library.
  await page.goto('/')
  await expect(page.locator('.meadow')).toHaveCount(3)
  const loaded = await page.evaluate(() => performance.getEntriesByType('resource').map((entry) => entry.name))
  expect(loaded.some((name) => name.includes('field-page'))).toBe(false)
})
