import { test } from '@playwright/test'
import { expect } from './field.ts'

test('twenty visits to the gate and back leave nothing behind', async ({ page }) => {
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
  for (let k = 0; k < 20; k++) {
    await visit()
    if (k < 19) await page.getByRole('link', { name: 'Gate' }).click()
  }
  const after = await atGate()
  expect(after.nodes - before.nodes).toBeLessThan(40)
  expect(after.listeners - before.listeners).toBeLessThan(10)
  expect(after.contexts).toBeLessThanOrEqual(before.contexts)
})
