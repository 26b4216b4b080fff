import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { encode } from 'fast-png'
import { spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { countOf, expect, openDrawer, settled } from './field.ts'
import { makeTiff } from '../src/testing/tiff.ts'

const PORT = 4195
const BASE = `http://127.0.0.1:${PORT}/`

/** A server of the application's own, which the test can stop. */
async function serve() {
  const server = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], { env: { ...process.env, PORT: String(PORT) } })
  await new Promise((resolve) => server.stdout.once('data', resolve))
  return async () => {
    server.kill()
    await new Promise((resolve) => server.once('exit', resolve))
  }
}

async function bring(page: Page, label: string, name: string, buffer: Buffer): Promise<void> {
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: new RegExp(`^${label}`) }).first().click()
  await (await chooser).setFiles({ name, mimeType: 'application/octet-stream', buffer })
}

test.use({ serviceWorkers: 'allow' })

test('loaded once, everything works without a server: the demo, every import, handing off, the guide', async ({ page }) => {
  const stop = await serve()
  try {
    await page.goto(BASE)
    await page.evaluate(async () => {
      await navigator.serviceWorker.ready
      const { active } = await navigator.serviceWorker.ready
      if (active?.state !== 'activated') await new Promise((resolve) => active?.addEventListener('statechange', resolve))
    })
  } finally {
    await stop()
  }
  await page.goto(BASE)
  await page.getByRole('button', { name: 'Open the demo meadow' }).click()
  await page.waitForURL(/\/field\//)
  await settled(page)
  expect(await countOf(page, 'Samphire on the mud')).toBeGreaterThan(1000)

  await page.getByRole('link', { name: 'Guide' }).click()
  await expect(page.getByRole('heading', { name: 'A planting is a sentence' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('heading', { name: 'A planting is a sentence' })).toHaveCount(0)

  await openDrawer(page, 'Nursery')
  for (const [name, file] of [['cactus.glb', 'src/testing/models/cactus.glb'], ['degtri.obj', 'src/testing/fixtures/degtri_sliding.obj']] as const) {
    await bring(page, 'Bring in models', name, readFileSync(file))
    await expect(page.getByRole('button', { name: 'Put on the shelf', exact: true })).toBeEnabled({ timeout: 60_000 })
    await page.getByRole('button', { name: 'Put on the shelf', exact: true }).click()
    await expect(page.getByRole('dialog')).toHaveCount(0)
  }
  await openDrawer(page, 'Outlines')
  await bring(page, 'Bring in outlines', 'a.svg', Buffer.from('<svg><polygon id="Isle" points="0,0 9,0 9,9"/></svg>'))
  await expect(page.getByRole('button', { name: 'Isle', exact: true })).toBeVisible()

  await openDrawer(page, 'Ground')
  const grids: [string, Buffer][] = [
    ['a.asc', Buffer.from('ncols 3\nnrows 3\ncellsize 20\n1 2 3 4 5 6 7 8 9\n')],
    ['a.tif', Buffer.from(makeTiff(3, 3, [1, 2, 3, 4, 5, 6, 7, 8, 9]))],
    ['a.png', Buffer.from(encode({ width: 4, height: 4, data: new Uint8Array(16).map((_, i) => i * 16), depth: 8, channels: 1 }))],
    ['a.r16', Buffer.alloc(32)],
  ]
  for (const [name, bytes] of grids) {
    await bring(page, 'Bring in a height file', name, bytes)
    await expect(page.getByRole('button', { name: 'Use this ground' })).toBeEnabled({ timeout: 30_000 })
    await page.getByRole('button', { name: 'Cancel' }).click()
  }
  await page.getByRole('button', { name: 'Hand off', exact: true }).click()
  const download = page.waitForEvent('download', { timeout: 120_000 })
  await page.getByRole('button', { name: 'Hand off GLB with instancing' }).click()
  expect((await download).suggestedFilename()).toMatch(/\.glb$/)
  await page.getByRole('button', { name: 'Back to the field' }).click()
  await page.reload()
  await settled(page)
  expect(await countOf(page, 'Samphire on the mud')).toBeGreaterThan(1000)
})

test('a part of the application that cannot be fetched is told in words, with a way on', async ({ page }) => {
  await page.route('**/assets/field-page-*.js', (route) => route.abort())
  await page.goto('/')
  await page.getByRole('button', { name: 'New meadow' }).click()
  await expect(page.getByRole('alert')).toContainText('The network or the server is gone')
  await page.unroute('**/assets/field-page-*.js')
  await page.getByRole('button', { name: 'Load the page again' }).click()
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
})

test('without 3D graphics there are words instead of a picture, and plantings grow all the same', async ({ page }) => {
  await page.addInitScript(() => {
    const real = HTMLCanvasElement.prototype.getContext
    HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, ...rest: unknown[]) {
      return /webgl/.test(kind) ? null : (real as (...given: unknown[]) => never).call(this, kind, ...rest)
    } as never
  })
  await page.goto('/')
  await page.getByRole('button', { name: 'Open the demo meadow' }).click()
  await expect(page.getByRole('alert')).toContainText('gives no 3D graphics')
  await expect(page.getByTestId('total')).toContainText(/\d{3},\d{3} instances/, { timeout: 180_000 })
})
