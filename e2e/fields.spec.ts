import type { Locator, Page } from '@playwright/test'
import { test } from '@playwright/test'
import { encode } from 'fast-png'
import { card, choose, expect, openDrawer, openFold, settled } from './field.ts'
import { giveFile, startSmall, TEST } from './small-ground.ts'

/** Every field, with what it cannot take. */

const document = (page: Page) => page.evaluate(() => JSON.stringify({ ...window.waywardMeadow!.session.meadow() }))

/** Adds every kind that a menu offers, one after the other, by keys. */
async function addAll(page: Page, menu: string): Promise<number> {
  const button = page.getByRole('button', { name: menu, exact: true })
  await button.click()
  const names = await page.getByRole('menuitem').allInnerTexts()
  await page.keyboard.press('Escape')
  for (const name of names) await choose(page, button, name.split('\n')[0])
  return names.length
}

/** What no number takes, with what must be said of it. */
const BAD: readonly (readonly [string, RegExp])[] = [
  ['abc', /“abc” is no number/],
  ['5 kg', /“5 kg” is no number/],
  ['1e15', /“1e15” is above the most/],
  ['-1e15', /“-1e15” is below the least/],
  [' 1 2,5 x', /is no number|is a factor/],
  ['', /^.*Empty; an? .+ is wanted/],
]

/** Types what cannot be taken into every number that is shown; what was said wrongly, and how many numbers there were. */
async function tryNumbers(page: Page, within: Locator): Promise<{ readonly tried: number; readonly wrong: string[] }> {
  const wrong: string[] = []
  const numbers = within.locator('.number[role=spinbutton]:not([aria-disabled=true])')
  const tried = await numbers.count()
  const before = await document(page)
  for (let i = 0; i < tried; i++) {
    const number = numbers.nth(i)
    const [label, shown] = await number.evaluate((one) => [one.getAttribute('aria-label') ?? '', one.textContent ?? ''])
    // One each by turns; all of them where there is time.
    for (const [text, words] of process.env.MEADOW_LONG ? BAD : [BAD[i % BAD.length]]) {
      // What may stay empty takes nothing as an answer.
      if (text === '' && /^(any|none|—|no .+)$/.test(shown)) continue
      await number.focus()
      await page.keyboard.press('Enter')
      await page.keyboard.press('Control+A')
      if (text === '') await page.keyboard.press('Delete')
      else await page.keyboard.insertText(text)
      await page.keyboard.press('Enter')
      const said = await page.evaluate(() => {
        const at = globalThis.document.activeElement
        return `${at?.getAttribute('aria-invalid')} ${at?.parentElement?.querySelector('.not-taken')?.textContent ?? ''}`
      })
      const open = await page.evaluate(() => globalThis.document.activeElement?.tagName === 'INPUT')
      if (!open || !said.startsWith('true') || !words.test(said.slice(5).replace(`${label}: `, ''))) {
        // An open end, which is shown as a number, may be emptied.
        if (!(text === '' && !open && /, (from|to)$/.test(label))) wrong.push(`${label}, “${text}”: ${said}`)
        if (text === '') await page.keyboard.press('Control+z')
      }
      if (open) await page.keyboard.press('Escape')
    }
  }
  await page.waitForTimeout(50)
  if ((await document(page)) !== before) wrong.push('the meadow is another one')
  return { tried, wrong }
}

for (const title of ['every number says what it does not take, and takes nothing of it', 'every number, with all that it does not take @long']) test(title, async ({ page }) => {
  await startSmall(page, '4')
  await openDrawer(page, 'Beacons')
  await page.getByRole('button', { name: 'Set a beacon' }).first().click()
  await openDrawer(page, 'Ground')
  await page.getByText('Show the water').click()
  let all = 0
  const tryHere = async (where: string, within: Locator) => {
    const { tried, wrong } = await tryNumbers(page, within)
    console.log(`${where}: ${tried} numbers`)
    expect(wrong, where).toEqual([])
    expect(tried, where).toBeGreaterThan(0)
    all += tried
  }
  await tryHere('the ground', page.locator('.drawer'))
  await openDrawer(page, 'Beacons')
  if ((await page.locator('.drawer .number').count()) === 0) await page.getByRole('button', { name: 'Beacon 1', exact: true }).click()
  await tryHere('a beacon', page.locator('.drawer'))
  await openFold(page, TEST, 'Where')
  expect(await addAll(page, 'Add a condition')).toBeGreaterThan(12)
  await tryHere('conditions', page.locator('.folds'))
  await openFold(page, TEST, 'How it stands')
  expect(await addAll(page, 'Add a driver')).toBeGreaterThan(8)
  await tryHere('stance and drivers', page.locator('.folds'))
  await openFold(page, TEST, 'What')
  // Its list is filled when it is opened.
  await page.getByRole('combobox', { name: 'Add to the mix' }).click()
  await page.getByRole('combobox', { name: 'Add to the mix' }).selectOption({ label: 'Reed' })
  await page.getByRole('combobox', { name: 'Where Reed prefers to be' }).selectOption('height')
  await tryHere('the mix', page.locator('.folds'))
  console.log(`${all} numbers in all`)
})

test('names and formulas say what they do not take; what is pasted is read as it is meant', async ({ page }) => {
  await startSmall(page, '4')
  const name = card(page, TEST).getByRole('button', { name: TEST, exact: true })
  await name.dblclick()
  const input = page.getByRole('textbox', { name: 'Name of the planting' })
  await input.fill('  ')
  await page.keyboard.press('Enter')
  await expect(page.locator('.card').getByRole('alert')).toContainText('Empty; a name is wanted.')
  await expect(input).toBeFocused()
  await input.fill('x'.repeat(230))
  await page.keyboard.press('Enter')
  await expect(page.locator('.card').getByRole('alert')).toContainText('230 letters; at most 200 are kept')
  // Left by a click elsewhere, the old name stays and is said.
  await page.locator('.status').click()
  await expect(page.locator('.card').getByRole('alert')).toContainText(`“${TEST}” is kept.`)
  await expect(name).toBeVisible()
  await name.dblclick()
  await input.fill('Rushes')
  await page.keyboard.press('Enter')
  await expect(card(page, 'Rushes').getByRole('alert')).toHaveCount(0)

  await openFold(page, 'Rushes', 'Where')
  await choose(page, page.getByRole('button', { name: 'Add a condition', exact: true }), 'Formula')
  const formula = page.locator('.folds').getByRole('textbox', { name: 'Formula' })
  const good = await formula.inputValue()
  await formula.fill('slope <')
  const told = page.locator('.formula').getByRole('alert')
  await expect(told).toBeVisible()
  await page.locator('.status').click()
  await expect(told).toContainText('What was there before is kept.')
  await expect(formula).toHaveValue(good)
  await formula.fill(`slope < ${'1'.repeat(2000)}`)
  await expect(told).toContainText('2008 characters')
  await formula.fill(good)
  await expect(told).toHaveCount(0)

  // Blanks around, a comma for the point, a unit: by the clipboard.
  const spacing = card(page, 'Rushes').getByRole('spinbutton', { name: 'Spacing' })
  await openDrawer(page, 'Nursery')
  await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('\u00a0 3,5 m ')
  await page.keyboard.press('Control+A')
  await page.keyboard.press('Control+C')
  await openDrawer(page, 'Plantings')
  await spacing.focus()
  await page.keyboard.press('Control+V')
  await page.keyboard.press('Enter')
  await expect(spacing).toHaveText('3.5 m')
  await settled(page)
})

test('the sheets of files say what they do not take, and keep what was filled in', async ({ page }) => {
  await startSmall(page, '4')
  await openDrawer(page, 'Ground')
  const sheet = page.getByRole('dialog')
  // Shares, not heights: the range is asked for.
  const grey = encode({ width: 16, height: 16, data: new Uint8Array(256).map((_, i) => i), depth: 8, channels: 1 })
  await giveFile(page, 'Bring in a height file', 'grey.png', Buffer.from(grey))
  await expect(sheet.getByRole('button', { name: 'Use this ground' })).toBeEnabled()
  const { tried, wrong } = await tryNumbers(page, sheet)
  expect(wrong).toEqual([])
  expect(tried).toBe(4)
  const number = async (label: string, text: string) => {
    await sheet.getByRole('spinbutton', { name: label }).focus()
    await page.keyboard.press('Enter')
    await page.keyboard.press('Control+A')
    await page.keyboard.insertText(text)
    await page.keyboard.press('Enter')
  }
  // Enter in a number takes the number, not the sheet.
  await number('Lowest point', '40')
  await number('Highest point', '12')
  await expect(sheet.getByRole('alert')).toContainText('The highest point must not lie below the lowest.')
  await sheet.getByRole('button', { name: 'Use this ground' }).click()
  await expect(sheet).toBeVisible()
  await sheet.getByRole('textbox', { name: 'Source, if it must be named' }).fill('s'.repeat(501))
  await expect(sheet.getByRole('alert').last()).toContainText('501 letters; at most 500')
  await sheet.getByRole('textbox', { name: 'Source, if it must be named' }).fill('  Made up  ')
  await number('Lowest point', '2')
  await expect(sheet.getByRole('alert')).toHaveCount(0)
  await sheet.getByRole('textbox', { name: 'Source, if it must be named' }).press('Enter')
  await expect(sheet).toHaveCount(0)
  const ground = await page.evaluate(() => window.waywardMeadow!.session.meadow().ground)
  expect(ground).toMatchObject({ source: 'Made up', lowest: 2, highest: 12 })

  await openDrawer(page, 'Nursery')
  const column = Buffer.from(['v 0 0 0', 'v 1 0 0', 'v 0 0 1', 'v 0 2 0', 'f 1 3 2', 'f 1 2 4', 'f 2 3 4', 'f 3 1 4'].join('\n'))
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: /^Bring in models/ }).click()
  await (await chooser).setFiles([{ name: 'Column.obj', mimeType: 'text/plain', buffer: column }])
  await expect(sheet.getByRole('button', { name: 'Put on the shelf', exact: true })).toBeEnabled()
  await sheet.getByRole('textbox', { name: 'Name' }).fill('')
  await sheet.getByRole('textbox', { name: 'Tags, by commas' }).fill(Array.from({ length: 51 }, (_, i) => `tag ${i}`).join(', '))
  await sheet.getByRole('button', { name: 'Put on the shelf', exact: true }).click()
  await expect(sheet.getByRole('alert').first()).toContainText('Empty; a name is wanted.')
  await expect(sheet.getByRole('alert').last()).toContainText('51 tags; at most 50 are kept.')
  await expect(sheet.getByRole('textbox', { name: 'Name' })).toBeFocused()
  await sheet.getByRole('textbox', { name: 'Name' }).fill(' Marker ')
  await sheet.getByRole('textbox', { name: 'Tags, by commas' }).fill('stone, , old ')
  await sheet.getByRole('textbox', { name: 'Category' }).fill('')
  // Another unit reads it again; what was filled in stays.
  await sheet.getByRole('combobox', { name: 'File unit' }).selectOption({ label: 'centimetre' })
  await expect(sheet).toContainText('0.01 × 0.02 × 0.01 m')
  await sheet.getByRole('button', { name: 'Put on the shelf', exact: true }).click()
  await expect(sheet).toHaveCount(0)
  const asset = await page.evaluate(() => window.waywardMeadow!.session.meadow().assets.at(-1))
  expect(asset).toMatchObject({ name: 'Marker', category: 'Brought in', tags: ['stone', 'old'] })
  expect(asset?.size[1]).toBeCloseTo(0.02, 6)
})
