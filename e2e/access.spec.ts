import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { encode } from 'fast-png'
import type { Dropped } from './acts.ts'
import { dropFiles } from './acts.ts'
import { axeFaults } from './axe.ts'
import { expect, openDemo, openDrawer } from './field.ts'

/** Every page, drawer, fold, menu and sheet, in both themes, at four sizes of the window, and at those with everything half as large again. */

// About contrast, names and places: fewer pixels of the picture are enough.
test.use({ deviceScaleFactor: 0.5 })

const SIZES = [[800, 600], [1024, 700], [1280, 800], [1920, 1080]] as const
/** A window at so much zoom has so many fewer of the page's own pixels. */
const ZOOMS = [1, 1.5] as const

interface State {
  readonly name: string
  readonly open: (page: Page) => Promise<void>
  readonly close?: (page: Page) => Promise<void>
}

const escape = (page: Page) => page.keyboard.press('Escape')
const press = (name: string | RegExp) => (page: Page) => page.getByRole('button', { name, exact: typeof name === 'string' }).first().click()
const cancel = press('Cancel')

function drop(...files: readonly Dropped[]) {
  return async (page: Page) => {
    await dropFiles(page, files)
    await page.getByRole('dialog').waitFor()
    await page.waitForTimeout(1500)
  }
}

const text = (words: string) => new TextEncoder().encode(words)
const column = text(['v 0 0 0', 'v 1 0 0', 'v 0 0 1', 'v 0 2 0', 'f 1 3 2', 'f 1 2 4', 'f 2 3 4', 'f 3 1 4'].join('\n'))
const grey = encode({ width: 16, height: 16, data: new Uint8Array(256).map((_, i) => i), depth: 8, channels: 1 })
const shapes = text(JSON.stringify({ type: 'FeatureCollection', features: [{ type: 'Feature', properties: { name: 'Pool' }, geometry: { type: 'Polygon', coordinates: [[[500, 500], [520, 500], [520, 520], [500, 520], [500, 500]]] } }] }))

/** One fold of the open card. */
const fold = (name: string): State => ({ name: `the fold ${name}`, open: press(name) })
/** Draws a box over the middle of the picture. */
async function dragAcross(page: Page): Promise<void> {
  const frame = await page.locator('.picture').boundingBox()
  const [x, y] = [(frame?.x ?? 0) + (frame?.width ?? 0) / 2, (frame?.y ?? 0) + (frame?.height ?? 0) / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 60, y + 50, { steps: 4 })
  await page.mouse.up()
  await page.waitForTimeout(500)
}

const drawer = (name: 'Ground' | 'Outlines' | 'Beacons' | 'Nursery' | 'Views', one?: string): State => ({
  name: `the drawer ${name}`,
  async open(page) {
    await openDrawer(page, name)
    if (one) await press(one)(page)
  },
})
const menu = (button: string | RegExp): State => ({ name: `the menu ${String(button)}`, open: press(button), close: escape })
const sheet = (name: string, ...files: readonly Dropped[]): State => ({ name: `the sheet ${name}`, open: drop(...files), close: cancel })

/** What the field shows, one after the other. */
const FIELD: readonly State[] = [
  { name: 'the field', open: async () => undefined },
  menu('What to do with Thorn shrubs'),
  { name: 'a card', open: press('Sea lavender and thrift') },
  fold('What'),
  fold('How many'),
  fold('How it stands'),
  menu('Add a driver'),
  fold('Where'),
  menu('Add a condition'),
  menu('What to do with the condition height above water'),
  { name: 'the tint and its legend', open: (page) => page.keyboard.press('i'), close: (page) => page.keyboard.press('i') },
  {
    name: 'what is not taken',
    async open(page) {
      await page.locator('.folds .number').first().click()
      await page.keyboard.type('abc')
      await page.keyboard.press('Enter')
    },
    close: escape,
  },
  {
    name: 'an answer why',
    async open(page) {
      await page.keyboard.press('y')
      await page.keyboard.press('Enter')
      await page.waitForTimeout(800)
    },
    close: escape,
  },
  {
    name: 'sowing',
    async open(page) {
      await page.keyboard.press('s')
      await page.keyboard.press('ArrowDown')
      await page.waitForTimeout(300)
    },
    close: escape,
  },
  {
    name: 'what is chosen',
    async open(page) {
      await page.keyboard.press('e')
      await dragAcross(page)
    },
    async close(page) {
      await page.keyboard.press('Escape')
      await page.keyboard.press('Escape')
    },
  },
  {
    name: 'placing',
    async open(page) {
      await page.keyboard.press('x')
      await page.keyboard.press('ArrowDown')
      await page.waitForTimeout(400)
    },
    close: escape,
  },
  {
    name: 'every act on what is chosen',
    async open(page) {
      await page.keyboard.press('e')
      await dragAcross(page)
      await page.getByRole('region', { name: 'What is chosen' }).getByRole('button', { name: 'choose', exact: true }).click()
      await page.waitForTimeout(400)
    },
    async close(page) {
      await page.keyboard.press('Escape')
      await page.keyboard.press('Escape')
    },
  },
  {
    name: 'strewing, and what things are set to',
    async open(page) {
      await page.keyboard.press('r')
      await page.waitForTimeout(200)
      await page.keyboard.press('x')
      await page.getByRole('button', { name: 'What things are set to' }).click()
      await page.waitForTimeout(300)
    },
    async close(page) {
      await page.getByRole('button', { name: 'Close what things are set to' }).click()
      await page.keyboard.press('Escape')
    },
  },
  {
    name: 'a posy that lies open, and one of its parts gathered anew',
    async open(page) {
      await openDrawer(page, 'Nursery')
      await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('tussock')
      await page.getByRole('button', { name: 'Open Stones and tussocks and change its parts' }).click()
      await page.getByRole('button', { name: 'Put it together' }).first().waitFor({ state: 'attached' })
      await page.waitForTimeout(1500)
      // Only its parts are chosen meanwhile.
      await dragAcross(page)
      await page.locator('.chosen-words').getByRole('button', { name: 'posy', exact: true }).click()
    },
    async close(page) {
      await page.keyboard.press('Escape')
      await page.keyboard.press('Escape')
      await page.keyboard.press('Control+z')
      await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('')
      await page.getByRole('searchbox', { name: 'Search the nursery' }).blur()
    },
  },
  {
    name: 'a ring and what it stands on',
    async open(page) {
      await page.keyboard.press('a')
      await page.getByRole('radio', { name: /^In a ring/ }).click()
      await page.getByRole('radio', { name: /^Boulder/ }).click()
      await page.getByRole('button', { name: 'Let it grow' }).click()
      const where = page.locator('.folds').getByRole('button', { name: 'Where', exact: true })
      if ((await where.getAttribute('aria-expanded')) !== 'true') await where.click()
      await page.getByRole('button', { name: 'Stand it elsewhere' }).waitFor()
      await page.waitForTimeout(500)
    },
    async close(page) {
      await page.keyboard.press('Escape')
      await page.keyboard.press('Control+z')
    },
  },
  {
    name: 'a bed, and a thing to stand a pattern on',
    async open(page) {
      await page.keyboard.press('a')
      await page.getByRole('radio', { name: /^In rows within a patch/ }).click()
      await page.getByRole('radio', { name: /^Boulder/ }).click()
      await page.getByRole('button', { name: 'Let it grow' }).click()
      const where = page.locator('.folds').getByRole('button', { name: 'Where', exact: true })
      if ((await where.getAttribute('aria-expanded')) !== 'true') await where.click()
      await page.getByRole('combobox', { name: 'Fill a patch that is there' }).selectOption({ label: 'Mown marsh' })
      await page.keyboard.press('x')
      for (const [label, wanted] of [['How many', 'what the open pattern stands on'], ['It stands on', 'the top of a thing']]) for (let k = 0; k < 5 && !(await page.getByRole('button', { name: `${label}: ${wanted}`, exact: true }).count()); k++) await page.getByRole('button', { name: new RegExp(`^${label}: `) }).click()
      await page.waitForTimeout(500)
    },
    async close(page) {
      await page.keyboard.press('Escape')
      await page.keyboard.press('Control+z')
      await page.keyboard.press('Control+z')
    },
  },
  {
    name: 'a path off the ground',
    async open(page) {
      await openDrawer(page, 'Outlines')
      await press('Boardwalk')(page)
      const point = page.getByRole('button', { name: /^Point 5 of Boardwalk/ })
      await point.focus()
      await point.press('PageUp')
      await page.waitForTimeout(500)
    },
    close: (page) => page.keyboard.press('Control+z'),
  },
  {
    name: 'the sheet that changes a model',
    async open(page) {
      await openDrawer(page, 'Nursery')
      await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('haycock')
      await page.getByRole('button', { name: /^Change Haycock/ }).first().click()
      await page.getByText('Tint over all of it').waitFor()
      await page.getByLabel('Tint over all of it').fill('#aa8866')
      await page.waitForTimeout(1500)
    },
    async close(page) {
      await cancel(page)
      await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('')
      await page.getByRole('searchbox', { name: 'Search the nursery' }).blur()
    },
  },
  { name: 'measuring', open: (page) => page.keyboard.press('m'), close: escape },
  drawer('Ground', 'Wrecked hull'),
  drawer('Outlines', 'Mown marsh'),
  menu('What to do with Mown marsh'),
  { name: 'drawing', open: (page) => page.keyboard.press('d'), close: escape },
  drawer('Beacons', 'Spring'),
  drawer('Views'),
  drawer('Nursery'),
  sheet('of a model', { name: 'Column.obj', bytes: column }),
  sheet('of many models', { name: 'Column.obj', bytes: column }, { name: 'Broken.obj', bytes: text('v 1 2') }),
  sheet('of a height file', { name: 'grey.png', bytes: grey.slice() }),
  sheet('of outlines', { name: 'pool.geojson', bytes: shapes }),
  { name: 'a file that is refused', open: drop({ name: 'cut.asc', bytes: text('ncols 4\nnrows 4\ncellsize 1\n1 2 3') }), close: cancel },
  {
    name: 'the sheet of a mesh',
    async open(page) {
      await openDrawer(page, 'Ground')
      await drop({ name: 'Column.obj', bytes: column })(page)
    },
    close: cancel,
  },
  { name: 'a new planting', open: (page) => page.keyboard.press('a'), close: cancel },
  { name: 'the handoff over the field', open: press('Hand off'), close: (page) => page.keyboard.press('o') },
  {
    name: 'the guide over the field',
    async open(page) {
      await page.getByRole('link', { name: 'Guide' }).click()
      await page.getByRole('heading', { name: 'Guide' }).waitFor()
    },
    close: press('Back to the field'),
  },
]

/** What axe finds; controls that lie under others or beyond the window, and those of less than 24 px that are not words of a sentence. */
async function faults(page: Page): Promise<string[]> {
  // Hints that hover above the page are no part of it.
  await page.mouse.move(3, (page.viewportSize()?.height ?? 4) - 2)
  await page.waitForTimeout(250)
  const violations = await axeFaults(page)
  const covered = await page.evaluate(() => {
    const found: string[] = []
    const dialog = [...document.querySelectorAll('[role="dialog"], [role="menu"]')].filter((one) => one.getAttribute('data-state') !== 'closed').at(-1)
    if (document.documentElement.scrollWidth > innerWidth) found.push(`the page is ${document.documentElement.scrollWidth} px wide`)
    for (const one of (dialog ?? document.body).querySelectorAll<HTMLElement>('button, a[href], input, select, textarea, [role="menuitem"], [role="spinbutton"]')) {
      if (one.closest('[aria-hidden="true"], [inert], svg') || getComputedStyle(one).visibility === 'hidden') continue
      if (one.getClientRects().length === 0) continue
      const target = (one.matches('input[type=checkbox], input[type=radio]') && one.closest('label')) || one
      const { width, height } = target.getBoundingClientRect()
      const small = width < 23.5 || height < 23.5
      const called = one.getAttribute('aria-label') ?? (one.textContent || target.textContent || one.tagName)
      if (small && !one.closest('.sentence, p')) found.push(`${called} is ${width.toFixed(1)} × ${height.toFixed(1)} px`)
      if (one !== target) continue
      one.scrollIntoView({ block: 'nearest', inline: 'nearest' })
      const box = one.getBoundingClientRect()
      const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
      const top = document.elementFromPoint(x, y)
      if (!top || !(one.contains(top) || top.contains(one))) found.push(`${called} lies under ${top ? `${top.tagName} ${top.className}` : 'nothing'} at ${Math.round(x)}, ${Math.round(y)}`)
    }
    return found
  })
  return [...violations.map(({ id, places }) => `${id}: ${places.slice(0, 2).join(' and ')}`), ...covered]
}

/** Goes through states at all sizes and zooms; what is wrong, where. */
async function goThrough(page: Page, theme: string, states: readonly State[]): Promise<string[]> {
  const wrong: string[] = []
  // Some of them alone: ACCESS='chosen|placing'.
  for (const { name, open, close } of states.filter((one) => new RegExp(process.env.ACCESS ?? '').test(one.name))) {
    await page.setViewportSize({ width: 1280, height: 800 })
    await page.waitForTimeout(300)
    await open(page)
    for (const zoom of ZOOMS)
      for (const [width, height] of SIZES) {
        await page.setViewportSize({ width: Math.round(width / zoom), height: Math.round(height / zoom) })
        await page.waitForTimeout(350)
        for (const fault of await faults(page)) {
          wrong.push(`${name}, ${theme}, ${width} × ${height} at ${100 * zoom} %: ${fault}`)
          console.log(wrong.at(-1))
        }
      }
    await page.setViewportSize({ width: 1280, height: 800 })
    await page.waitForTimeout(300)
    await close?.(page)
    await expect(page.locator('[role="dialog"], [role="menu"]')).toHaveCount(0)
  }
  return wrong
}

for (const theme of ['light', 'dusk'] as const)
  test(`axe is clean and every control is reached, everywhere, at all sizes and zooms, in ${theme} @long`, async ({ page }) => {
    test.setTimeout(1_800_000)
    // What is not there is a fault, not something to wait for.
    page.setDefaultTimeout(60_000)
    await page.goto('/')
    await page.getByRole('button', { name: 'Open the demo meadow' }).waitFor()
    if (theme === 'dusk') await page.getByRole('button', { name: 'Dusk paper' }).click()
    const wrong = await goThrough(page, theme, [
      { name: 'the gate', open: async () => undefined },
      { name: 'the guide', async open() { await page.goto('/guide'); await page.getByRole('heading', { name: 'Guide' }).waitFor() } },
    ])
    await openDemo(page)
    wrong.push(...(await goThrough(page, theme, FIELD)))
    expect(wrong).toEqual([])
  })
