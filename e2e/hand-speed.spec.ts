import type { Page } from '@playwright/test'
import { test } from '@playwright/test'
import { expect, settled } from './field.ts'
import { startSmall, TEST } from './small-ground.ts'

/** How quickly the hand is followed in a meadow with a million instances; figures are printed, for `docs/performance.md`. */

test.use({ viewport: { width: 1280, height: 800 } })

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

/** Sets the open planting so close that a million of it grow. */
async function fill(page: Page): Promise<number> {
  await page.evaluate((name) => {
    const { session } = window.waywardMeadow!
    session.edit('Fill', (draft) => {
      const planting = draft.plantings.find((one) => one.name === name)
      if (planting) Object.assign(planting.params, { spacing: 0.08, room: 0 })
    })
  }, TEST)
  await page.waitForFunction(() => {
    const { growing, plantings } = window.waywardMeadow!.session.store.getState()
    return !growing && Object.values(plantings).reduce((sum, { count }) => sum + count, 0) > 9e5
  }, null, { timeout: 120_000 })
  await page.waitForTimeout(3000)
  return page.evaluate(() => Object.values(window.waywardMeadow!.session.store.getState().plantings).reduce((sum, { count }) => sum + count, 0))
}

/** Waits until the picture is drawn in full and the page is idle, so that what is measured next waits for nothing before it. */
async function atRest(page: Page): Promise<void> {
  await settled(page)
  await page.waitForFunction(() => window.waywardMeadow!.landscape.facts().rest)
  await page.evaluate(() => new Promise((resolve) => requestIdleCallback(resolve, { timeout: 1000 })))
}

/** Draws the handle to the east some way and back, and lets it be. */
async function drawHandle(page: Page): Promise<void> {
  const box = await page.locator('[data-grip="chosen-handle move x"] .tip').boundingBox()
  if (!box) throw new Error('no handle is shown')
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let k = 1; k <= 40; k++) await page.mouse.move(x + 3 * (k <= 20 ? k : 40 - k), y)
}

/** How long frames take while something is done, beside those of moving the picture. */
async function framesWhile(page: Page, act: () => Promise<void>): Promise<string> {
  const measure = async (work: () => Promise<void>) => {
    await page.evaluate(() => {
      const times: number[] = []
      const stop = window.waywardMeadow!.landscape.onDrawn(() => void times.push(performance.now()))
      Object.assign(window, { frames: { times, stop } })
    })
    await work()
    const times = await page.evaluate(() => {
      const { times, stop } = (window as unknown as { frames: { times: number[]; stop: () => void } }).frames
      stop()
      return times
    })
    return median(times.slice(1).map((time, k) => time - times[k]))
  }
  const handle = await measure(act)
  await page.mouse.up()
  await settled(page)
  await page.keyboard.press('Control+z')
  await settled(page)
  const moving = await measure(async () => {
    await page.mouse.move(800, 400)
    await page.mouse.down({ button: 'right' })
    for (let k = 1; k <= 40; k++) await page.mouse.move(800 + 2 * (k <= 20 ? k : 40 - k), 400)
    await page.mouse.up({ button: 'right' })
  })
  return `a frame every ${handle.toFixed(0)} ms while it is drawn, every ${moving.toFixed(0)} ms while the picture is moved`
}

test('a dab among a million, a pick, a box of a hundred thousand, ten thousand strokes @long', async ({ page }) => {
  test.setTimeout(600_000)
  await startSmall(page)
  const instances = await fill(page)
  await page.getByRole('radio', { name: 'Sow', exact: true }).click()
  await page.getByRole('button', { name: /^What the brush does: / }).click()
  const frame = await page.locator('.picture').boundingBox()
  const [x0, y0] = [(frame?.x ?? 0) + 560, (frame?.y ?? 0) + 420]
  await page.evaluate(() => {
    const tasks: number[] = []
    Object.assign(window, { tasks })
    new PerformanceObserver((list) => list.getEntries().forEach(({ duration }) => tasks.push(duration))).observe({ type: 'longtask' })
  })
  const dabs: number[] = []
  const growing: number[] = []
  const alone: number[] = []
  let tiles = 0
  for (let k = 0; k < 50; k++) {
    const [x, y] = [x0 + 22 * (k % 10), y0 + 24 * Math.floor(k / 10)]
    await page.mouse.move(x, y)
    await atRest(page)
    const before = await page.evaluate(() => {
      const { session, landscape } = window.waywardMeadow!
      const watch = { pressed: 0, told: 0, drawn: 0 }
      Object.assign(window, { watch })
      addEventListener('pointerdown', () => void (watch.pressed = performance.now()), { capture: true, once: true })
      const stopListening = session.instances.listen(() => {
        if (watch.pressed && !watch.told) {
          watch.told = performance.now()
          stopListening()
          const stop = landscape.onDrawn(() => {
            stop()
            // The next task begins once the frame is drawn, which the processor does here.
            setTimeout(() => (watch.drawn = performance.now()))
          })
        }
      })
      return session.meadow().strokes.length
    })
    await page.mouse.down()
    await page.mouse.up()
    await expect.poll(() => page.evaluate(() => (window as unknown as { watch: { drawn: number } }).watch.drawn), { timeout: 20_000 }).toBeGreaterThan(0)
    await settled(page)
    expect(await page.evaluate(() => window.waywardMeadow!.session.meadow().strokes.length)).toBe(before + 1)
    const { pressed, told, drawn } = await page.evaluate(() => (window as unknown as { watch: { pressed: number; told: number; drawn: number } }).watch)
    dabs.push(drawn - pressed)
    growing.push(told - pressed)
    const last = await page.evaluate(() => window.waywardMeadow!.session.store.getState().lastGrowing)
    tiles = Math.max(tiles, last?.tiles ?? 0)
    alone.push(last?.milliseconds ?? 0)
  }
  const long = await page.evaluate(() => (window as unknown as { tasks: number[] }).tasks)
  console.log(`a dab among ${instances.toLocaleString('en')}: in the picture after ${median(dabs).toFixed(0)} ms (median of 50; longest ${Math.max(...dabs).toFixed(0)}), the first of it told after ${median(growing).toFixed(0)} ms, all grown in ${median(alone).toFixed(0)} ms with a frame in between, at most ${tiles} tiles; tasks over 50 ms: ${long.length}${long.length > 0 ? `, longest ${Math.max(...long).toFixed(0)} ms` : ''}`)

  await page.getByRole('radio', { name: 'Choose', exact: true }).click()
  await atRest(page)
  const picks = await page.evaluate(() => {
    const frame = document.querySelector('.picture') as HTMLElement
    const took: number[] = []
    for (let k = 0; k < 60; k++) {
      const event = new PointerEvent('pointermove', { clientX: 300 + 9 * k, clientY: 380 + 5 * k, bubbles: true, pointerType: 'mouse' })
      const start = performance.now()
      frame.dispatchEvent(event)
      took.push(performance.now() - start)
    }
    return took
  })
  console.log(`what is under the pointer among ${instances.toLocaleString('en')}: ${median(picks).toFixed(1)} ms (median of 60)`)
  for (const [wide, high] of [[300, 200], [700, 420]]) {
    await page.mouse.move(300, 330)
    await page.mouse.down()
    await page.mouse.move(300 + wide, 330 + high, { steps: 3 })
    await atRest(page)
    await page.evaluate(() => {
      const watch = { took: 0 }
      Object.assign(window, { watch })
      // How long the release is worked at; the frame after it is drawn apart.
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries() as PerformanceEventTiming[]) if (entry.name === 'pointerup') watch.took = entry.processingEnd - entry.processingStart
      }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit)
    })
    await page.mouse.up()
    await page.waitForTimeout(1500)
    const took = await page.evaluate(() => (window as unknown as { watch: { took: number } }).watch.took)
    const chosen = /^([\d,]+) chosen/.exec(await page.getByRole('region', { name: 'What is chosen' }).innerText())?.[1]
    console.log(`a box around ${chosen}: ${took.toFixed(0)} ms`)
    console.log(`a handle of ${chosen}: ${await framesWhile(page, () => drawHandle(page))}`)
    await page.keyboard.press('Escape')
  }

  const strokes = await page.evaluate(async () => {
    const { session } = window.waywardMeadow!
    const [planting] = session.meadow().plantings
    session.edit('Many strokes', (draft) => {
      draft.plantings[0].params.spacing = 0.8
      for (let k = 0; k < 10_000 - session.meadow().strokes.length; k++) {
        const [x, z] = [-48 + 96 * ((k * 0.7548) % 1), -48 + 96 * ((k * 0.5698) % 1)]
        draft.strokes.push({ id: `many ${k}`, name: '', planting: planting.id, act: k % 3 === 0 ? 'thin' : 'sow', ground: 'terrain', width: 1.5, soft: 0.4, strength: 0.6, only: [], lines: [[x, 0, z, 0, 1, 0, 1, x + 1, 0, z + 0.5, 0, 1, 0, 1, x + 1.5, 0, z + 1.5, 0, 1, 0, 1]] })
      }
    })
    const start = performance.now()
    await new Promise((resolve) => setTimeout(resolve, 100))
    while (session.store.getState().growing) await new Promise((resolve) => setTimeout(resolve, 20))
    return { took: performance.now() - start, count: session.meadow().strokes.length, bytes: JSON.stringify(session.meadow().strokes).length }
  })
  console.log(`${strokes.count.toLocaleString('en')} strokes grow in ${strokes.took.toFixed(0)} ms, ${(strokes.bytes / strokes.count).toFixed(0)} bytes each`)
  await settled(page)
  const opened = Date.now()
  await page.reload()
  await page.waitForFunction(() => window.waywardMeadow?.session.store.getState().growing === false)
  console.log(`and are opened again with all that grew after ${Date.now() - opened} ms`)
  expect(await page.evaluate(() => window.waywardMeadow!.session.meadow().strokes.length)).toBe(10_000)
})
