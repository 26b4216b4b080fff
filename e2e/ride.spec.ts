import { test } from '@playwright/test'
import * as THREE from 'three'
import { expect, openFold, settled, type } from './field.ts'
import { places, startBare, heightOf } from './small-ground.ts'
import type { Place } from './small-ground.ts'
import { meadow, past, plantByHand, seen, setTo, snapTo, takeUp } from './by-hand.ts'

/** Patterns that stand on other things and on pegs, and go along with them. */

test.use({ deviceScaleFactor: 1, viewport: { width: 1280, height: 800 } })

const matrixOf = ({ x, y, z, turn, size }: Place) => new THREE.Matrix4().compose(new THREE.Vector3(x, y, z), new THREE.Quaternion(...(turn as [number, number, number, number])), new THREE.Vector3(size, size, size))
const mean = (rows: readonly Place[]) => (['x', 'y', 'z'] as const).map((c) => rows.reduce((sum, row) => sum + row[c], 0) / rows.length)

test('a ring stands on the top of a post, goes along where it is moved, turned and sized, and stays where the post is taken out', async ({ page }) => {
  await startBare(page, [4, 14, 16])
  await plantByHand(page, /^One by one/, /^Groyne post/)
  await page.mouse.click(...(await seen(page, 5, 2)))
  await settled(page)
  const [post] = await places(page, 'Groyne post')

  // A ring of lanterns on its top.
  await plantByHand(page, /^In a ring/, /^Lantern/)
  await setTo(page, 'It stands on', 'the top of a thing')
  const at = await seen(page, post.x, post.z, post.y + 0.7)
  await page.mouse.move(...at)
  await expect(page.getByRole('status').filter({ hasText: 'the top of Groyne post' })).toHaveCount(1)
  await page.mouse.click(...at)
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Stand it on a thing')
  await page.keyboard.press('Escape')
  await openFold(page, 'Lantern', 'How it stands')
  await type(page, page.locator('.folds').getByRole('spinbutton', { name: 'Down to the ground', exact: true }), '0')
  await openFold(page, 'Lantern', 'How many')
  await type(page, page.locator('.folds').getByRole('spinbutton', { name: 'Radius', exact: true }), '0.5')
  await openFold(page, 'Lantern', 'Where')
  await expect(page.getByRole('heading', { name: /^Stands on Groyne post/ })).toBeVisible()
  await settled(page)
  const before = await places(page, 'Lantern')
  expect(before.length).toBe(9)
  const high = (await meadow(page)).assets.find(({ name }) => name === 'Groyne post')!.size[1]
  const top = new THREE.Vector3(0, high, 0).applyMatrix4(matrixOf(post))
  mean(before).forEach((value, c) => expect(value).toBeCloseTo(top.toArray()[c], 3))

  // The post is moved, turned and sized.
  await takeUp(page, 'Choose')
  await page.mouse.click(...(await seen(page, post.x, post.z, post.y + 0.4)))
  await expect(page.locator('.chosen-bar')).toContainText('1 chosen')
  await page.locator('.chosen-words').getByRole('button', { name: 'move, turn, size', exact: true }).click()
  const part = page.locator('.chosen-part')
  await type(page, part.getByRole('spinbutton', { name: 'east', exact: true }), '2')
  await settled(page)
  await type(page, part.getByRole('spinbutton', { name: /^turn/ }).first(), '40')
  await settled(page)
  await type(page, part.getByRole('spinbutton', { name: /^size|^sized/ }).first(), '1.5')
  await settled(page)
  const [moved] = await places(page, 'Groyne post')
  expect(Math.hypot(moved.x - post.x - 2, moved.z - post.z)).toBeLessThan(1e-3)
  const along = matrixOf(moved).multiply(matrixOf(post).invert())
  const rows = await places(page, 'Lantern')
  expect(rows.length).toBe(9)
  for (const one of before) {
    const to = new THREE.Vector3(one.x, one.y, one.z).applyMatrix4(along)
    expect(Math.min(...rows.map((row) => to.distanceTo(new THREE.Vector3(row.x, row.y, row.z))))).toBeLessThan(1e-3)
  }

  // One step of undo: the ring goes back with the post.
  expect((await past(page)).at(-1)).toBe('Change one')
  await page.keyboard.press('Control+z')
  await settled(page)
  const back = await places(page, 'Lantern')
  for (const one of before) expect(Math.min(...back.map((row) => Math.hypot(row.x - one.x, row.y - one.y, row.z - one.z)))).toBeLessThan(1e-4)
  expect((await past(page)).at(-1)).toBe('Change radius')

  // Taken out, the post leaves the ring where it was; the card says so.
  await expect(page.locator('.chosen-bar')).toContainText('1 chosen')
  await page.locator('.chosen-words').getByRole('button', { name: 'take out', exact: true }).click()
  await expect.poll(async () => (await past(page)).at(-1)).toMatch(/^Take /)
  await settled(page)
  expect((await places(page, 'Groyne post')).length).toBe(0)
  await page.keyboard.press('Escape')
  await expect(page.getByText(/What it stood on is gone: it stays where it was, on the terrain/)).toBeVisible()
  mean(await places(page, 'Lantern')).forEach((value, c) => expect(value).toBeCloseTo(top.toArray()[c], 3))
  await page.getByRole('button', { name: 'Lift it off' }).click()
  await expect(page.getByText(/What it stood on is gone/)).toHaveCount(0)

  // What rides on its own members is refused.
  await page.evaluate(() => window.waywardMeadow!.landscape.flyTo({ position: [5, 13, 10], target: [5, 8.5, 2] }))
  await page.waitForTimeout(700)
  await takeUp(page, 'Place')
  await setTo(page, 'How many', 'what the open pattern stands on')
  const lantern = (await places(page, 'Lantern')).reduce((most, row) => (row.z > most.z ? row : most))
  await page.mouse.click(...(await seen(page, lantern.x, lantern.z, lantern.y + 0.15)))
  await expect(page.getByText('“Lantern” cannot stand on its own members; choose another thing.')).toBeVisible()
})

test('a row stands on a peg and goes along with it by the arrow keys; centred on what is chosen', async ({ page }) => {
  await startBare(page, [4, 20, 19])
  await plantByHand(page, /^In a row/, /^Groyne post/)
  await setTo(page, 'How many', 'pegs to set things to')
  await page.mouse.click(...(await seen(page, 3, 4)))
  await expect.poll(async () => (await meadow(page)).pegs.length).toBe(1)
  await setTo(page, 'How many', 'what the open pattern stands on')
  await snapTo(page, 'Pegs')
  await page.mouse.move(...(await seen(page, 3.1, 4)))
  await page.mouse.click(...(await seen(page, 3.1, 4)))
  await expect.poll(async () => (await meadow(page)).plantings.at(-1)?.base?.rides?.thing).toBe('peg')
  await settled(page)
  const before = await places(page, 'Groyne post')
  const peg = page.getByRole('button', { name: /^Peg 1:/ })
  await peg.focus()
  await peg.press('ArrowRight')
  await peg.press('ArrowRight')
  await settled(page)
  const after = await places(page, 'Groyne post')
  const { place } = (await meadow(page)).pegs[0]
  const first = after.reduce((least, row) => (row.x < least.x ? row : least))
  expect(Math.hypot(first.x - place[0], first.z - place[2])).toBeLessThan(1e-3)
  expect(first.x - before.reduce((least, row) => (row.x < least.x ? row : least)).x).toBeGreaterThan(0.05)
  for (const { x, y, z } of after) expect(Math.abs(y - heightOf(x, z))).toBeLessThan(0.2)

  // Centred on one thing that is chosen.
  await plantByHand(page, /^One by one/, /^Driftwood/)
  await page.mouse.click(...(await seen(page, 9, -3)))
  await settled(page)
  await takeUp(page, 'Choose')
  const [log] = await places(page, 'Driftwood')
  await page.mouse.click(...(await seen(page, log.x, log.z, log.y + 0.1)))
  await expect(page.locator('.chosen-bar')).toContainText('1 chosen')
  await openFold(page, 'Groyne post', 'Where')
  await page.getByRole('button', { name: 'Centre it on what is chosen' }).click()
  await expect.poll(async () => (await meadow(page)).plantings.find(({ name }) => name === 'Groyne post')?.base?.rides?.thing).toBe('instance')
  await settled(page)
  const centred = await places(page, 'Groyne post')
  expect(Math.min(...centred.map(({ x, z }) => Math.hypot(x - log.x, z - log.z)))).toBeLessThan(1e-3)
})
