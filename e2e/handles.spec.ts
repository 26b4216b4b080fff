import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { countOf, expect, openDemo, openDrawer, settled } from './field.ts'

const HULL = 'Wrecked hull'
const GROWN = 'Barnacles on the hull'

const placeOf = (page: Page) =>
  page.evaluate((name) => window.waywardMeadow!.session.store.getState().history.meadow.meshes.find((mesh) => mesh.name === name)!.position, HULL)

/** Places of the barnacles by id. */
const grown = (page: Page) =>
  page.evaluate((name) => {
    const { session } = window.waywardMeadow!
    const id = session.store.getState().history.meadow.plantings.find((planting) => planting.name === name)!.id
    const rows: [string, number, number, number][] = []
    for (const { block } of session.instances.tiles.get(id)!.values())
      for (let i = 0; i < block.count; i++)
        rows.push([`${block.idHigh[i]}-${block.idLow[i]}`, block.position[3 * i], block.position[3 * i + 1], block.position[3 * i + 2]])
    return rows.sort(([a], [b]) => (a < b ? -1 : 1))
  }, GROWN)

test('a mesh is dragged by its handle along one axis and takes its plants along; one key takes it back', async ({ page }) => {
  await openDemo(page)
  const count = await countOf(page, GROWN)
  await page.evaluate(() => window.waywardMeadow!.landscape.flyTo({ position: [22, 6, 58], target: [13.5, 1, 47] }))
  await openDrawer(page, 'Ground')
  await page.getByRole('button', { name: HULL, exact: true }).click()
  await page.waitForFunction(() => window.waywardMeadow!.landscape.facts().rest)
  const before = await placeOf(page)
  const stood = await grown(page)
  expect(stood.length).toBe(count)

  // The red arrow, which points to the east; its tip is some 70 px from the middle of the handles.
  const [from, along] = await page.evaluate(([x, y, z]) => {
    const box = document.querySelector('.picture')!.getBoundingClientRect()
    const at = (dx: number) => {
      const [u, v] = window.waywardMeadow!.landscape.project(x + dx, z, y)!
      return [u + box.left, v + box.top]
    }
    const [o, e] = [at(0), at(1)]
    const length = Math.hypot(e[0] - o[0], e[1] - o[1])
    return [o, [(e[0] - o[0]) / length, (e[1] - o[1]) / length]]
  }, before)
  const point = (pixels: number) => [from[0] + along[0] * pixels, from[1] + along[1] * pixels] as const
  await page.mouse.move(...point(58))
  await page.mouse.move(...point(62))
  await page.mouse.down()
  for (let k = 1; k <= 8; k++) await page.mouse.move(...point(62 + 10 * k))
  await page.mouse.up()
  await expect.poll(async () => (await placeOf(page))[0]).toBeGreaterThan(before[0] + 0.5)
  await settled(page)
  const after = await placeOf(page)
  expect(after.slice(1)).toEqual(before.slice(1))
  // Heights above the water and patches are judged where the hull now lies; those that stay have moved along with it.
  const by = after[0] - before[0]
  const places = new Map(stood.map(([id, ...place]) => [id, place]))
  const stayed = (await grown(page)).filter(([id]) => places.has(id))
  expect(stayed.length).toBeGreaterThan(0.5 * count)
  for (const [id, x, y, z] of stayed) {
    const [px, py, pz] = places.get(id)!
    expect(Math.hypot(x - px - by, y - py, z - pz)).toBeLessThan(1e-3)
  }

  await page.keyboard.press('Control+z')
  await settled(page)
  expect(await placeOf(page)).toEqual(before)
  expect(await grown(page)).toEqual(stood)
})
