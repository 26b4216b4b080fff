import { NodeIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS } from '@gltf-transform/extensions'
import { test } from '@playwright/test'
import * as THREE from 'three'
import { expect, handOff, openDemo, openDrawer, openFold, settled, type } from './field.ts'
import { giveFile, places, standBlock, startSmall } from './small-ground.ts'
import { meadow, past, plantByHand, seen, snapTo } from './by-hand.ts'

/** What perches on a mesh, and a model that is changed everywhere at once. */

test.use({ deviceScaleFactor: 1, viewport: { width: 1280, height: 800 } })

test('perched on a mesh: its corners, edges and faces, wherever it is turned and moved to', async ({ page }) => {
  await startSmall(page, '6')
  await standBlock(page)
  await plantByHand(page, /^Perched on a mesh/, /^Lantern/)
  await openFold(page, 'Lantern', 'How many')
  const at = page.locator('.folds').getByRole('combobox', { name: 'At', exact: true })
  const matrix = async () => {
    const { position, turn, size } = (await meadow(page)).meshes[0]
    return new THREE.Matrix4().compose(new THREE.Vector3(...position), new THREE.Quaternion().setFromEuler(new THREE.Euler(...(turn.map((one) => one * THREE.MathUtils.DEG2RAD) as [number, number, number]), 'ZYX')), new THREE.Vector3(size, size, size))
  }
  // A block of 12 × 8 × 12 m that stands on its floor.
  const signs = [-1, 1].flatMap((x) => [0, 8].flatMap((y) => [-1, 1].map((z) => [6 * x, y, 6 * z])))
  const compare = async (wanted: readonly (readonly number[])[]) => {
    const rows = await places(page, 'Lantern')
    expect(rows.length).toBe(wanted.length)
    const by = await matrix()
    for (const [x, y, z] of wanted) {
      const place = new THREE.Vector3(x, y, z).applyMatrix4(by)
      expect(Math.min(...rows.map((row) => place.distanceTo(new THREE.Vector3(row.x, row.y, row.z))))).toBeLessThan(1e-3)
    }
    return rows
  }
  await at.selectOption('corners')
  await settled(page)
  await compare(signs)
  await at.selectOption('the middles of edges')
  await settled(page)
  expect((await places(page, 'Lantern')).length).toBe(12)
  await at.selectOption('the centres of faces')
  await settled(page)
  const faces = [[0, 0, 0], [0, 8, 0], [6, 4, 0], [-6, 4, 0], [0, 4, 6], [0, 4, -6]]
  await compare(faces)
  // The block is turned and sized: they go along, square to its faces.
  await openDrawer(page, 'Ground')
  await page.getByRole('button', { name: 'block', exact: true }).click()
  await type(page, page.getByRole('spinbutton', { name: 'Turn about Y', exact: true }), '25')
  await type(page, page.getByRole('spinbutton', { name: 'Turn about X', exact: true }), '15')
  await type(page, page.getByRole('spinbutton', { name: 'Size of the mesh', exact: true }), '0.5')
  await settled(page)
  const rows = await compare(faces)
  const by = await matrix()
  const ups = rows.map(({ turn: [x, y, z, w] }) => new THREE.Vector3(0, 1, 0).applyQuaternion(new THREE.Quaternion(x, y, z, w)))
  for (const normal of [[0, 1, 0], [0, -1, 0], [1, 0, 0], [-1, 0, 0], [0, 0, 1], [0, 0, -1]]) expect(Math.min(...ups.map((up) => up.distanceTo(new THREE.Vector3(...(normal as [number, number, number])).transformDirection(by))))).toBeLessThan(1e-3)
})

/** A pyramid of six triangles. */
const PYRAMID = 'v -1 0 -1\nv 1 0 -1\nv 1 0 1\nv -1 0 1\nv 0 3 0\nf 1 2 3 4\nf 1 5 2\nf 2 5 3\nf 3 5 4\nf 4 5 1\n'

test('a model that is changed is changed in all that stands of it, in one step', async ({ page }) => {
  await startSmall(page, '6')
  await plantByHand(page, /^In a ring/, /^Groyne post/)
  await settled(page)
  await page.keyboard.press('Escape')
  const before = (await meadow(page)).assets.find(({ name }) => name === 'Groyne post')!
  await openDrawer(page, 'Nursery')
  await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('Groyne')
  await page.getByRole('button', { name: /^Change Groyne post/ }).click()
  await expect(page.getByRole('dialog', { name: 'Change Groyne post' })).toBeVisible()
  await giveFile(page, 'Take another file…', 'pyramid.obj', Buffer.from(PYRAMID))
  await expect(page.getByRole('dialog')).toContainText('6 triangles')
  await page.getByRole('button', { name: 'Change all of it' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Change an asset')
  await settled(page)
  const after = (await meadow(page)).assets.find(({ id }) => id === before.id)!
  expect([after.name, after.number, after.triangles[0]]).toEqual(['Groyne post', before.number, 6])
  expect(after.size[1]).toBeCloseTo(3, 3)
  const document = await new NodeIO().registerExtensions(ALL_EXTENSIONS).readBinary(await handOff(page, 'GLB with plain nodes', 'Groyne post'))
  const meshes = document.getRoot().listNodes().filter((node) => node.getMesh()?.getName().startsWith('Groyne post') || node.getMesh()?.listPrimitives().some((one) => one.getIndices()?.getCount() === 18))
  expect(meshes.length).toBe(9)
  await page.keyboard.press('Control+z')
  await settled(page)
  expect((await meadow(page)).assets.find(({ id }) => id === before.id)).toEqual(before)
})

test('a tint over all of a model is in all that stands of it, can be changed and taken off, and moves nothing', async ({ page }) => {
  await startSmall(page, '6')
  await plantByHand(page, /^In a ring/, /^Groyne post/)
  await settled(page)
  await page.keyboard.press('Escape')
  const own = async () => (await meadow(page)).assets.find(({ name }) => name === 'Groyne post')!
  const before = await own()
  const colours = async () => {
    const document = await new NodeIO().registerExtensions(ALL_EXTENSIONS).readBinary(await handOff(page, 'GLB with plain nodes', 'Groyne post'))
    const all = document.getRoot().listNodes().flatMap((node) => node.getMesh() ?? [])
    // The ground is one of them.
    const meshes = [...new Set(all)].filter((mesh) => all.filter((one) => one === mesh).length === 9)
    expect(meshes.length).toBe(1)
    return meshes.flatMap((mesh) => mesh.listPrimitives().map((one) => one.getMaterial()?.getBaseColorFactor() ?? []))
  }
  const plain = await colours()
  const change = async (tint: string | null) => {
    await openDrawer(page, 'Nursery')
    await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('Groyne')
    await page.getByRole('button', { name: /^Change Groyne post/ }).click()
    const dialog = page.getByRole('dialog', { name: 'Change Groyne post' })
    const field = dialog.getByLabel('Tint over all of it')
    await expect(field).toBeVisible()
    const shown = await field.inputValue()
    if (tint) await field.fill(tint)
    else await dialog.getByRole('button', { name: 'as its file has it' }).click()
    await page.getByRole('button', { name: 'Change all of it' }).click()
    await expect(page.getByRole('dialog')).toHaveCount(0)
    await settled(page)
    return shown
  }
  expect(await change('#ff8080')).toBe('#ffffff')
  const after = await own()
  expect(after.blob).not.toBe(before.blob)
  // Its form, pivot and room are as they were.
  after.size.forEach((value, c) => expect(value).toBeCloseTo(before.size[c], 4))
  after.base.forEach((value, c) => expect(value).toBeCloseTo(before.base[c], 3))
  const tinted = await colours()
  tinted.forEach((factor, k) => [1, 0.2158605, 0.2158605].forEach((by, c) => expect(factor[c]).toBeCloseTo(plain[k][c] * by, 4)))
  expect(await change(null)).toBe('#ff8080')
  ;(await colours()).forEach((factor, k) => factor.forEach((value, c) => expect(value).toBeCloseTo(plain[k][c], 6)))
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await settled(page)
  expect(await own()).toEqual(before)
})

test('a ring stands on the wall of what others keep out of', async ({ page }) => {
  await openDemo(page)
  await settled(page)
  await page.evaluate(() => window.waywardMeadow!.landscape.flyTo({ position: [3, 3.6, 20], target: [15, 2, 14] }))
  await page.waitForTimeout(1500)
  await plantByHand(page, /^In a ring/, /^Lantern/)
  await snapTo(page, 'Centres of faces')
  const hut = (await meadow(page)).meshes.find(({ id }) => id === 'hut')!
  // The middle of the front with the door, which looks to the south of the hut.
  const front = new THREE.Vector3(1.4, 2, 2.07).applyEuler(new THREE.Euler(0, hut.turn[1] * THREE.MathUtils.DEG2RAD, 0)).add(new THREE.Vector3(...hut.position))
  const at = await seen(page, front.x, front.z, front.y)
  await page.mouse.move(...at)
  await expect(page.getByRole('status').filter({ hasText: 'of Fishers’ hut' })).toHaveCount(1)
  await page.mouse.click(...at)
  await expect.poll(async () => (await past(page)).at(-1)).toBe('Stand it elsewhere')
  await page.keyboard.press('Escape')
  await openFold(page, 'Lantern', 'How many')
  await type(page, page.locator('.folds').getByRole('spinbutton', { name: 'Radius', exact: true }), '0.7')
  await openFold(page, 'Lantern', 'How it stands')
  await type(page, page.locator('.folds').getByRole('spinbutton', { name: 'Down to the ground', exact: true }), '0')
  await settled(page)
  const ring = (await meadow(page)).plantings.at(-1)!
  expect([ring.base?.host, ring.habitat.map(({ on }) => on)]).toEqual(['hut', [false]])
  const rows = await places(page, 'Lantern')
  expect(rows.length).toBe(9)
  for (const { x, y, z } of rows) expect(new THREE.Vector3(x, y, z).distanceTo(front)).toBeLessThan(1.2)
})
