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
import { card, expect } from './field.ts'
import { madeUp } from './made-up.ts'
import { add, heightOf, inFolds, orange, places, startSmall, TEST } from './small-ground.ts'

/** Adds one condition to the application: its file, and one line in the list. */
function withMadeUp(): Plugin {
  return {
    name: 'made-up-condition',
    transform(code, id) {
      if (!id.endsWith('/src/core/fields/conditions/index.ts')) return null
      const listed = code.replace(/^(\s*)aboveWater,$/m, '$1aboveWater,\n$1madeUp,')
      if (listed === code) throw new Error('the list of conditions has another form')
      return `import { madeUp } from ${JSON.stringify(join(import.meta.dirname, 'made-up.ts'))}\n${listed}`
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
