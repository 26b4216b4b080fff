import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { lengthOf } from '../src/core/long-list.ts'
import { countActs, middleOf, tabTo } from './acts.ts'
import { card, choose, countOf, expect, openDrawer, openFold, settled, type } from './field.ts'
import { GRID, giveFile, heightOf, inFolds, places, standBlock, startSmall, TEST } from './small-ground.ts'

/** Ten tasks as a newcomer does them, with the clicks that they take; none may take more. */
const MOST_CLICKS = 25

const past = (page: Page) => page.evaluate(() => window.waywardMeadow?.session.store.getState().history.past.map(({ name }) => name) ?? [])
const meadow = (page: Page) => page.evaluate(() => window.waywardMeadow!.session.meadow())
const condition = (page: Page, name: string) => choose(page, page.getByRole('button', { name: 'Add a condition', exact: true }), name)

/** Where the instances of a planting stand, as the picture has them: no click is needed to know. */
const standing = (page: Page, name: string) =>
  page.evaluate((wanted) => {
    const { session } = window.waywardMeadow!
    const id = session.meadow().plantings.find((one) => one.name === wanted)?.id ?? ''
    return [...(session.instances.tiles.get(id)?.values() ?? [])].flatMap(({ block }) => Array.from({ length: block.count }, (_, i) => ({ x: block.position[3 * i], y: block.position[3 * i + 1] })))
  }, name)

/** Chooses an asset in the open chooser and lets it grow. */
async function plant(page: Page, asset: RegExp): Promise<void> {
  await page.getByRole('radio', { name: asset }).click()
  await page.getByRole('button', { name: 'Let it grow' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
}

test('a shore with trees, shrubs and grass', async ({ page }) => {
  const acts = await countActs(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'New meadow', exact: true }).click()
  await page.waitForURL(/\/field\//)
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  // The focus is in the picture, so that keys go somewhere.
  await expect(page.locator('.picture')).toBeFocused()
  await expect(page.getByText('Nothing grows here yet. Press A')).toBeVisible()
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Bring in a height file', 'waves.asc', Buffer.from(GRID))
  await page.getByRole('button', { name: 'Use this ground' }).click()
  await page.getByText('Show the water').click()
  await type(page, page.getByRole('spinbutton', { name: 'Water level' }), '4')
  await expect(page.getByText(/^\d+ % of the ground is under water\.$/)).toBeVisible()
  for (const [asset, kind] of [[/pine/i, 'Height above water'], [/Thorn/, 'Height above water'], [/^Saltmarsh/, 'Height above water']] as const) {
    await page.keyboard.press('a')
    await plant(page, asset)
    await condition(page, kind)
  }
  await settled(page)
  expect((await acts.tell('a shore')).clicks).toBeLessThanOrEqual(MOST_CLICKS)
  for (const name of ['Wind-bent pine', 'Thorn shrub', 'Saltmarsh grass']) {
    expect(await countOf(page, name)).toBeGreaterThan(20)
    expect((await places(page, name)).reduce((lowest, { x, z }) => Math.min(lowest, heightOf(x, z)), Infinity)).toBeGreaterThan(3.9)
  }
})

test('a patch to keep out of, and stones along a path that is drawn when it is asked for', async ({ page }) => {
  await startSmall(page)
  const acts = await countActs(page)
  await page.keyboard.press('d')
  for (const [x, y] of [[560, 480], [760, 470], [780, 620], [540, 630], [560, 480]]) await page.mouse.click(x, y)
  await choose(page, page.getByRole('button', { name: 'What to do with Patch 1' }), `${TEST} keeps out`)
  await page.keyboard.press('a')
  await plant(page, /^Shingle/)
  await condition(page, 'Distance to a path')
  await settled(page)
  // It grows all over as long as there is none, and says so.
  await expect(card(page, 'Shingle stones').getByRole('status')).toContainText('names no path yet, so it changes nothing')
  await page.getByRole('button', { name: 'Draw a path' }).last().click()
  for (const [x, y] of [[420, 560], [640, 590], [880, 540]]) await page.mouse.click(x, y)
  await page.keyboard.press('Enter')
  await expect(page.getByText('“Shingle stones” waited for it: “Path 1” is taken.')).toBeVisible()
  await openDrawer(page, 'Plantings')
  await expect(card(page, 'Shingle stones').locator('.sentence')).toContainText('within 3 m of')
  const { clicks } = await acts.tell('a patch and a path')
  expect(clicks).toBeLessThanOrEqual(MOST_CLICKS)

  // The path itself is taken in, and it can thin out all the way.
  await page.locator('.folds').getByRole('combobox', { name: 'Thins out' }).selectOption('straight')
  await settled(page)
  const { outlines } = await meadow(page)
  const line = outlines.find(({ kind }) => kind === 'path')?.lines[0] as unknown as number[]
  const away = ({ x, z }: { x: number; z: number }) => {
    let nearest = Infinity
    for (let i = 0; i + 3 < line.length; i += 2) {
      const [ax, az, bx, bz] = line.slice(i, i + 4)
      const t = Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (z - az) * (bz - az)) / ((bx - ax) ** 2 + (bz - az) ** 2)))
      nearest = Math.min(nearest, Math.hypot(x - ax - t * (bx - ax), z - az - t * (bz - az)))
    }
    return nearest - 1
  }
  const stones = (await places(page, 'Shingle stones')).map(away)
  expect(stones.length).toBeGreaterThan(30)
  expect(Math.max(...stones)).toBeLessThan(3.001)
  // As many to a metre of breadth near it as two metres off, several times over.
  expect(stones.filter((d) => d < 0).length / 2).toBeGreaterThan(1.5 * stones.filter((d) => d > 2).length)
})

test('a mix: shares stay as they are typed, their counts beside them; a preference empties nothing', async ({ page }) => {
  await startSmall(page, '1')
  const acts = await countActs(page)
  await openFold(page, TEST, 'What')
  for (const asset of ['Marram', 'Reed']) {
    await page.getByRole('combobox', { name: 'Add to the mix' }).click()
    await page.getByRole('combobox', { name: 'Add to the mix' }).selectOption({ label: asset })
    acts.chosen()
  }
  for (const [asset, share] of [[TEST, '60'], ['Marram', '30'], ['Reed', '10']]) await type(page, inFolds(page, `Share of ${asset}`), share)
  for (const [asset, share] of [[TEST, '60'], ['Marram', '30'], ['Reed', '10']]) await expect(inFolds(page, `Share of ${asset}`)).toHaveText(share)
  await settled(page)
  const counts = async () => (await page.getByTestId('mix-count').allInnerTexts()).map((text) => Number(text.replace(/\D/g, '')))
  await expect(page.getByTestId('mix-count')).toHaveCount(3)
  const [a, b, c] = await counts()
  const all = a + b + c
  // Three standard errors of the counts.
  for (const [count, share] of [[a, 0.6], [b, 0.3], [c, 0.1]]) expect(Math.abs(count / all - share)).toBeLessThan(3 * Math.sqrt((share * (1 - share)) / all))

  await page.getByRole('combobox', { name: 'Where Reed prefers to be' }).selectOption('height')
  acts.chosen()
  await type(page, inFolds(page, 'Height, from'), '500')
  await settled(page)
  const [, , few] = await counts()
  expect(few).toBeGreaterThan(0)
  expect((await counts()).reduce((sum, count) => sum + count, 0)).toBe(all)
  // There only: then none, and it says so.
  await type(page, inFolds(page, 'How much of Reed grows elsewhere'), '0')
  await expect(page.getByText(/None came out: what it prefers, “height”, holds nowhere/)).toBeVisible()

  // The border of the bar, by pointer.
  const border = page.getByRole('slider', { name: `Border between ${TEST} and Marram` })
  await border.evaluate((one) => one.scrollIntoView({ block: 'center' }))
  const [x, y] = await middleOf(border)
  const before = (await past(page)).length
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let k = 1; k <= 6; k++) await page.mouse.move(x - 8 * k, y)
  await page.mouse.up()
  expect((await past(page)).length).toBe(before + 1)
  const [{ mix }] = (await meadow(page)).plantings
  expect(mix[0].share).toBeLessThan(50)
  expect(mix[0].share + mix[1].share).toBeCloseTo(90, 1)
  expect(mix[2].share).toBe(10)
  expect((await acts.tell('a mix')).clicks).toBeLessThanOrEqual(MOST_CLICKS)
})

test('work in the list: renamed, locked, dragged to the first place, taken back by key', async ({ page }) => {
  await startSmall(page)
  const acts = await countActs(page)
  for (const asset of [/^Marram/, /^Thrift/]) {
    await page.keyboard.press('a')
    await plant(page, asset)
  }
  // The whole name is chosen at once, and the focus comes back to it.
  await card(page, 'Marram').getByRole('button', { name: 'Marram', exact: true }).dblclick()
  await page.keyboard.type('Dune grass')
  await page.keyboard.press('Enter')
  await expect(card(page, 'Dune grass').getByRole('button', { name: 'Dune grass', exact: true })).toBeFocused()
  await choose(page, page.getByRole('button', { name: 'What to do with Dune grass' }), 'Lock')
  // While the menu still closes.
  await page.keyboard.press('Control+z')
  await expect(card(page, 'Dune grass').getByRole('button', { name: /^Locked/ })).toHaveCount(0)
  await page.keyboard.press('Control+Shift+z')
  await expect(card(page, 'Dune grass').getByRole('button', { name: /^Locked/ })).toBeVisible()
  // The first card is open, and tall.
  await card(page, TEST).getByRole('button', { name: TEST, exact: true }).click()
  const [x, y] = await middleOf(card(page, 'Thrift').locator('.grip'))
  const [, top] = await middleOf(card(page, TEST).locator('.grip'))
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let k = 1; k <= 10; k++) await page.mouse.move(x, y + ((top - y) * k) / 10)
  await page.waitForTimeout(250)
  await page.mouse.up()
  await expect(page.locator('.card-name').first()).toHaveText('Thrift')
  expect((await meadow(page)).plantings.map(({ name }) => name)).toEqual(['Thrift', TEST, 'Dune grass'])
  expect((await acts.tell('work in the list')).clicks).toBeLessThanOrEqual(MOST_CLICKS)
})

test('a mesh filled all over and moved takes its plants along; the probe names a side that nothing falls onto', async ({ page }) => {
  await startSmall(page)
  const acts = await countActs(page)
  await standBlock(page)
  await page.keyboard.press('a')
  await page.getByRole('radio', { name: /^Spread over block/ }).click()
  await plant(page, /^Thrift/)
  await settled(page)
  const above = await standing(page, 'Thrift')
  const [{ position }] = (await meadow(page)).meshes
  expect(Math.min(...above.map(({ y }) => y))).toBeGreaterThan(position[1] + 7.8)

  // A side of the block, asked about while it is filled from above only.
  await page.keyboard.press('y')
  const side = await page.evaluate(([px, py, pz]) => window.waywardMeadow!.landscape.project(px, pz + 6, py + 4), position)
  const frame = await page.locator('.picture').boundingBox()
  await page.mouse.click((side?.[0] ?? 0) + (frame?.x ?? 0), (side?.[1] ?? 0) + (frame?.y ?? 0))
  const probe = page.getByRole('region', { name: 'Why here, why not here' })
  await expect(probe).toContainText('No Thrift here')
  await expect(probe).toContainText('“block” is filled from above only')
  await page.keyboard.press('Escape')

  await page.locator('.folds').getByRole('combobox', { name: 'On a mesh' }).selectOption('all-over')
  acts.chosen()
  await settled(page)
  const all = await standing(page, 'Thrift')
  expect(all.length).toBeGreaterThan(2 * above.length)
  await openDrawer(page, 'Ground')
  await page.getByRole('button', { name: 'block', exact: true }).click()
  if (!(await page.getByRole('spinbutton', { name: 'Place along X' }).isVisible())) await page.getByRole('button', { name: 'block', exact: true }).click()
  await type(page, page.getByRole('spinbutton', { name: 'Place along X' }), String(position[0] + 5))
  await settled(page)
  const moved = await standing(page, 'Thrift')
  expect(moved.length).toBe(all.length)
  const sum = (list: readonly { x: number }[]) => list.reduce((total, { x }) => total + x, 0) / list.length
  expect(sum(moved) - sum(all)).toBeCloseTo(5, 2)
  expect((await acts.tell('a mesh')).clicks).toBeLessThanOrEqual(MOST_CLICKS)
})

test('a planting that was broken says what leaves nothing; fields say what they did not take', async ({ page }) => {
  await startSmall(page)
  const acts = await countActs(page)
  await condition(page, 'Height')
  const from = inFolds(page, 'Height, from')
  await type(page, from, '500')
  await expect(card(page, TEST).getByRole('status')).toContainText('Nothing grows, as no ground meets “Height”; widen it under Where, or switch it off.')
  // What is typed wrong stays to be put right, with a word on it; left, what was there is kept.
  const told = page.locator('.folds').getByRole('alert')
  for (const [text, words] of [['abc', 'is no number'], ['30 %', 'is a share; a length is wanted'], ['1e9', 'is above the most, 12000 m'], ['1,500', 'may be a thousand or a decimal']]) {
    await from.click()
    await page.keyboard.press('Control+A')
    await page.keyboard.type(text)
    await page.keyboard.press('Enter')
    await expect(told).toContainText(words)
    await page.getByRole('heading', { name: TEST }).click()
    await expect(told).toContainText('500 m is kept')
    await expect(from).toHaveText('500 m')
  }
  await type(page, from, '1,5')
  await expect(told).toHaveCount(0)
  await expect(from).toHaveText('1.5 m')
  await settled(page)
  expect(await countOf(page, TEST)).toBeGreaterThan(100)
  expect((await acts.tell('a broken planting')).clicks).toBeLessThanOrEqual(MOST_CLICKS)
})

test('a beacon changes what is within its reach, and nothing beyond', async ({ page }) => {
  await startSmall(page, '3')
  const before = new Map((await places(page)).map(({ x, z, size }) => [`${x} ${z}`, size]))
  const acts = await countActs(page)
  await openFold(page, TEST, 'How it stands')
  await choose(page, page.getByRole('button', { name: 'Add a driver', exact: true }), 'Nearness to a beacon')
  await page.getByRole('button', { name: 'Set a beacon' }).last().click()
  await settled(page)
  const [{ x: bx, z: bz, reach }] = (await meadow(page)).beacons
  const after = await places(page)
  let nearer = 0
  let changed = 0
  for (const { x, z, size } of after) {
    const was = before.get(`${x} ${z}`)
    if (was === undefined) continue
    if (Math.hypot(x - bx, z - bz) <= reach + 0.01) nearer += size > was + 1e-4 ? 1 : 0
    else if (Math.abs(size - was) > 1e-5) changed++
  }
  expect(changed).toBe(0)
  expect(nearer).toBeGreaterThan(0)
  expect((await acts.tell('a beacon')).clicks).toBeLessThanOrEqual(MOST_CLICKS)
})

test('by keys alone: a new meadow, its first planting, a number changed and taken back', async ({ page }) => {
  const acts = await countActs(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'New meadow', exact: true }).waitFor()
  await tabTo(page, /^New meadow$/)
  await page.keyboard.press('Enter')
  await page.waitForURL(/\/field\//)
  await expect(page.locator('.picture')).toBeFocused()
  await page.keyboard.press('a')
  await tabTo(page, /Search the nursery/)
  await page.keyboard.type('marram')
  await tabTo(page, /^Marram/)
  await page.keyboard.press('Space')
  await tabTo(page, /^Let it grow$/)
  await page.keyboard.press('Enter')
  await settled(page)
  // The chooser is gone, and the focus where it was before.
  await expect(page.locator('.picture')).toBeFocused()
  const first = await countOf(page, 'Marram')
  await tabTo(page, /^Spacing$/)
  for (let k = 0; k < 3; k++) await page.keyboard.press('PageUp')
  await expect.poll(() => countOf(page, 'Marram')).toBeLessThan(first)
  await settled(page)
  for (let k = 0; k < 3; k++) await page.keyboard.press('Control+z')
  await expect.poll(() => countOf(page, 'Marram')).toBe(first)
  expect((await acts.tell('by keys: a first planting')).clicks).toBe(0)
})

test('by keys alone: a patch drawn with the cross, and a planting that keeps to it', async ({ page }) => {
  await startSmall(page)
  const before = await countOf(page, TEST)
  const acts = await countActs(page)
  await page.reload()
  await settled(page)
  await expect(page.locator('.picture')).toBeFocused()
  await page.keyboard.press('d')
  for (const [key, times] of [['ArrowLeft', 6], ['ArrowDown', 3], ['ArrowRight', 12], ['ArrowUp', 5]] as const) {
    for (let k = 0; k < times; k++) await page.keyboard.press(key)
    await page.keyboard.press('Enter')
  }
  await page.keyboard.press('Enter')
  const [patch] = (await meadow(page)).outlines
  expect(patch.kind).toBe('patch')
  expect(lengthOf(patch.lines[0])).toBe(8)
  await page.keyboard.press('p')
  await tabTo(page, new RegExp(`^${TEST}$`))
  await page.keyboard.press('Enter')
  await page.keyboard.press('l')
  await tabTo(page, /^What to do with Patch 1$/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('menuitem', { name: `${TEST} grows inside only` })).toBeVisible()
  await page.keyboard.press('Enter')
  // A menu finds its entries by letters as long as it is open.
  await expect(page.getByRole('menuitem', { name: `${TEST} grows inside only` })).toBeHidden()
  await page.keyboard.press('p')
  await settled(page)
  await expect(card(page, TEST).locator('.sentence')).toContainText('inside')
  const within = await countOf(page, TEST)
  expect(within).toBeGreaterThan(0)
  expect(within).toBeLessThan(before)
  expect((await acts.tell('by keys: a patch')).clicks).toBe(0)
})

test('by keys alone: why here, why not here, and the room of what is hidden', async ({ page }) => {
  await startSmall(page, '0.6')
  await page.keyboard.press('a')
  await plant(page, /^Boulder/)
  await settled(page)
  const acts = await countActs(page)
  await page.reload()
  await settled(page)
  // The first planting stands close and takes all the room; it is hidden, and holds its room.
  await tabTo(page, new RegExp(`^${TEST}$`))
  await tabTo(page, /^Hide$/)
  await page.keyboard.press('Space')
  await expect(card(page, TEST)).toContainText('Hidden; it still holds its room.')
  await tabTo(page, /^Boulder$/)
  await page.keyboard.press('Enter')
  await page.keyboard.press('y')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Enter')
  const probe = page.getByRole('region', { name: 'Why here, why not here' })
  await expect(probe).toContainText('No Boulder here')
  await expect(probe).toContainText(`The room here is taken by “${TEST}”, which is hidden but holds its room`)
  await page.keyboard.press('Escape')
  const few = await countOf(page, 'Boulder')
  await tabTo(page, /^Give the room free while hidden$/)
  await page.keyboard.press('Enter')
  await settled(page)
  expect(await countOf(page, 'Boulder')).toBeGreaterThan(few)
  expect((await acts.tell('by keys: why not here')).clicks).toBe(0)
})

test('many models at once are put right alike or apart, and come in as one step', async ({ page }) => {
  await startSmall(page)
  await openDrawer(page, 'Nursery')
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: /^Bring in models/ }).click()
  const column = (tall: number) => Buffer.from(['v 0 0 0', 'v 1 0 0', 'v 0 0 1', `v 0 ${tall} 0`, 'f 1 3 2', 'f 1 2 4', 'f 2 3 4', 'f 3 1 4'].join('\n'))
  const models = [['One', 100], ['Two', 200], ['Three', 300]] as const
  await (await chooser).setFiles([...models.map(([name, tall]) => ({ name: `${name}.obj`, mimeType: 'text/plain', buffer: column(tall) })), { name: 'Torn.obj', mimeType: 'text/plain', buffer: Buffer.from('v 0 0') }])
  const sheet = page.getByRole('dialog')
  await expect(sheet).toContainText('3 of 4 can be put on the shelf. 1 cannot be read.')
  await sheet.getByText('All alike').click()
  await sheet.getByRole('combobox', { name: 'File unit' }).last().selectOption({ label: 'centimetre' })
  // One of them apart.
  await expect(sheet).toContainText('3 of 4 can be put on the shelf')
  await sheet.getByRole('button', { name: 'Put right Three.obj for itself' }).click()
  await sheet.getByRole('listitem').filter({ has: page.getByRole('textbox', { name: 'Name of Three.obj' }) }).getByRole('combobox', { name: 'File unit' }).selectOption({ label: 'millimetre' })
  await expect(sheet.getByRole('button', { name: 'Put 3 on the shelf' })).toBeEnabled()
  await sheet.getByRole('button', { name: 'Put 3 on the shelf' }).click()
  await expect(page.getByText('3 models are on the shelf. 1 could not be read and was left out.')).toBeVisible()
  expect((await past(page)).at(-1)).toBe('Bring in 3 models')
  const tall = Object.fromEntries((await meadow(page)).assets.slice(-3).map(({ name, size }) => [name, size[1]]))
  expect(tall).toEqual({ One: expect.closeTo(1, 5), Two: expect.closeTo(2, 5), Three: expect.closeTo(0.3, 5) })
})
