import { test } from '@playwright/test'
import { card, countOf, expect, handOff, openDemo, openDrawer, outlines, readCsv, settled } from './field.ts'
import { startSmall, TEST } from './small-ground.ts'

/** Screen places of a hexagon around the middle of the view, clear of the drawers. */
const HEXAGON: readonly [number, number][] = [
  [560, 420],
  [700, 400],
  [830, 440],
  [820, 560],
  [680, 620],
  [540, 540],
]


/** Even–odd test over a polygon x z x z …, written out once more. */
function inside(line: readonly number[], x: number, z: number): boolean {
  let crossings = 0
  for (let i = 0; i < line.length; i += 2) {
    const [ax, az, bx, bz] = [line[i], line[i + 1], line[(i + 2) % line.length], line[(i + 3) % line.length]]
    if (az > z !== bz > z && x < ((bx - ax) * (z - az)) / (bz - az) + ax) crossings++
  }
  return crossings % 2 === 1
}

test('a patch is drawn by clicks, and a planting grows inside it only', async ({ page }) => {
  await startSmall(page)
  const before = await countOf(page, TEST)
  await page.keyboard.press('d')
  for (const [x, y] of HEXAGON) await page.mouse.click(x, y)
  await page.mouse.click(...HEXAGON[0])
  const [patch] = (await outlines(page)).slice(-1)
  expect(patch.kind).toBe('patch')
  expect(patch.lines[0].length).toBe(12)

  await page.getByRole('button', { name: `What to do with ${patch.name}` }).click()
  await page.getByRole('menuitem', { name: `${TEST} grows inside only` }).click()
  await settled(page)
  await openDrawer(page, 'Plantings')
  const sentence = card(page, TEST).locator('.sentence')
  await expect(sentence).toContainText('inside')
  const within = await countOf(page, TEST)
  expect(within).toBeGreaterThan(0)
  expect(within).toBeLessThan(before)
  const grass = readCsv(await handOff(page, 'Table (CSV)')).filter(({ planting }) => planting === TEST)
  expect(grass.length).toBe(within)
  for (const { numbers } of grass) expect(inside(patch.lines[0], numbers[0], numbers[2])).toBe(true)

  // The other side, chosen in the sentence: together they are all there was.
  await sentence.getByRole('button', { name: 'Grow: inside' }).click()
  await settled(page)
  expect((await countOf(page, TEST)) + within).toBe(before)
})

test('points are moved by pointer and by key, put in and taken out, and every step can be taken back', async ({ page }) => {
  await startSmall(page)
  await page.keyboard.press('Shift+D')
  for (const [x, y] of HEXAGON.slice(0, 4)) await page.mouse.click(x, y)
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Enter')
  const drawn = (await outlines(page)).at(-1)!
  expect(drawn.kind).toBe('path')
  expect(drawn.lines[0].length).toBe(6)
  const latest = async () => (await outlines(page)).at(-1)!.lines[0]

  await page.mouse.move(...HEXAGON[1])
  await page.mouse.down()
  await page.mouse.move(720, 480, { steps: 5 })
  await page.mouse.up()
  const moved = await latest()
  expect(Math.hypot(moved[2] - drawn.lines[0][2], moved[3] - drawn.lines[0][3])).toBeGreaterThan(3)
  expect(moved.slice(0, 2)).toEqual(drawn.lines[0].slice(0, 2))

  await page.getByRole('button', { name: /^Point 1 of/ }).focus()
  await page.keyboard.press('ArrowRight')
  expect((await latest())[0]).toBeCloseTo(moved[0] + 0.5, 6)
  await page.getByRole('button', { name: 'Add a point after point 2' }).click()
  expect((await latest()).length).toBe(8)
  await page.getByRole('button', { name: /^Point 3 of/ }).focus()
  await page.keyboard.press('Delete')
  expect((await latest()).length).toBe(6)
  for (let k = 0; k < 4; k++) await page.keyboard.press('Control+z')
  expect(await latest()).toEqual(drawn.lines[0])
})

test('a freehand line is thinned out and smooth; a removed patch is named by the planting that used it', async ({ page }) => {
  await startSmall(page)
  await page.keyboard.press('d')
  await page.mouse.move(760, 500)
  await page.mouse.down()
  for (let k = 1; k <= 60; k++) await page.mouse.move(660 + 100 * Math.cos(k / 9.7), 500 + 70 * Math.sin(k / 9.7))
  await page.mouse.up()
  const patch = (await outlines(page)).at(-1)!
  expect(patch.smooth).toBe(true)
  expect(patch.lines[0].length / 2).toBeGreaterThan(6)
  expect(patch.lines[0].length / 2).toBeLessThan(40)

  await openDrawer(page, 'Plantings')
  await page.getByRole('button', { name: 'Add a condition' }).click()
  await page.getByRole('menuitem', { name: 'Patch', exact: true }).click()
  await card(page, TEST).getByRole('combobox', { name: 'Patch' }).selectOption(patch.name)
  await settled(page)
  const stood = await countOf(page, TEST)
  await openDrawer(page, 'Outlines')
  await page.getByRole('button', { name: `What to do with ${patch.name}` }).click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await openDrawer(page, 'Plantings')
  await expect(card(page, TEST)).toContainText('names a patch that is gone')
  expect(await countOf(page, TEST)).toBe(stood)
  await page.getByRole('button', { name: 'Bring it back' }).click()
  await expect(card(page, TEST)).not.toContainText('is gone')
})

test('outlines come in as GeoJSON and go out as SVG, in metres', async ({ page }) => {
  await openDemo(page)
  await openDrawer(page, 'Outlines')
  const before = (await outlines(page)).length
  const file = {
    type: 'FeatureCollection',
    features: [
      { type: 'Feature', properties: { name: 'Fold' }, geometry: { type: 'Polygon', coordinates: [[[10, 20], [40, 20], [40, 60], [10, 20]]] } },
      { type: 'Feature', properties: { name: 'Ditch', width: 4 }, geometry: { type: 'LineString', coordinates: [[-50, -10], [-20, 5]] } },
    ],
  }
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in outlines (GeoJSON, SVG)' }).click()
  await (await chooser).setFiles({ name: 'fold.geojson', mimeType: 'application/geo+json', buffer: Buffer.from(JSON.stringify(file)) })
  await expect(page.getByText('2 outlines are brought in')).toBeVisible()
  await expect(page.getByText('600 m², 3 points')).toBeVisible()
  const [fold, ditch] = (await outlines(page)).slice(-2)
  expect(fold).toMatchObject({ kind: 'patch', name: 'Fold', lines: [[10, -20, 40, -20, 40, -60]] })
  expect(ditch).toMatchObject({ kind: 'path', name: 'Ditch', width: 4, closed: false })

  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Take the outlines out as a file' }).click()
  await page.getByRole('menuitem', { name: 'SVG paths' }).click()
  const stream = await (await download).createReadStream()
  const pieces: Buffer[] = []
  for await (const piece of stream) pieces.push(piece as Buffer)
  const svg = Buffer.concat(pieces).toString('utf8')
  expect(svg).toContain('viewBox="-200 -200 400 400"')
  expect(svg).toContain('<path id="Fold" d="M10,-20L40,-20L40,-60Z"')

  const second = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in outlines (GeoJSON, SVG)' }).click()
  await (await second).setFiles({ name: 'bad.geojson', mimeType: 'application/geo+json', buffer: Buffer.from('{"type":"Polygon","coordinates":[[[0,0],[1,1],[0,0]]]}') })
  await expect(page.getByText('a patch needs at least 3')).toBeVisible()
  expect((await outlines(page)).length).toBe(before + 2)
})
