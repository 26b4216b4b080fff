import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import * as THREE from 'three'
import { card, expect, openDrawer, openFold, settled, type } from './field.ts'
import type { Place } from './small-ground.ts'
import { giveFile, places, startSmall, terrain } from './small-ground.ts'
import { heightAt } from '../src/core/grounds/terrain.ts'
import { drag, meadow, past, plantByHand, seen, snapTo } from './by-hand.ts'

/** Things in order: rows, rings and trails through the interface, and what comes out of it. */

test.use({ viewport: { width: 1280, height: 800 } })

/** A drum of twelve sides that lies along X: 3 m long, 1.2 m to its corners. */
const SIDES = 12
const DRUM = [
  ...[1.5, -1.5].flatMap((x) => Array.from({ length: SIDES }, (_, k) => `v ${x} ${1.2 * Math.cos((2 * Math.PI * k) / SIDES)} ${1.2 * Math.sin((2 * Math.PI * k) / SIDES)}`)),
  `f ${Array.from({ length: SIDES }, (_, k) => k + 1).join(' ')}`,
  `f ${Array.from({ length: SIDES }, (_, k) => 2 * SIDES - k).join(' ')}`,
  ...Array.from({ length: SIDES }, (_, k) => `f ${k + 1} ${SIDES + k + 1} ${SIDES + ((k + 1) % SIDES) + 1} ${((k + 1) % SIDES) + 1}`),
].join('\n')

const field = (page: Page, name: string) => page.locator('.folds').getByRole('spinbutton', { name, exact: true })
const near = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((one, c) => one - b[c]))
/** How far the worst of some places is from the nearest thing. */
const worst = (wanted: readonly (readonly number[])[], rows: readonly Place[]) => Math.max(...wanted.map((at) => Math.min(...rows.map(({ x, y, z }) => near([x, y, z], at)))))

test('seven hooks in a ring on the end face of a drum that is turned and sized; the drum is moved, and they with it', async ({ page }) => {
  await startSmall(page, '6')
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Bring in a mesh to stand here (GLB, glTF, OBJ, PLY, STL)', 'drum.obj', Buffer.from(DRUM))
  await page.getByRole('dialog').getByRole('button', { name: 'Stand it in the meadow' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  const number = (name: string) => page.getByRole('spinbutton', { name, exact: true })
  await type(page, number('Place along Y'), '14')
  await type(page, number('Turn about Y'), '-70')
  await type(page, number('Turn about Z'), '20')
  await type(page, number('Size of the mesh'), '1.5')
  await settled(page)
  const drum = async () => {
    const { position, turn, size } = (await meadow(page)).meshes[0]
    return new THREE.Matrix4().compose(new THREE.Vector3(...position), new THREE.Quaternion().setFromEuler(new THREE.Euler(turn[0] * THREE.MathUtils.DEG2RAD, turn[1] * THREE.MathUtils.DEG2RAD, turn[2] * THREE.MathUtils.DEG2RAD, 'ZYX')), new THREE.Vector3(size, size, size))
  }
  await plantByHand(page, /^In a ring/, /^Barnacles/)
  await snapTo(page, 'Centres of faces')
  // What is brought in is stood on its lowest corner.
  const own = [1.5, 1.2, 0] as const
  const middle = new THREE.Vector3(...own).applyMatrix4(await drum())
  await page.mouse.move(...(await seen(page, middle.x, middle.z, middle.y)))
  await expect(page.getByRole('status').filter({ hasText: 'Set to the centre of a face of drum' })).toHaveCount(1)
  await page.mouse.click(...(await seen(page, middle.x, middle.z, middle.y)))
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Stand it elsewhere')
  await page.keyboard.press('Escape')
  await openFold(page, 'Barnacles', 'How many')
  await type(page, field(page, 'Members'), '7')
  await type(page, field(page, 'Radius'), '0.9')
  await openFold(page, 'Barnacles', 'How it stands')
  await type(page, field(page, 'Down to the ground'), '0')
  await settled(page)
  const compare = async (larger: number) => {
    const rows = await places(page, 'Barnacles')
    expect(rows.length).toBe(7)
    const matrix = await drum()
    const centre = new THREE.Vector3(...own).applyMatrix4(matrix)
    const normal = new THREE.Vector3(1, 0, 0).transformDirection(matrix)
    const out = rows.map(({ x, y, z }) => new THREE.Vector3(x, y, z).sub(centre))
    // On the face, as far from its middle as was said (more where the drum has become larger), 360/7° apart.
    for (const one of out) {
      expect(Math.abs(one.dot(normal))).toBeLessThan(1e-5)
      expect(Math.abs(one.length() - 0.9 * larger)).toBeLessThan(1e-5)
    }
    const [first] = out
    const side = new THREE.Vector3().crossVectors(normal, first).normalize()
    const angles = out.map((one) => ((Math.atan2(one.dot(side), one.dot(first.clone().normalize())) * 180) / Math.PI + 360.001) % 360).sort((a, b) => a - b)
    angles.forEach((angle, k) => expect(Math.abs(angle - (360 * k) / 7)).toBeLessThan(0.01))
    // Each stands on the face, square to it.
    for (const { turn } of rows) expect(new THREE.Vector3(0, 1, 0).applyQuaternion(new THREE.Quaternion(...turn)).angleTo(normal)).toBeLessThan(1e-3)
    return out.map((one) => one.applyMatrix4(new THREE.Matrix4().extractRotation(matrix).invert()).divideScalar(larger).toArray())
  }
  const before = await compare(1)
  await openDrawer(page, 'Ground')
  await page.getByRole('button', { name: 'drum', exact: true }).click()
  await type(page, number('Place along X'), '9')
  await type(page, number('Turn about X'), '35')
  await type(page, number('Size of the mesh'), '3')
  await settled(page)
  const after = await compare(2)
  // In the drum's own frame they are where they were.
  for (const at of before) expect(Math.min(...after.map((one) => near(one, at)))).toBeLessThan(1e-5)
  // Without the drum they stay where they are.
  const there = await places(page, 'Barnacles')
  await openDrawer(page, 'Ground')
  await page.getByRole('button', { name: 'Remove drum' }).click()
  await settled(page)
  expect(worst(there.map(({ x, y, z }) => [x, y, z]), await places(page, 'Barnacles'))).toBeLessThan(1e-3)
  expect((await meadow(page)).plantings.at(-1)?.base?.host).toBe('terrain')
})

test('a spiral stair by steps, told as a whole run, stays; a wall in three directions; sizes that vanish are told', async ({ page }) => {
  await startSmall(page, '6')
  await plantByHand(page, /^In a row/, /^Limestone slab/)
  await page.mouse.click(...(await seen(page, 5, 10)))
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Stand it elsewhere')
  await page.keyboard.press('Escape')
  await openFold(page, 'Limestone slab', 'How many')
  for (const [name, value] of [['Members', '16'], ['Members: to the east', '0.8'], ['Members: up', '0.18'], ['Members: turned', '22.5']]) await type(page, field(page, name), value)
  await openFold(page, 'Limestone slab', 'How it stands')
  await type(page, field(page, 'Down to the ground'), '0')
  await settled(page)
  const [bx, by, bz] = await page.evaluate(() => window.waywardMeadow!.session.meadow().plantings.at(-1)!.base!.place)
  const foot = heightAt(terrain, bx, bz) + by
  // Chords of 0.8 m under angles that rise by 22.5°, by the clock.
  const steps: number[][] = [[bx, foot, bz]]
  for (let k = 0; k < 15; k++) {
    const angle = (k * 22.5 * Math.PI) / 180
    steps.push([steps[k][0] + 0.8 * Math.cos(angle), steps[k][1] + 0.18, steps[k][2] + 0.8 * Math.sin(angle)])
  }
  const stair = await places(page, 'Limestone slab')
  expect(stair.length).toBe(16)
  expect(worst(steps, stair)).toBeLessThan(1e-4)
  await openFold(page, 'Limestone slab', 'How many')
  await page.locator('.folds').getByLabel('Numbers are').selectOption('run')
  await settled(page)
  await expect(field(page, 'Members: up')).toHaveAttribute('aria-valuenow', '2.7')
  expect(worst(steps, await places(page, 'Limestone slab'))).toBeLessThan(1e-4)
  expect((await past(page)).at(-1)).toBe('Change numbers are')

  // A wall: 6 along, 2 deep, 4 high.
  await page.locator('.folds').getByLabel('Numbers are').selectOption('step')
  await page.locator('.folds').getByLabel('In', { exact: true }).selectOption('3')
  for (const [name, value] of [['Members', '6'], ['Members: up', '0'], ['Members: turned', '0'], ['Rows', '2'], ['Rows: to the south', '0.6'], ['Layers', '4'], ['Layers: up', '0.5']]) await type(page, field(page, name), value)
  await settled(page)
  const wall = Array.from({ length: 48 }, (_, k) => [bx + 0.8 * (k % 6), foot + 0.5 * Math.floor(k / 12), bz + 0.6 * (Math.floor(k / 6) % 2)])
  const stones = await places(page, 'Limestone slab')
  expect(stones.length).toBe(48)
  expect(worst(wall, stones)).toBeLessThan(1e-4)

  await type(page, field(page, 'Members: sized'), '0.1')
  await expect(card(page, 'Limestone slab')).toContainText('number 6 would be nothing any more')
  await page.keyboard.press('Control+z')
  await settled(page)
  expect((await places(page, 'Limestone slab')).length).toBe(48)
})

test('a fence of posts and rails follows the ground along a path; an avenue stands on both sides of it', async ({ page }) => {
  await startSmall(page, '6')
  await plantByHand(page, /^Along a path/, /^Groyne post/)
  await drag(page, [[-30, -10], [-10, 5], [10, -5], [30, 10]])
  await openFold(page, 'Groyne post', 'How many')
  await type(page, field(page, 'One every'), '2.5')
  await settled(page)
  const posts = await places(page, 'Groyne post')
  expect(posts.length).toBeGreaterThan(24)
  for (const { x, y, z } of posts) expect(Math.abs(y - heightAt(terrain, x, z))).toBeLessThan(2e-3)
  const path = (await meadow(page)).outlines[0].id
  // Rails along the same path, from post to post.
  await plantByHand(page, /^Along a path/, /^Driftwood/)
  await page.keyboard.press('Escape')
  await openFold(page, 'Driftwood', 'Where')
  await page.getByLabel('Lie along a path or a rim that is there').selectOption(path)
  await openFold(page, 'Driftwood', 'How many')
  await type(page, field(page, 'One every'), '2.5')
  await page.locator('.folds').getByLabel('Each stands').selectOption('stretched')
  await openFold(page, 'Driftwood', 'How it stands')
  await page.locator('.folds').getByLabel('Looking').selectOption('right')
  await settled(page)
  const rails = await places(page, 'Driftwood')
  expect(rails.length).toBe(posts.length - 1)
  const [asset] = (await meadow(page)).assets.filter(({ name }) => name === 'Driftwood')
  const [long] = asset.size
  for (const { x, y, z, turn, scale } of rails) {
    const half = new THREE.Vector3((long * scale[0]) / 2, 0, 0).applyQuaternion(new THREE.Quaternion(...turn))
    for (const sign of [-1, 1]) expect(worst([[x + sign * half.x, y + sign * half.y, z + sign * half.z]], posts)).toBeLessThan(5e-3)
  }
  // An avenue: pairs across the path, 6 m apart.
  await plantByHand(page, /^Along a path/, /^Bog birch/)
  await page.keyboard.press('Escape')
  await openFold(page, 'Bog birch', 'Where')
  await page.getByLabel('Lie along a path or a rim that is there').selectOption(path)
  await openFold(page, 'Bog birch', 'How many')
  await page.locator('.folds').getByLabel('Sides').selectOption('both')
  await type(page, field(page, 'Beside the line by'), '3')
  await type(page, field(page, 'One every'), '5')
  await settled(page)
  const trees = await places(page, 'Bog birch')
  expect(trees.length % 2).toBe(0)
  for (const one of trees) expect(Math.min(...trees.filter((other) => other !== one).map((other) => Math.abs(Math.hypot(one.x - other.x, one.z - other.z) - 6)))).toBeLessThan(1e-3)
})
