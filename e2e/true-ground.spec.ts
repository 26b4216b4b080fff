import { test } from '@playwright/test'
import { createTerrain, inHole } from '../src/core/grounds/terrain.ts'
import { readExported } from '../src/testing/exported-ground.ts'
import { expect, handOff, settled, type, card } from './field.ts'

const COLUMNS = 90
const ROWS = 60
const CELL = 30
/** A made-up mountain side of 30 m cells, rough from one to the next, with a lake and a torn corner missing. */
const isGap = (i: number, j: number) => (i - 30) ** 2 + (j - 25) ** 2 < 70 || (i > 60 && j < 20 && (i * 7 + j * 3) % 11 < 4) || i + j < 9
const heights = Float32Array.from({ length: COLUMNS * ROWS }, (_, k) => {
  const [i, j] = [k % COLUMNS, Math.floor(k / COLUMNS)]
  return isGap(i, j) ? NaN : Number((420 + 80 * Math.sin(i / 15) * Math.cos(j / 12) + 9 * Math.sin(i * 12.9898 + j * 78.233)).toFixed(2))
})
const GRID = `ncols ${COLUMNS}\nnrows ${ROWS}\nxllcorner 385000\nyllcorner 6672000\ncellsize ${CELL}\nNODATA_value -9999\n${Array.from({ length: ROWS }, (_, j) => [...heights.subarray(j * COLUMNS, (j + 1) * COLUMNS)].map((h) => (h === h ? h : -9999)).join(' ')).join('\n')}\n`
/** The same in degrees, and an area in the grid's own coordinates. */
const DEGREES = GRID.replace('xllcorner 385000', 'xllcorner 8.2').replace('yllcorner 6672000', 'yllcorner 46.9').replace('cellsize 30', `cellsize ${1 / 3600}`)
const AREA = JSON.stringify({ type: 'Feature', properties: { name: 'Upper alp' }, geometry: { type: 'Polygon', coordinates: [[[386600, 6672300], [386900, 6672300], [386900, 6672600], [386600, 6672600], [386600, 6672300]]] } })

test('a newcomer dresses a real kind of ground, of 30 m with gaps, and hands it off: all stands on what is seen', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New meadow' }).click()
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  const bring = async (button: RegExp, name: string, words: string) => {
    const chooser = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: button }).first().click()
    await (await chooser).setFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(words) })
  }
  await page.getByRole('button', { name: 'Ground', exact: true }).click()

  // Degrees are seen and said.
  await bring(/^Bring in a height file/, 'arc.asc', DEGREES)
  await expect(page.getByText('they are turned into metres as they are at 46.91° north')).toBeVisible()
  await expect(page.getByRole('spinbutton', { name: 'Width, west to east' })).toHaveAttribute('aria-valuenow', /^188[0-9]/)
  await page.getByLabel('Distances are in').selectOption('metres')
  await expect(page.getByText('can hardly be')).toBeVisible()
  await page.getByRole('button', { name: 'Cancel' }).click()

  // Whoever takes it at the first moment takes what was read.
  await page.evaluate(() => {
    const watch = new MutationObserver(() => {
      const take = [...document.querySelectorAll('button')].find(({ textContent, disabled }) => textContent === 'Use this ground' && !disabled)
      if (!take) return
      watch.disconnect()
      take.click()
    })
    watch.observe(document.body, { subtree: true, childList: true, attributes: true })
  })
  await bring(/^Bring in a height file/, 'alp.asc', GRID)
  await expect(page.getByRole('dialog')).toHaveCount(0)
  expect(await page.evaluate(() => window.waywardMeadow?.session.meadow().ground)).toMatchObject({ sizeX: (COLUMNS - 1) * CELL, sizeZ: (ROWS - 1) * CELL })

  await bring(/^Bring in a height file/, 'alp.asc', GRID)
  await expect(page.getByText('samples (7.9 %) have no data').or(page.getByText(/samples \([\d.]+ %\) have no data/))).toBeVisible()
  await page.getByRole('button', { name: 'Use this ground' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)

  // An outline of the same reference meets the ground.
  await page.getByRole('button', { name: 'Outlines', exact: true }).click()
  await bring(/^Bring in outlines/, 'alp.geojson', AREA)
  await expect(page.getByRole('button', { name: 'Upper alp', exact: true })).toBeVisible()
  const line = await page.evaluate(() => window.waywardMeadow?.session.store.getState().history.meadow.outlines[0].lines[0])
  // The middle of the grid is at 386350, 6672900.
  expect(line).toEqual([250, 600, 550, 600, 550, 300, 250, 300])

  await page.getByRole('button', { name: 'Plantings', exact: true }).click()
  await page.getByRole('button', { name: 'Add the first planting' }).click()
  await page.getByRole('radio', { name: /Saltmarsh grass/ }).click()
  await expect(page.getByText(/about every 7 m/)).toBeVisible()
  await page.getByRole('button', { name: 'Let it grow' }).click()
  await settled(page)
  // Nothing grows unseen: the status line says how small, the ground shows where.
  await expect(page.getByText('each smaller than a pixel from here')).toBeVisible({ timeout: 20_000 })
  await page.getByRole('button', { name: 'Come near' }).click()
  await expect(page.getByText('from here')).toHaveCount(0, { timeout: 20_000 })

  await type(page, card(page, 'Saltmarsh grass').getByRole('spinbutton', { name: 'Spacing' }), '14')
  await settled(page)
  const bytes = await handOff(page, 'GLB with instancing')
  const { height, places } = readExported(new Uint8Array(bytes), 'alp')
  const terrain = createTerrain(heights, COLUMNS, ROWS, CELL * (COLUMNS - 1), CELL * (ROWS - 1))
  expect(places.length).toBeGreaterThan(12_000)
  let [inGaps, off, above, worst] = [0, 0, 0, 0]
  for (const [x, y, z] of places) {
    if (inHole(terrain, x, z)) inGaps++
    const ground = height(x, z)
    if (ground === null) {
      off++
      continue
    }
    // Seated by the whole base: at the ground or a little in it, never above.
    above = Math.max(above, y - ground)
    worst = Math.max(worst, Math.abs(y - ground))
  }
  expect({ inGaps, off }).toEqual({ inGaps: 0, off: 0 })
  expect(above).toBeLessThan(0.02)
  expect(worst).toBeLessThan(0.6)
})
