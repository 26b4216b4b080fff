import { test } from '@playwright/test'
import react from '@vitejs/plugin-react'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import type { Plugin } from 'vite'
import { build } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'
import { CONDITIONS } from '../src/core/fields/conditions/index.ts'
import { conditionsDoc } from '../src/core/kind-docs.ts'
import { createApp } from '../server/app.ts'
import { card, expect, type } from './field.ts'
import { madeUp } from './made-up.ts'
import { add, heightOf, inFolds, orange, places, startSmall, TEST } from './small-ground.ts'

/** Lines that are put into lists of kinds: after which line of which list, and what of which file. */
const LINES = [
  { list: '/src/core/fields/conditions/index.ts', after: 'aboveWater,', names: ['madeUp'], file: 'made-up.ts' },
  { list: '/src/core/fields/conditions/index.ts', after: 'aboveWater,', names: ['lit'], file: 'made-up-lamp.ts' },
  { list: '/src/core/things/index.ts', after: 'anyThing(BEACON),', names: ['LAMP'], file: 'made-up-lamp.ts' },
  { list: '/src/tools/index.ts', after: 'ask,', names: ['lampTool'], file: 'made-up-lamp.ts' },
] as const

/** Adds made-up kinds to the application: the file of each, and one line in a list. */
function withMadeUp(): Plugin {
  return {
    name: 'made-up-kinds',
    enforce: 'pre',
    transform(code, id) {
      let out = code
      for (const { list, after, names, file } of LINES.filter((one) => id.endsWith(one.list))) {
        const wrapped = (name: string) => (name === 'LAMP' ? `anyThing(${name})` : name)
        const listed = out.replace(`  ${after}\n`, `  ${after}\n${names.map((name) => `  ${wrapped(name)},\n`).join('')}`)
        if (listed === out) throw new Error(`the list ${list} has another form`)
        out = `import { ${names.join(', ')} } from ${JSON.stringify(join(import.meta.dirname, file))}\n${listed}`
      }
      return out === code ? null : out
    },
  }
}

let server: Server | undefined
let home = ''

test.beforeAll(async () => {
  test.setTimeout(240_000)
  const outDir = join(import.meta.dirname, '..', '.cache', 'made-up')
  await build({
    configFile: false,
    root: join(import.meta.dirname, '..'),
    logLevel: 'error',
    plugins: [withMadeUp(), react(), VitePWA({ registerType: 'prompt', injectRegister: null, workbox: { globPatterns: ['icon.svg'], maximumFileSizeToCacheInBytes: 16e6 } })],
    worker: { format: 'es', plugins: () => [withMadeUp()] },
    build: { target: 'es2022', outDir, emptyOutDir: true, minify: false },
  })
  const started = createApp(outDir).listen(0, '127.0.0.1')
  await new Promise((resolve) => started.once('listening', resolve))
  server = started
  home = `http://127.0.0.1:${(started.address() as AddressInfo).port}/`
})

test.afterAll(() => server?.close())

test('a condition that is one file and one line in a list is there everywhere by itself', async ({ page }) => {
  await startSmall(page, '2', home)
  const all = await places(page)

  // In the card, with its fields; in the sentence, live.
  await add(page, 'Stripes')
  await expect(page.getByRole('group').filter({ hasText: 'Stripe width' })).toBeVisible()
  await expect(card(page, TEST).locator('.sentence')).toContainText('in stripes of')
  let rows = await places(page)
  expect(rows.every(({ x }) => Math.floor(x / 10) % 2 === 0)).toBe(true)
  expect(rows.length / all.length).toBeGreaterThan(0.42)
  expect(rows.length / all.length).toBeLessThan(0.58)
  const inSentence = card(page, TEST).getByRole('spinbutton', { name: 'Stripe width' })
  await inSentence.focus()
  await page.keyboard.press('ArrowUp')
  await expect(inFolds(page, 'Stripe width')).toHaveText('11 m')
  rows = await places(page)
  expect(rows.every(({ x }) => Math.floor(x / 11) % 2 === 0)).toBe(true)

  // On the ground, as a tint.
  const plain = await orange(page)
  await page.getByRole('button', { name: 'Stripes: show it on the ground' }).click()
  expect(await orange(page)).toBeGreaterThan(plain + 0.005)
  await page.locator('.picture').focus()
  await page.keyboard.press('Escape')

  // In the probe.
  await page.keyboard.press('y')
  await expect(page.locator('.picture[data-tool=ask]')).toBeVisible()
  const at = await page.evaluate(([x, y, z]) => window.waywardMeadow!.landscape.project(x, z, y), [16, heightOf(16, 5), 5])
  const frame = await page.locator('.picture').boundingBox()
  if (!at || !frame) throw new Error('the place is not to be seen')
  await page.mouse.click(frame.x + at[0], frame.y + at[1])
  const probe = page.getByRole('region', { name: 'Why here, why not here' })
  await expect(probe).toContainText(`No ${TEST} here`)
  await expect(probe.getByRole('listitem').first()).toContainText('Stripes: stripe 1, which begins at 11.0 m')
  await expect(probe.getByRole('listitem').first()).toContainText('wanted: in stripes of 11 m')

  // In the documentation.
  const doc = conditionsDoc([...CONDITIONS.all, madeUp], [])
  expect(doc).toContain('### Stripes')
  expect(doc).toContain('| Stripe width | 10 m | 1 m – 100 m | How wide each stripe is. |')
})

test('a thing and a tool that are one file and one line in a list each are set, named, grown by and kept', async ({ page }) => {
  await startSmall(page, '2', home)
  const all = await places(page)

  // In the strip, with its settings in its sentence; by its key.
  await page.keyboard.press('q')
  const strip = page.getByRole('region', { name: 'Tools' })
  await expect(strip.getByRole('radio', { name: 'Light' })).toBeChecked()
  await type(page, strip.getByRole('spinbutton', { name: 'Light as far as' }), '18')
  await expect(page.locator('.status')).toContainText('Click sets a lamp')
  const at = await page.evaluate(([x, y, z]) => window.waywardMeadow!.landscape.project(x, z, y), [12, heightOf(12, 6), 6])
  const frame = await page.locator('.picture').boundingBox()
  if (!at || !frame) throw new Error('the place is not to be seen')
  await page.mouse.click(frame.x + at[0], frame.y + at[1])
  await page.keyboard.press('Escape')
  await expect(strip.getByRole('radio', { name: 'Look' })).toBeChecked()
  await expect(page.getByRole('button', { name: /^Undo: Set a lamp/ })).toBeEnabled()

  // Named by a condition, which chooses the only one there is; grown by.
  await add(page, 'Lit')
  await expect(card(page, TEST).locator('.sentence')).toContainText('in the light of Lamp 1')
  const rows = await places(page)
  const lamp = await page.evaluate(() => (window.waywardMeadow!.session.store.getState().history.meadow as unknown as { lamps: { x: number; z: number }[] }).lamps[0])
  expect(Math.hypot(lamp.x - 12, lamp.z - 6)).toBeLessThan(1)
  const inLight = all.filter(({ x, z }) => Math.hypot(x - lamp.x, z - lamp.z) <= 18)
  expect(inLight.length).toBeGreaterThan(50)
  expect(rows.length).toBe(inLight.length)
  expect(rows.every(({ x, z }) => Math.hypot(x - lamp.x, z - lamp.z) < 18.001)).toBe(true)

  // Kept, with what it lights.
  await page.reload()
  expect((await places(page)).length).toBe(rows.length)
})
