import { test } from '@playwright/test'
import { card, expect, openDrawer, settled, type } from './field.ts'
import { startSmall, TEST } from './small-ground.ts'

test('ten visits to the gate and back leave nothing behind', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New meadow' }).click()
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Performance.enable')
  const atGate = async () => {
    await page.getByRole('link', { name: 'Gate' }).click()
    await page.getByRole('link', { name: 'Open New meadow' }).first().waitFor()
    // The picture gives its graphics back half a second after it is gone.
    await page.waitForTimeout(900)
    for (let k = 0; k < 3; k++) await cdp.send('HeapProfiler.collectGarbage')
    const { metrics } = await cdp.send('Performance.getMetrics')
    const of = (name: string) => metrics.find((one) => one.name === name)?.value ?? 0
    const prototype = await cdp.send('Runtime.evaluate', { expression: 'WebGL2RenderingContext.prototype' })
    const { objects } = await cdp.send('Runtime.queryObjects', { prototypeObjectId: prototype.result.objectId ?? '' })
    const counted = await cdp.send('Runtime.callFunctionOn', { objectId: objects.objectId, functionDeclaration: 'function () { return this.filter((gl) => !gl.isContextLost()).length }', returnByValue: true })
    await cdp.send('Runtime.releaseObject', { objectId: objects.objectId ?? '' })
    return { nodes: of('Nodes'), listeners: of('JSEventListeners'), contexts: Number(counted.result.value) }
  }
  const visit = async () => {
    await page.getByRole('link', { name: 'Open New meadow' }).first().click()
    await page.waitForFunction(() => window.waywardMeadow !== undefined)
    await page.waitForTimeout(250)
  }
  // The first visits load what is kept for good.
  for (let k = 0; k < 3; k++) {
    await atGate()
    await visit()
  }
  const before = await atGate()
  for (let k = 0; k < 10; k++) {
    await visit()
    if (k < 9) await page.getByRole('link', { name: 'Gate' }).click()
  }
  const after = await atGate()
  expect(after.nodes - before.nodes).toBeLessThan(40)
  expect(after.listeners - before.listeners).toBeLessThan(10)
  expect(after.contexts).toBeLessThanOrEqual(before.contexts)
})

test('forty edits leave nothing on the graphics card', async ({ page }) => {
  await startSmall(page, '3')
  const spacing = () => card(page, TEST).getByRole('spinbutton', { name: 'Spacing' })
  const atRest = async () => {
    await settled(page)
    await page.waitForFunction(() => window.waywardMeadow?.landscape.facts().rest)
    return page.evaluate(() => window.waywardMeadow?.landscape.onCard() ?? { geometries: 0, textures: 0 })
  }
  const round = async () => {
    await type(page, spacing(), '4')
    await settled(page)
    await page.keyboard.press('Control+z')
    await settled(page)
    await openDrawer(page, 'Ground')
    await page.getByText('Show the water', { exact: true }).click()
    await page.keyboard.press('Control+z')
    await openDrawer(page, 'Plantings')
    // The colour of the habitat on the ground, on and off.
    await page.keyboard.press('i')
    await page.waitForTimeout(80)
    await page.keyboard.press('i')
  }
  for (let k = 0; k < 2; k++) await round()
  const before = await atRest()
  expect(before.geometries).toBeGreaterThan(5)
  for (let k = 0; k < 8; k++) await round()
  const after = await atRest()
  expect(after.geometries - before.geometries).toBeLessThan(6)
  expect(after.textures - before.textures).toBeLessThan(3)
})
