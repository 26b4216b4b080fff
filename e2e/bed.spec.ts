import { test } from '@playwright/test'
import * as THREE from 'three'
import { heightAt } from '../src/core/grounds/terrain.ts'
import { pointsOf } from '../src/core/outlines/outline.ts'
import { expect, openDrawer, openFold, settled, type } from './field.ts'
import { heightOf, places, startBare, terrain } from './small-ground.ts'
import { meadow, past, plantByHand, seen } from './by-hand.ts'

/** Rows that fill patches, and trails along paths that leave the ground, by hand and in the table that is handed off. */

test.use({ deviceScaleFactor: 1, viewport: { width: 1280, height: 800 } })

test('a patch is drawn and filled with rows; one more joins; level at a height of its own', async ({ page }) => {
  await startBare(page, [4, 30, 24])
  await plantByHand(page, /^In rows within a patch/, /^Groyne post/)
  for (const [x, z] of [[0, -4], [8, -4], [8, 5], [0, 5]]) await page.mouse.click(...(await seen(page, x, z)))
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await meadow(page)).plantings.at(-1)?.along.length).toBe(1)
  await openFold(page, 'Groyne post', 'Where')
  await expect(page.getByRole('region', { name: 'Patches it fills' })).toContainText('1 patch')
  await openFold(page, 'Groyne post', 'How many')
  const set = (name: string, value: string) => type(page, page.locator('.folds').getByRole('spinbutton', { name, exact: true }), value)
  await set('One every', '1.1')
  await set('Rows apart', '1.7')
  await set('Kept from the rim', '0.05')
  await settled(page)

  // Counted over the patch as it was drawn, rows to the east from its first point.
  const [patch] = (await meadow(page)).outlines
  const [line] = pointsOf(patch)
  const inside = (x: number, z: number) => {
    let odd = false
    let away = Infinity
    for (let i = 0, j = line.length - 2; i < line.length; j = i, i += 2) {
      const [ax, az, bx, bz] = [line[i], line[i + 1], line[j], line[j + 1]]
      if (az > z !== bz > z && x < ((bx - ax) * (z - az)) / (bz - az) + ax) odd = !odd
      const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (z - az) * (bz - az)) / ((bx - ax) ** 2 + (bz - az) ** 2)))
      away = Math.min(away, Math.hypot(x - ax - t * (bx - ax), z - az - t * (bz - az)))
    }
    return odd && away > 0.05
  }
  const wanted: [number, number][] = []
  for (let row = -20; row <= 20; row++) for (let k = -20; k <= 20; k++) if (inside(line[0] + 1.1 * k, line[1] + 1.7 * row)) wanted.push([line[0] + 1.1 * k, line[1] + 1.7 * row])
  const rows = await places(page, 'Groyne post')
  expect(rows.length).toBe(wanted.length)
  expect(rows.length).toBeGreaterThan(30)
  for (const [x, z] of wanted) expect(Math.min(...rows.map((row) => Math.hypot(row.x - x, row.z - z)))).toBeLessThan(1e-3)
  for (const { x, y, z } of rows) expect(Math.abs(y - heightOf(x, z))).toBeLessThan(0.15)

  // Level at the highest of its rim.
  await openFold(page, 'Groyne post', 'How it stands')
  await set('Down to the ground', '0')
  await page.locator('.folds').getByRole('combobox', { name: 'Its own height' }).selectOption({ label: 'as the highest of its rim' })
  await settled(page)
  const level = await places(page, 'Groyne post')
  const heights = level.map(({ y }) => y)
  expect(Math.max(...heights) - Math.min(...heights)).toBeLessThan(1e-4)
  for (let i = 0; i < line.length; i += 2) expect(heights[0]).toBeGreaterThan(heightOf(line[i], line[i + 1]) - 0.1)

  // One more patch, drawn while it is open, is filled, too.
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Draw by hand: one more patch for it to fill' }).click()
  for (const [x, z] of [[-4, -3], [-2, 6], [-8, 4]]) await page.mouse.click(...(await seen(page, x, z)))
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await meadow(page)).plantings.at(-1)?.along.length).toBe(2)
  await settled(page)
  expect((await places(page, 'Groyne post')).length).toBeGreaterThan(level.length + 5)
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await meadow(page)).plantings.at(-1)?.along.length).toBe(1)
})

test('a path is raised off the ground, a point of it higher by keys, and bears what stands square to it', async ({ page }) => {
  await startBare(page, [4, 24, 22])
  await plantByHand(page, /^Along a path/, /^Lantern/)
  for (const [x, z] of [[-4, 2], [4, -2], [12, 3]]) await page.mouse.click(...(await seen(page, x, z)))
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await meadow(page)).plantings.at(-1)?.along.length).toBe(1)
  await page.keyboard.press('Escape')

  await openDrawer(page, 'Outlines')
  await page.getByRole('button', { name: 'Path 1', exact: true }).click()
  const field = page.locator('.outline-fields').getByRole('spinbutton', { name: 'Off the ground' })
  await type(page, field, '2')
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Raise a path')
  await page.locator('.outline-fields').getByText('Smooth', { exact: true }).click()
  const point = page.getByRole('button', { name: /^Point 2 of Path 1/ })
  await point.focus()
  await point.press('Alt+PageUp')
  await point.press('PageDown')
  await expect.poll(async () => (await meadow(page)).outlines[0].above).toEqual([[2, 6.5, 2]])
  await expect(page.getByRole('button', { name: /^Point 2 of Path 1.*6\.50 m off the ground/ })).toHaveCount(1)
  await expect(page.locator('.outline-fields')).toContainText('Point 2 off the ground')

  await openFold(page, 'Lantern', 'How it stands')
  // It went up with its path.
  await expect(page.locator('.folds').getByRole('spinbutton', { name: 'Down to the ground', exact: true })).toHaveAttribute('aria-valuenow', '0')
  await page.locator('.folds').getByRole('combobox', { name: 'Stands', exact: true }).selectOption({ label: 'square to the path' })
  await openFold(page, 'Lantern', 'How many')
  await type(page, page.locator('.folds').getByRole('spinbutton', { name: 'One every', exact: true }), '0.8')
  await settled(page)
  const [line] = pointsOf((await meadow(page)).outlines[0])
  const corners = [2, 6.5, 2].map((above, i) => new THREE.Vector3(line[2 * i], heightAt(terrain, line[2 * i], line[2 * i + 1]) + above, line[2 * i + 1]))
  const lengths = [corners[0].distanceTo(corners[1]), corners[1].distanceTo(corners[2])]
  const rows = await places(page, 'Lantern')
  expect(rows.length).toBe(Math.floor((lengths[0] + lengths[1]) / 0.8) + 1)
  for (let k = 0; k < rows.length; k++) {
    const gone = 0.8 * k
    const at = gone <= lengths[0] ? corners[0].clone().lerp(corners[1], gone / lengths[0]) : corners[1].clone().lerp(corners[2], (gone - lengths[0]) / lengths[1])
    const row = rows.reduce((best, one) => (at.distanceTo(new THREE.Vector3(one.x, one.y, one.z)) < at.distanceTo(new THREE.Vector3(best.x, best.y, best.z)) ? one : best))
    expect(at.distanceTo(new THREE.Vector3(row.x, row.y, row.z))).toBeLessThan(2e-3)
    // Fronts look along the piece that they stand on.
    const front = new THREE.Vector3(0, 0, 1).applyQuaternion(new THREE.Quaternion(...(row.turn as [number, number, number, number])))
    const way = gone < lengths[0] ? corners[1].clone().sub(corners[0]) : corners[2].clone().sub(corners[1])
    expect(front.angleTo(way)).toBeLessThan(1e-3)
  }
})
