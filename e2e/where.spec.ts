import { NodeIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS } from '@gltf-transform/extensions'
import { test } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { Matrix4, Triangle, Vector3 } from 'three'
import { heightAt } from '../src/core/grounds/terrain.ts'
import { slopeAt } from '../src/core/grounds/pick.ts'
import { clarkEvans } from '../src/testing/estimators.ts'
import { card, choose, countOf, expect, handOff, openDrawer, openFold, settled, type } from './field.ts'
import type { Place } from './small-ground.ts'
import { add, clear, giveFile, heightOf, inFolds, orange, places, startSmall, terrain, TEST } from './small-ground.ts'

const near = (value: number, low: number, high: number, slack = 0.02) => value >= low - slack && value <= high + slack

test('conditions of the ground are set by hand and read out of the table', async ({ page }) => {
  test.setTimeout(400_000)
  await startSmall(page)
  const all = await places(page)
  expect(all.length).toBeGreaterThan(1000)

  await add(page, 'Formula')
  const text = page.getByRole('textbox', { name: 'Formula' })
  await text.fill('height > 6 && x > z')
  let rows = await places(page)
  expect(rows.length).toBeGreaterThan(50)
  expect(rows.every(({ x, z }) => x > z - 1e-3 && heightAt(terrain, x, z) > 6 - 1e-3)).toBe(true)
  await text.fill('height > ')
  await expect(page.locator('.formula').getByRole('alert')).toContainText('cannot be read')
  await text.fill('sqrt(x)')
  await settled(page)
  await expect(card(page, TEST).getByRole('status')).toContainText('gives no number')
  await clear(page)

  const spans: readonly (readonly [condition: string, field: string, low: string, high: string, of: (row: Place) => number])[] = [
    ['Slope', 'Slope', '10', '40', ({ x, z }) => slopeAt(terrain, x, z)],
    ['Height', 'Height', '3', '9', ({ x, z }) => heightAt(terrain, x, z)],
    ['Height above water', 'Above the water', '4', '8', ({ x, z }) => heightAt(terrain, x, z) + 1],
  ]
  for (const [condition, field, low, high, of] of spans) {
    await add(page, condition)
    await type(page, inFolds(page, `${field}, from`), low)
    await type(page, inFolds(page, `${field}, to`), high)
    rows = await places(page)
    expect(rows.length).toBeGreaterThan(50)
    expect(rows.length).toBeLessThan(all.length)
    expect(rows.filter((row) => !near(of(row), Number(low), Number(high), 0.06))).toEqual([])
    await clear(page)
  }

  // The other way round what was fully taken is refused.
  await add(page, 'Height')
  await type(page, inFolds(page, 'Height, from'), '6')
  await page.getByRole('button', { name: 'Height: not, the other way round' }).click()
  await expect(card(page, TEST).locator('.sentence')).toContainText('not ')
  rows = await places(page)
  expect(rows.length).toBeGreaterThan(100)
  expect(Math.max(...rows.map(({ x, z }) => heightAt(terrain, x, z)))).toBeLessThan(8)
  await clear(page)

  // Towards the east the ground rises: only the backs of the waves look down to the north.
  await add(page, 'Facing')
  await type(page, inFolds(page, 'Towards'), '0')
  rows = await places(page)
  expect(rows.length).toBeGreaterThan(50)
  expect(rows.filter(({ x, z }) => heightOf(x, z - 0.5) > heightOf(x, z + 0.5) + 1e-3)).toEqual([])
  await clear(page)

  await add(page, 'Hollow or ridge')
  await type(page, inFolds(page, 'Above its surroundings, to'), '-1')
  rows = await places(page)
  expect(rows.length).toBeGreaterThan(20)
  // Near the rim the surroundings are lopsided.
  expect(rows.filter(({ x, z }) => Math.abs(x) < 34 && Math.abs(z) < 34 && Math.sin(z / 7) > 0)).toEqual([])
  await clear(page)

  await openDrawer(page, 'Ground')
  await type(page, page.getByRole('spinbutton', { name: 'Water level' }), '4')
  await openDrawer(page, 'Plantings')
  await add(page, 'Distance to water')
  await type(page, inFolds(page, 'From the shoreline, from'), '2')
  await type(page, inFolds(page, 'From the shoreline, to'), '6')
  rows = await places(page)
  expect(rows.length).toBeGreaterThan(50)
  expect(rows.filter(({ x, z }) => heightAt(terrain, x, z) < 4 - 1e-3)).toEqual([])
  await clear(page)

  await add(page, 'Patchiness')
  rows = await places(page)
  // Half of the ground lies in patches, whose rims thin out.
  expect(rows.length / all.length).toBeGreaterThan(0.35)
  expect(rows.length / all.length).toBeLessThan(0.65)
  await clear(page)

  await add(page, 'View')
  const seen = (await places(page)).length
  expect(seen).toBeGreaterThan(50)
  await type(page, inFolds(page, 'Farthest'), '40')
  const eye = await page.evaluate(() => window.waywardMeadow!.session.store.getState().history.meadow.views[0].position)
  rows = await places(page)
  expect(rows.length).toBeLessThan(seen)
  expect(rows.every(({ x, y, z }) => Math.hypot(x - eye[0], y - eye[1], z - eye[2]) < 41)).toBe(true)
})

test('patches, paths, images, other plantings and obstacles: set by hand, read out of the table', async ({ page }) => {
  test.setTimeout(400_000)
  await startSmall(page)

  // A photograph whose western half is white.
  const side = 64
  const jpeg = await page.evaluate(async (width) => {
    const canvas = document.createElement('canvas')
    canvas.width = canvas.height = width
    const context = canvas.getContext('2d')
    if (!context) throw new Error('there is no canvas')
    context.fillStyle = '#000000'
    context.fillRect(0, 0, width, width)
    context.fillStyle = '#ffffff'
    context.fillRect(0, 0, width / 2, width)
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/jpeg', 0.95))
    return [...new Uint8Array((await blob?.arrayBuffer()) ?? new ArrayBuffer(0))]
  }, side)
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Lay an image over the ground (PNG, JPEG)', 'halves.jpg', Buffer.from(jpeg))
  await expect(page.getByText('lies over the whole ground now')).toBeVisible()
  await openDrawer(page, 'Plantings')
  await add(page, 'Image')
  let rows = await places(page)
  expect(rows.length).toBeGreaterThan(200)
  expect(Math.max(...rows.map(({ x }) => x))).toBeLessThan(100 / side)
  await clear(page)

  // A second planting below, near the first, then away from it.
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '14')
  await openDrawer(page, 'Nursery')
  await page.getByRole('button', { name: 'Spread Thrift' }).click()
  await openFold(page, 'Thrift', 'Where')
  await type(page, card(page, 'Thrift').getByRole('spinbutton', { name: 'Spacing' }), '1')
  await add(page, 'Another planting')
  await type(page, inFolds(page, 'Distance'), '4')
  await settled(page)
  const shrubs = await places(page)
  const nearest = ({ x, z }: Place) => Math.min(...shrubs.map((one) => Math.hypot(one.x - x, one.z - z)))
  rows = await places(page, 'Thrift')
  expect(rows.length).toBeGreaterThan(500)
  expect(Math.min(...rows.map(nearest))).toBeGreaterThan(4 * 0.8 - 0.01)
  await page.locator('.folds').getByRole('combobox', { name: 'Grows', exact: true }).selectOption('near')
  rows = await places(page, 'Thrift')
  expect(rows.length).toBeGreaterThan(50)
  expect(Math.max(...rows.map(nearest))).toBeLessThan(4.01)
  // Moved above, it would have to wait for what grows after it.
  await card(page, 'Thrift').getByRole('button', { name: 'Thrift', exact: true }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await settled(page)
  await expect(card(page, 'Thrift').getByRole('status')).toContainText(`names “${TEST}”, which grows after it; move “${TEST}” above it`)
  await page.keyboard.press('Alt+ArrowDown')
  await clear(page)

  // A box of 8 × 4 × 8 m in the middle, an obstacle.
  const corners = Array.from({ length: 8 }, (_, i) => `v ${i & 1 ? 4 : -4} ${i & 2 ? 4 : 0} ${i & 4 ? 4 : -4}`)
  const faces = ['1 5 7 3', '2 4 8 6', '1 2 6 5', '3 7 8 4', '1 3 4 2', '5 6 8 7'].map((face) => `f ${face}`)
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Bring in a mesh to stand here (GLB, glTF, OBJ, PLY, STL)', 'box.obj', Buffer.from([...corners, ...faces].join('\n')))
  const sheet = page.getByRole('dialog')
  await sheet.getByRole('combobox', { name: 'It is' }).selectOption('obstacle')
  await sheet.getByRole('button', { name: 'Stand it in the meadow' }).click({ timeout: 60_000 })
  await expect(page.getByRole('dialog')).toHaveCount(0)
  for (const [axis, value] of [['X', '0'], ['Y', '4'], ['Z', '0']]) await type(page, page.getByRole('spinbutton', { name: `Place along ${axis}` }), value)
  await openDrawer(page, 'Plantings')
  await add(page, 'Obstacle')
  await type(page, inFolds(page, 'Margin'), '1')
  rows = await places(page, 'Thrift')
  const clearOf = ({ x, z }: Place) => Math.hypot(Math.max(0, Math.abs(x) - 4), Math.max(0, Math.abs(z) - 4))
  // The ground lies between 2 and 10 m there: where it passes below the box, less than a metre high, nothing stands either.
  const beside = rows.filter(({ x, z }) => heightOf(x, z) > 3 && heightOf(x, z) < 8)
  expect(beside.length).toBeGreaterThan(200)
  expect(Math.min(...beside.map(clearOf))).toBeGreaterThan(0.96)
  // All is there again after a reload.
  await page.reload()
  await settled(page)
  expect(await countOf(page, 'Thrift')).toBe(rows.length)
})

test('conditions are combined, moved, copied, kept and shown on the ground', async ({ page }) => {
  test.setTimeout(400_000)
  await startSmall(page)
  const folds = page.locator('.folds')
  const titles = () => folds.locator('.condition legend label').allInnerTexts()
  await add(page, 'Height')
  await type(page, inFolds(page, 'Height, from'), '8')
  await add(page, 'Formula')
  await page.getByRole('textbox', { name: 'Formula' }).fill('x < 0')
  await settled(page)
  const both = await countOf(page, TEST)
  await folds.getByRole('checkbox', { name: 'Formula on' }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  expect(await titles()).toEqual(['Formula', 'Height'])
  await folds.getByRole('combobox', { name: 'How the conditions go together' }).selectOption('any')
  const rows = await places(page)
  expect(rows.length).toBeGreaterThan(both)
  expect(rows.every(({ x, z }) => x < 1e-3 || heightAt(terrain, x, z) > 8 - 1e-3)).toBe(true)
  await page.locator('.picture').focus()
  await page.keyboard.press('Control+z')
  await settled(page)
  expect(await countOf(page, TEST)).toBe(both)

  await choose(page, folds.getByRole('button', { name: 'Keep this habitat, or take a kept one' }), 'Keep this habitat')
  await folds.getByRole('button', { name: 'Copy all conditions' }).click()
  await openDrawer(page, 'Nursery')
  await page.getByRole('button', { name: 'Spread Thrift' }).click()
  await openFold(page, 'Thrift', 'Where')
  await folds.getByRole('button', { name: 'Paste the copied conditions' }).click()
  expect(await titles()).toEqual(['Formula', 'Height'])
  const kept = folds.getByRole('button', { name: 'Keep this habitat, or take a kept one' })
  await choose(page, kept, `Rename “${TEST}”`)
  const name = page.getByRole('textbox', { name: 'Name of the kept habitat' })
  await name.fill('Dry west')
  await name.press('Enter')
  await choose(page, kept, 'Take “Dry west” (2)')
  expect(await titles()).toEqual(['Formula', 'Height'])

  // The tint: orange where the habitat takes the ground.
  const plain = await orange(page)
  await folds.getByRole('button', { name: 'Formula: show it on the ground' }).click()
  const tinted = await orange(page)
  console.log(`orange: ${(100 * plain).toFixed(2)} % of the page, under the tint ${(100 * tinted).toFixed(2)} %`)
  expect(tinted).toBeGreaterThan(plain + 0.005)
  await page.locator('.picture').focus()
  await page.keyboard.press('Escape')
  expect(await orange(page)).toBeLessThan(plain + 0.002)
})

test('drivers, a beacon and the dial of arrangement: set by hand, moved by key, read out of the table', async ({ page }) => {
  test.setTimeout(400_000)
  await startSmall(page, '1.2')
  await page.getByRole('button', { name: 'How it stands', exact: true }).click()
  await type(page, inFolds(page, 'Size, from'), '1')
  await type(page, inFolds(page, 'Size, to'), '1')
  const addDriver = (name: string) => choose(page, page.getByRole('button', { name: 'Add a driver' }), name)
  await addDriver('Height')
  const first = page.getByRole('group', { name: 'Size by height' })
  await type(page, first.getByRole('spinbutton', { name: 'Height, first value' }), '0')
  await type(page, first.getByRole('spinbutton', { name: 'Height, second value' }), '8')
  await type(page, first.getByRole('spinbutton', { name: 'Size at the first value' }), '0.5')
  await type(page, first.getByRole('spinbutton', { name: 'Size at the second value' }), '2')
  const off = (await places(page)).map(({ x, z, size }) => Math.abs(size - 0.5 - 1.5 * Math.min(1, Math.max(0, heightAt(terrain, x, z) / 8))))
  expect(off.length).toBeGreaterThan(500)
  expect(Math.max(...off)).toBeLessThan(2e-3)
  await page.getByRole('button', { name: 'Remove the driver height' }).click()

  await openDrawer(page, 'Beacons')
  await page.getByRole('button', { name: 'Set a beacon', exact: true }).click()
  await type(page, page.getByRole('spinbutton', { name: 'Reach' }), '12')
  await addDriver('Nearness to a beacon')
  await page.getByRole('group', { name: /by nearness to a beacon/ }).getByRole('combobox', { name: 'What it changes' }).selectOption('tint')
  const beacon = () => page.evaluate(() => window.waywardMeadow!.session.store.getState().history.meadow.beacons[0])
  const check = async () => {
    const { x: bx, z: bz, reach } = await beacon()
    const rows = await places(page)
    const away = ({ x, z }: Place) => Math.hypot(x - bx, z - bz)
    // Out of reach nothing is changed; near by, all are on the way to the second colour.
    expect(rows.filter((row) => away(row) > reach && row.tint !== '#ffffffff')).toEqual([])
    const close = rows.filter((row) => away(row) < reach / 3)
    expect(close.length).toBeGreaterThan(5)
    expect(close.filter(({ tint }) => tint === '#ffffffff')).toEqual([])
  }
  await check()
  await page.getByRole('button', { name: 'Beacon 1: drag it, or move it by the arrow keys' }).focus()
  const from = await beacon()
  for (let i = 0; i < 3; i++) await page.keyboard.press('Alt+ArrowLeft')
  expect((await beacon()).x).toBeCloseTo(from.x - 15, 2)
  await check()
  // By pointer: dragged a little to the side.
  const box = await page.getByRole('button', { name: 'Beacon 1: drag it, or move it by the arrow keys' }).boundingBox()
  if (!box) throw new Error('the beacon is not to be seen')
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x + 60, box.y + 20, { steps: 5 })
  await page.mouse.up()
  expect((await beacon()).x).not.toBeCloseTo(from.x - 15, 1)
  await page.keyboard.press('Control+z')
  expect((await beacon()).x).toBeCloseTo(from.x - 15, 2)

  // As in nature, from in groups to regular: the mean way to the nearest grows.
  await openDrawer(page, 'Plantings')
  await page.getByRole('button', { name: 'How many', exact: true }).click()
  await type(page, inFolds(page, 'Space kept around it'), '0')
  await page.locator('.folds').getByRole('combobox', { name: 'Placed' }).selectOption('natural')
  const index = async (preset: string) => {
    await page.locator('.folds').getByRole('combobox', { name: 'Arrangement, ready-made' }).selectOption({ label: preset })
    const points = (await places(page)).map(({ x, z }): [number, number] => [x, z])
    return clarkEvans(points, 100, 6)
  }
  // Some 4,300 points: three standard errors are 0.025, more where they gather.
  expect(Math.abs((await index('in groups')) - 0.75)).toBeLessThan(0.08)
  expect(Math.abs((await index('regular')) - 1.3)).toBeLessThan(0.08)
})

test('a mesh is brought in, stood in the meadow, grown on all over, moved with its plants and handed off', async ({ page }) => {
  test.setTimeout(400_000)
  await startSmall(page)
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Bring in a mesh to stand here (GLB, glTF, OBJ, PLY, STL)', 'Fan.glb', readFileSync('src/testing/fixtures/fandisk.glb'))
  await page.getByRole('dialog').getByRole('button', { name: 'Stand it in the meadow' }).click({ timeout: 60_000 })
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Fan', exact: true })).toBeVisible()
  await type(page, page.getByRole('spinbutton', { name: 'Size of the mesh' }), '4')
  await openDrawer(page, 'Plantings')
  await page.locator('.grounds').getByRole('checkbox', { name: 'Fan' }).check()
  await page.locator('.grounds').getByRole('checkbox', { name: 'the terrain' }).uncheck()
  await page.locator('.folds').getByRole('combobox', { name: 'On a mesh' }).selectOption('all-over')
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), '0.4')
  await page.getByRole('button', { name: 'How many', exact: true }).click()
  await type(page, inFolds(page, 'Space kept around it'), '0')
  // Seated by the base they would sink in beside sharp edges, each along its own up.
  await page.getByRole('button', { name: 'How it stands', exact: true }).click()
  await page.locator('.folds').getByRole('combobox', { name: 'Rests on' }).selectOption('centre')
  const before = await places(page)
  expect(before.length).toBeGreaterThan(30)
  let least = Infinity
  before.forEach((a, i) => before.slice(i + 1).forEach((b) => (least = Math.min(least, Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z)))))
  expect(least).toBeGreaterThanOrEqual(0.4 * (1 - 1e-4))

  await openDrawer(page, 'Ground')
  await page.getByRole('button', { name: 'Fan', exact: true }).click()
  const was = await page.evaluate(() => window.waywardMeadow!.session.store.getState().history.meadow.meshes[0].position[0])
  await type(page, page.getByRole('spinbutton', { name: 'Place along X' }), String(was + 10))
  const after = await places(page)
  expect(after.length).toBe(before.length)
  expect(Math.max(...after.map((row, i) => Math.abs(row.x - before[i].x - 10) + Math.abs(row.z - before[i].z) + Math.abs(row.y - before[i].y)))).toBeLessThan(2e-3)
  const glb = await handOff(page, 'GLB with instancing', TEST)
  const json = JSON.parse(glb.subarray(20, 20 + glb.readUInt32LE(12)).toString()) as { nodes: { name: string }[] }
  expect(json.nodes.map(({ name }) => name)).toContain('Fan')
  await page.reload()
  await settled(page)
  expect(await countOf(page, TEST)).toBe(before.length)

  // The terrain as well, the mesh holding first: every instance stands on one of the two as they were handed off.
  await openFold(page, TEST, 'Where')
  await page.locator('.grounds').getByRole('checkbox', { name: 'the terrain' }).check()
  await expect(card(page, TEST).locator('.sentence')).toContainText('on Fan and the terrain')
  const both = await places(page)
  expect(both.length).toBeGreaterThan(5000)
  const away = await distanceToMesh(await handOff(page, 'GLB with instancing', TEST), 'Fan')
  const onMesh = both.filter((row) => Math.abs(row.y - heightAt(terrain, row.x, row.z)) > 2e-3)
  expect(onMesh.length).toBeGreaterThan(0.8 * before.length)
  for (const { x, y, z } of onMesh) expect(away(x, y, z)).toBeLessThan(2e-3)

  // The terrain first: what of the mesh lies under the ground bears nothing any more.
  await openFold(page, TEST, 'Where')
  await page.getByRole('button', { name: 'Let the terrain hold before Fan' }).click()
  const turned = await places(page)
  expect(turned.every((row) => row.y > heightAt(terrain, row.x, row.z) - 2e-3)).toBe(true)
  expect(turned.length).toBeLessThan(both.length + before.length)
})

/** How far a place is from a mesh of a file that was handed off, m, as other libraries read it and by trying every triangle. */
async function distanceToMesh(glb: Buffer, name: string): Promise<(x: number, y: number, z: number) => number> {
  const document = await new NodeIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb)
  const node = document.getRoot().listNodes().find((one) => one.getName() === name)
  const matrix = new Matrix4().fromArray(node!.getWorldMatrix())
  const triangles = node!.getMesh()!.listPrimitives().flatMap((primitive) => {
    const positions = primitive.getAttribute('POSITION')!
    const corner = (k: number) => new Vector3().fromArray(positions.getElement(primitive.getIndices()?.getScalar(k) ?? k, [0, 0, 0])).applyMatrix4(matrix)
    return Array.from({ length: (primitive.getIndices() ?? positions).getCount() / 3 }, (_, t) => new Triangle(corner(3 * t), corner(3 * t + 1), corner(3 * t + 2)))
  })
  return (x, y, z) => {
    const place = new Vector3(x, y, z)
    const nearest = new Vector3()
    return Math.min(...triangles.map((one) => one.closestPointToPoint(place, nearest).distanceTo(place)))
  }
}
