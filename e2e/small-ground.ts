import type { Page } from '@playwright/test'
import { decode } from 'fast-png'
import { createTerrain } from '../src/core/grounds/terrain.ts'
import { card, choose, expect, handOff, openDrawer, openFold, readCsv, settled, type } from './field.ts'

/** A small meadow that tests of single things grow on, and what they do in it. */

const SIDE = 81
const CELL = 1.25
/** Heights of the ground, m: 100 m × 100 m, rising eastward in waves. */
export const heightOf = (x: number, z: number) => 0.12 * (x + 50) + 2.5 * Math.sin(z / 7)
const heights = Float32Array.from({ length: SIDE * SIDE }, (_, i) => Number(heightOf((i % SIDE) * CELL - 50, Math.floor(i / SIDE) * CELL - 50).toFixed(3)))
export const terrain = createTerrain(heights, SIDE, SIDE, 100, 100)
export const GRID = `ncols ${SIDE}\nnrows ${SIDE}\nxllcorner 0\nyllcorner 0\ncellsize ${CELL}\n${Array.from({ length: SIDE }, (_, r) => [...heights.subarray(r * SIDE, (r + 1) * SIDE)].map((h) => h.toFixed(3)).join(' ')).join('\n')}\n`
// A light asset, so that the processor has time for the rest.
export const TEST = 'Cordgrass'

export interface Place {
  readonly x: number
  readonly y: number
  readonly z: number
  /** Quaternion x y z w. */
  readonly turn: readonly number[]
  readonly scale: readonly number[]
  /** The scale along its own x. */
  readonly size: number
  readonly tint: string
}

/** Where the instances of a planting stand, as the handed-off table says. */
export async function places(page: Page, planting = TEST): Promise<Place[]> {
  await settled(page)
  return readCsv(await handOff(page, 'Table (CSV)', planting)).filter((row) => row.planting === planting).map(({ numbers: n, tint }) => ({ x: n[0], y: n[1], z: n[2], turn: n.slice(3, 7), scale: n.slice(7, 10), size: n[7], tint }))
}

export async function giveFile(page: Page, button: string, name: string, buffer: Buffer): Promise<void> {
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: button }).click()
  await (await chooser).setFiles({ name, mimeType: 'application/octet-stream', buffer })
}

/** A new meadow on the small ground, with one planting of shrubs. */
export async function startSmall(page: Page, spacing = '2', home = '/'): Promise<void> {
  await page.goto(home)
  await page.getByRole('button', { name: 'New meadow', exact: true }).click()
  await page.waitForURL(/\/field\//)
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Bring in a height file', 'waves.asc', Buffer.from(GRID))
  await page.getByRole('button', { name: 'Use this ground' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await openDrawer(page, 'Nursery')
  await page.getByRole('button', { name: `Spread ${TEST}` }).click()
  await openFold(page, TEST, 'Where')
  await type(page, card(page, TEST).getByRole('spinbutton', { name: 'Spacing' }), spacing)
  await settled(page)
}

/** The small ground with nothing to be seen on it, looked at from a place. */
export async function startBare(page: Page, position: readonly [number, number, number], target: readonly [number, number, number] = [4, 6, 0]): Promise<void> {
  await startSmall(page, '6')
  await openDrawer(page, 'Plantings')
  await card(page, TEST).getByRole('button', { name: 'Hide', exact: true }).click()
  await page.evaluate((view) => window.waywardMeadow!.landscape.flyTo({ position: view.position, target: view.target }), { position: [...position] as [number, number, number], target: [...target] as [number, number, number] })
  await page.waitForTimeout(700)
}

export const add = (page: Page, condition: string) => choose(page, page.getByRole('button', { name: 'Add a condition', exact: true }), condition)
export const clear = (page: Page) => choose(page, page.getByRole('button', { name: /^What to do with the condition/ }).first(), 'Remove')
export const inFolds = (page: Page, name: string) => page.locator('.folds').getByRole('spinbutton', { name, exact: true })

/** Share of the page that has the colour of a tint. */
export async function orange(page: Page): Promise<number> {
  await page.waitForTimeout(1500)
  await page.waitForFunction(() => window.waywardMeadow?.landscape.facts().rest)
  await page.waitForTimeout(500)
  const { data, width, height, channels } = decode(await page.screenshot())
  let count = 0
  for (let i = 0; i < width * height; i++) {
    const [r, g, b] = [data[i * channels], data[i * channels + 1], data[i * channels + 2]]
    if (r > 120 && r > 1.7 * g && r > 2.5 * b) count++
  }
  return count / (width * height)
}

/** A block of 12 × 8 × 12 m that stands on its floor, as a model file. */
const CORNERS = Array.from({ length: 8 }, (_, i) => `v ${i & 1 ? 6 : -6} ${i & 2 ? 8 : 0} ${i & 4 ? 6 : -6}`)
const BLOCK = [...CORNERS, ...['1 5 7 3', '2 4 8 6', '1 2 6 5', '3 7 8 4', '1 3 4 2', '5 6 8 7'].map((face) => `f ${face}`)].join('\n')

/** Brings the block in and stands it in the meadow. */
export async function standBlock(page: Page): Promise<void> {
  await openDrawer(page, 'Ground')
  await giveFile(page, 'Bring in a mesh to stand here (GLB, glTF, OBJ, PLY, STL)', 'block.obj', Buffer.from(BLOCK))
  await page.getByRole('dialog').getByRole('button', { name: 'Stand it in the meadow' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
}
