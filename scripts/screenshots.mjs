// Refreshes docs/screenshots from the demo: node scripts/screenshots.mjs (needs Chromium, see npm test).
import { chromium } from '@playwright/test'
import { spawn } from 'node:child_process'
import { copyFileSync, mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { bin, buildApp, installPackages, root } from './prepare.mjs'

if (!installPackages() || !buildApp()) process.exit(1)
const port = 4192
const server = spawn(process.execPath, ['--import', `file://${bin('tsx/dist/esm/index.mjs')}`, 'server/main.ts'], {
  cwd: root,
  env: { ...process.env, PORT: String(port) },
})
await new Promise((resolve) => server.stdout.once('data', resolve))
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-background-networking', '--use-gl=angle', '--use-angle=gl-egl', '--ignore-gpu-blocklist'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
// The first steps have a picture of their own.
await page.addInitScript(() => localStorage.setItem('wayward-meadow-first-steps', 'away'))
/** A small JPEG of the page as it is, for pages of the application itself. */
const small = async (path, width, clip) => {
  const png = await page.screenshot({ clip })
  const other = await browser.newPage()
  const url = await other.evaluate(
    async ({ base64, wide }) => {
      const image = await createImageBitmap(await (await fetch(`data:image/png;base64,${base64}`)).blob())
      const canvas = new OffscreenCanvas(wide, Math.round((wide * image.height) / image.width))
      const context = canvas.getContext('2d')
      context.imageSmoothingQuality = 'high'
      context.drawImage(image, 0, 0, canvas.width, canvas.height)
      const bytes = new Uint8Array(await (await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.74 })).arrayBuffer())
      return btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''))
    },
    { base64: png.toString('base64'), wide: width },
  )
  await other.close()
  mkdirSync(dirname(join(root, path)), { recursive: true })
  writeFileSync(join(root, path), Buffer.from(url, 'base64'))
}
/** Which screenshots the guide shows, and as what. */
const GUIDE = { 'field-creek': 'field', tint: 'where', mix: 'mix', outlines: 'outlines', 'mesh-ground': 'ground', nursery: 'nursery', probe: 'probe', handoff: 'handoff', trail: 'trail', posy: 'posy' }
/** `pointer` stays where it is told, for what is seen under it. */
const shot = async (name, wait = 2500, pointer = [700, 790]) => {
  await page.waitForTimeout(wait)
  await page.mouse.move(...pointer)
  await page.waitForTimeout(500)
  // A picture that is still coarse would show the machine, not the view.
  await page.waitForFunction(() => window.waywardMeadow?.landscape.facts().rest !== false, null, { timeout: 30_000 })
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) })
  if (GUIDE[name]) await small(`public/pictures/guide/${GUIDE[name]}.jpg`, 720)
}
const grown = () =>
  page.waitForFunction(() => {
    const state = window.waywardMeadow?.session.store.getState()
    return state && !state.growing && state.lastGrowing && state.save === 'saved'
  }, null, { timeout: 90000 })
const file = async (label, path) => {
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: label }).first().click()
  await (await chooser).setFiles(path)
}

await page.goto(`http://127.0.0.1:${port}/`)
await page.getByRole('button', { name: 'Open the demo meadow' }).click()
await page.waitForFunction(() => Boolean(window.waywardMeadow))
await grown()
await page.getByRole('button', { name: 'Sea lavender and thrift', exact: true }).click()
await shot('field-creek', 5000)
await page.getByRole('button', { name: 'What', exact: true }).click()
await shot('mix', 1500)
await page.getByRole('button', { name: 'Where', exact: true }).click()
await page.keyboard.press('i')
await shot('tint', 4000)
await page.keyboard.press('i')
// Clear of the reeds, on the bank.
await page.keyboard.press('y')
await page.mouse.click(640, 430)
await shot('probe', 3000)
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Close the card' }).click()
/** Where a place of the meadow is seen on the page, px. */
const seen = (x, z, above = 0) =>
  page.evaluate(([px, pz, up]) => {
    const { landscape, session } = window.waywardMeadow
    const { terrain } = session.store.getState()
    const [i, j] = [Math.round(((px - terrain.bounds.x0) / terrain.sizeX) * (terrain.columns - 1)), Math.round(((pz - terrain.bounds.z0) / terrain.sizeZ) * (terrain.rows - 1))]
    const at = landscape.project(px, pz, terrain.heights[j * terrain.columns + i] + up)
    return [at[0], at[1] + document.querySelector('.picture').getBoundingClientRect().top]
  }, [x, z, above])
const flyTo = async (position, target) => {
  await page.evaluate((view) => window.waywardMeadow.landscape.flyTo(view), { position, target })
  await page.waitForTimeout(3000)
}
// What is done by hand: sown, placed, chosen with handles, swapped.
await flyTo([40, 5.5, 68], [30, 0.5, 55])
await page.getByRole('button', { name: 'A drift of thrift', exact: true }).click()
await page.keyboard.press('s')
await shot('sow', 4000, await seen(28.5, 55.5))
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Close the card' }).click()
await flyTo([27, 3.6, 25], [18, 0.8, 15])
await page.getByRole('button', { name: 'Stones by the hut', exact: true }).click()
await page.keyboard.press('x')
await page.keyboard.press('j')
await shot('place', 5000, await seen(21.8, 18.4))
await page.keyboard.press('j')
await page.keyboard.press('e')
await page.locator('.folds').getByRole('button', { name: 'choose them' }).click()
await shot('choose', 5000)
await page.keyboard.press('Escape')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Close the card' }).click()
// In order: a boardwalk, a base with its hand, a posy open to change.
await flyTo([33, 3.4, 60], [26, 0.8, 34])
await page.getByRole('button', { name: 'Rails of the boardwalk', exact: true }).click()
await page.getByRole('button', { name: 'How many', exact: true }).click()
await shot('trail', 5000)
await page.getByRole('button', { name: 'Close the card' }).click()
await flyTo([6, 4.6, 21], [16.5, 1.4, 13])
await page.getByRole('button', { name: 'Lanterns on the hut', exact: true }).click()
await page.getByRole('button', { name: 'Where', exact: true }).click()
await page.getByRole('button', { name: 'Stand it elsewhere' }).click()
await page.keyboard.press('j')
await shot('base', 5000, await page.evaluate(() => {
  const at = window.waywardMeadow.landscape.project(16, 14.4, 2.4)
  const { left, top } = document.querySelector('.picture').getBoundingClientRect()
  return [at[0] + left, at[1] + top]
}))
await page.keyboard.press('j')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Close the card' }).click()
await flyTo([29, 3.2, 62.5], [28, 0.7, 57.5])
await page.keyboard.press('n')
await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('tussock')
await page.getByRole('button', { name: 'Open Stones and tussocks and change its parts' }).click()
await grown()
await page.mouse.click(...(await seen(28, 57.5)))
await shot('posy', 5000)
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Put it together' }).click()
await grown()
for (let k = 0; k < 2; k++) await page.keyboard.press('Control+z')
await page.getByRole('searchbox', { name: 'Search the nursery' }).fill('')
await page.locator('.picture').focus()
await page.keyboard.press('p')
await page.keyboard.press('Escape')
await flyTo([34, 7, 76], [26, 1, 60])
await page.getByRole('button', { name: 'Saltmarsh grass', exact: true }).click()
await page.keyboard.press('b')
await page.getByRole('button', { name: 'Spring', exact: true }).click()
await page.getByRole('button', { name: 'How it stands', exact: true }).click()
await shot('beacon', 5000)
await page.keyboard.press('p')
await flyTo([22, 6, 58], [13.5, 1, 47])
await page.getByRole('button', { name: 'Barnacles on the hull', exact: true }).click()
await page.keyboard.press('g')
await page.getByRole('button', { name: 'Wrecked hull', exact: true }).click()
await shot('mesh-ground', 5000)
await page.getByRole('button', { name: 'Wrecked hull', exact: true }).click()
await page.getByRole('button', { name: 'Close the card' }).click()
await page.keyboard.press('v')
await page.getByRole('button', { name: 'Over the saltings', exact: true }).click()
await page.waitForTimeout(4000)
await page.keyboard.press('l')
await page.getByRole('button', { name: 'Mown marsh', exact: true }).click()
await shot('outlines', 6000)
await page.keyboard.press('n')
await shot('nursery', 3000)
const model = join(mkdtempSync(join(tmpdir(), 'shot-')), 'Spiky column.glb')
copyFileSync(join(root, 'src/testing/models/cactus.glb'), model)
await file(/^Bring in models/, model)
await shot('import', 4000)
await page.getByRole('button', { name: 'Cancel' }).click()
await page.keyboard.press('a')
await page.waitForTimeout(2500)
await page.getByRole('radio', { name: /Sea lavender/ }).click()
await shot('new-planting', 500)
await page.getByRole('button', { name: 'Cancel' }).click()
await page.getByRole('button', { name: 'Hand off', exact: true }).click()
await shot('handoff')
await page.getByRole('button', { name: 'Back to the field' }).click()
await page.keyboard.press('p')
await page.getByRole('button', { name: 'Dusk paper' }).click()
await page.getByRole('button', { name: 'Marram on the dunes', exact: true }).click()
await shot('field-dusk', 3000)
await page.getByRole('button', { name: 'Light paper' }).click()
/** The picture alone, for the gate. */
const starter = async (kind) => {
  await page.keyboard.press('c')
  await page.waitForTimeout(4000)
  await page.waitForFunction(() => window.waywardMeadow?.landscape.facts().rest !== false, null, { timeout: 30_000 })
  // Without the bars above and below.
  await small(`public/pictures/starters/${kind}.jpg`, 480, { x: 0, y: 34, width: 1280, height: 716 })
  await page.keyboard.press('c')
}
await page.keyboard.press('v')
await page.getByRole('button', { name: 'Up the creek', exact: true }).click()
await page.waitForTimeout(2500)
await starter('saltings')
for (const [kind, name] of [['terraces', 'Thornback Terraces'], ['bog', 'Lapwing Bog'], ['quarry', 'Dunmarl Quarry']]) {
  await page.goto(`http://127.0.0.1:${port}/`)
  await page.getByRole('button', { name: `Start from ${name}` }).click()
  await page.waitForURL(/\/field\//)
  await page.waitForFunction(() => Boolean(window.waywardMeadow))
  await grown()
  await starter(kind)
}
await page.goto(`http://127.0.0.1:${port}/`)
await shot('gate', 2500)
await browser.close()
server.kill()
