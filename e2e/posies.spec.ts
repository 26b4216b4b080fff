import { NodeIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS } from '@gltf-transform/extensions'
import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import * as THREE from 'three'
import { card, countOf, expect, handOff, openDrawer, openFold, readCsv, settled, type } from './field.ts'
import { heightAt } from '../src/core/grounds/terrain.ts'
import { startBare, terrain } from './small-ground.ts'
import { drag, meadow, past, plantByHand, seen } from './by-hand.ts'

/** Posies through the interface, and what comes out of them. */

test.use({ deviceScaleFactor: 1, viewport: { width: 1280, height: 800 } })

const act = (page: Page, word: string) => page.locator('.chosen-words').getByRole('button', { name: word, exact: true }).click()
const chosenNumber = (page: Page, name: string) => page.locator('.chosen-part').getByRole('spinbutton', { name, exact: true })

/** The rows of a planting, each with the matrix that it stands by. */
async function standing(page: Page, planting: string) {
  await settled(page)
  return readCsv(await handOff(page, 'Table (CSV)', planting)).map(({ asset, numbers: n }) => ({ asset, place: new THREE.Vector3(n[0], n[1], n[2]), matrix: new THREE.Matrix4().compose(new THREE.Vector3(n[0], n[1], n[2]), new THREE.Quaternion(n[3], n[4], n[5], n[6]), new THREE.Vector3(n[7], n[8], n[9])) }))
}

/** Places some things by clicks, the eye near by. */
async function place(page: Page, asset: RegExp, at: readonly (readonly [number, number])[]): Promise<void> {
  await plantByHand(page, /^One by one/, asset)
  for (const [x, z] of at) {
    const before = (await past(page)).length
    await page.mouse.move(...(await seen(page, x, z)))
    await page.mouse.click(...(await seen(page, x, z)))
    await expect.poll(async () => (await past(page)).length).toBe(before + 1)
  }
  await settled(page)
  await page.keyboard.press('Escape')
}

/** A small ground with nothing before what is clicked. */
const start = (page: Page) => startBare(page, [0, 17, 15], [0, 6, 0])

/** Chooses all in a box of the ground. */
async function chooseBox(page: Page, [x0, z0]: readonly [number, number], [x1, z1]: readonly [number, number]): Promise<void> {
  await page.keyboard.press('Escape')
  await page.getByRole('radio', { name: 'Choose', exact: true }).click()
  await drag(page, [[x0, z0], [x1, z1]])
}

test('a posy of a posy gathered of what was placed, spread by rule, the inner one opened and changed: all follow, in the table and in the GLB', async ({ page }) => {
  await start(page)
  await place(page, /^Boulder/, [[0, 0], [1.5, 0.5]])
  await place(page, /^Groyne post/, [[-1, 0.5]])
  const loose = [...(await standing(page, 'Boulder')), ...(await standing(page, 'Groyne post'))]
  expect(loose.length).toBe(3)
  await chooseBox(page, [-4, -4], [5, 4])
  await expect(page.locator('.chosen-bar')).toContainText('3')
  await act(page, 'posy')
  await page.getByRole('textbox', { name: 'Name of the new posy' }).fill('Stones and post')
  await page.getByRole('button', { name: 'gather', exact: true }).click()
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Gather a posy')
  await settled(page)
  // One stands in their place, and it is the three of them to whoever reads the file.
  const [holder] = (await meadow(page)).hands.filter(({ singles }) => (singles[0] as number[]).length > 0).map(({ id }) => id)
  const name = (await meadow(page)).plantings.find(({ id }) => id === holder)!.name
  const gathered = await standing(page, name)
  expect(gathered.length).toBe(3)
  for (const { asset, matrix } of loose) expect(Math.min(...gathered.filter((one) => one.asset === asset).map((one) => Math.max(...one.matrix.elements.map((value, k) => Math.abs(value - matrix.elements[k])))))).toBeLessThan(1e-4)
  expect(await countOf(page, name)).toBe(1)

  // A posy of that one and another thing, spread by rule.
  await page.getByRole('button', { name: 'Show it on the shelf' }).click()
  await expect(page.locator('.shelf-asset', { hasText: 'Stones and post' })).toContainText('3 parts')
  await place(page, /^Driftwood/, [[3.2, 1.5]])
  await chooseBox(page, [-4, -4], [5, 4])
  await expect(page.locator('.chosen-bar')).toContainText('2 chosen')
  await act(page, 'posy')
  await page.getByRole('textbox', { name: 'Name of the new posy' }).fill('Landing')
  await page.getByRole('button', { name: 'gather', exact: true }).click()
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Gather a posy')
  await page.getByRole('button', { name: 'Show it on the shelf' }).last().click()
  await page.getByRole('button', { name: 'Spread Landing' }).click()
  await openFold(page, 'Landing', 'Where')
  await type(page, card(page, 'Landing').getByRole('spinbutton', { name: 'Spacing' }), '11')
  await settled(page)
  const count = await countOf(page, 'Landing')
  expect(count).toBeGreaterThan(20)
  const spread = await standing(page, 'Landing')
  expect(spread.length).toBe(4 * count)

  // The inner one opened from the shelf: its post is raised by four centimetres, and all follow.
  for (const name of ['Landing', 'Boulder']) await card(page, name).getByRole('button', { name: 'Hide', exact: true }).click()
  await openDrawer(page, 'Nursery')
  await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('Stones')
  await page.getByRole('button', { name: 'Open Stones and post and change its parts' }).click()
  await expect(page.locator('.opened-posy')).toContainText('Stones and post is open')
  await expect(page.locator('.opened-posy')).toContainText('and one posy that it is a part of')
  await settled(page)
  const { opened, assets } = await meadow(page)
  const post = assets.find(({ id }) => id === opened!.asset)!.parts.find(({ asset }) => assets.find(({ id }) => id === asset)!.name === 'Groyne post')!
  const [x, , z] = post.place.map((value, k) => value + opened!.place[k])
  const y = heightAt(terrain, x, z)
  await page.mouse.click(...(await seen(page, x, z, y + 1.2)))
  await expect(page.locator('.chosen-bar')).toContainText('1 chosen: 1 groyne post')
  await act(page, 'move, turn, size')
  await type(page, chosenNumber(page, 'up'), '0.04')
  await settled(page)
  await page.getByRole('button', { name: 'Put it together' }).click()
  await expect(page.locator('.opened-posy')).toHaveCount(0)
  const after = await standing(page, 'Landing')
  expect(after.length).toBe(spread.length)
  // So much in each by how large it is, along its own up.
  const posts = (rows: typeof after) => rows.filter(({ asset }) => asset === 'Groyne post')
  for (const { matrix } of posts(spread)) {
    const wanted = matrix.clone().multiply(new THREE.Matrix4().makeTranslation(0, 0.04 / post.size[1], 0))
    expect(Math.min(...posts(after).map((one) => Math.max(...one.matrix.elements.map((value, k) => Math.abs(value - wanted.elements[k])))))).toBeLessThan(1e-3)
  }

  const glb = await handOff(page, 'GLB with instancing', 'Landing')
  const document = await new NodeIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb)
  const inGlb = document.getRoot().listNodes().flatMap((node) => {
    const translation = (node.getExtension('EXT_mesh_gpu_instancing') as { getAttribute(name: string): { getCount(): number; getElement(k: number, into: number[]): number[] } | null } | null)?.getAttribute('TRANSLATION')
    return translation ? [{ name: node.getName(), places: Array.from({ length: translation.getCount() }, (_, k) => translation.getElement(k, [])) }] : []
  })
  for (const asset of ['Boulder', 'Groyne post', 'Driftwood']) {
    const own = inGlb.find(({ name: node }) => node.includes(asset))?.places ?? []
    const rows = after.filter((one) => one.asset === asset)
    expect(own.length).toBe(rows.length)
    for (const { place: at } of rows) expect(Math.min(...own.map(([x, y, z]) => Math.hypot(x - at.x, y - at.y, z - at.z)))).toBeLessThan(1e-3)
  }
})
