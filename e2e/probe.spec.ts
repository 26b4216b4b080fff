import { test } from '@playwright/test'
import { card, expect, openDemo } from './field.ts'

test('one key and a click tell why nothing grows there, and lead to the field that decides', async ({ page }) => {
  await openDemo(page)
  await card(page, 'Sea lavender and thrift').getByRole('button', { name: 'Sea lavender and thrift', exact: true }).click()
  await page.waitForFunction(() => window.waywardMeadow?.landscape.facts().rest)
  await page.keyboard.press('y')
  await expect(page.locator('.picture[data-tool=ask]')).toBeVisible()
  // The creek, in the view that the demo opens with.
  await page.mouse.click(620, 400)
  const probe = page.getByRole('region', { name: 'Why here, why not here' })
  await expect(probe).toContainText('No Sea lavender and thrift here')
  const first = probe.getByRole('listitem').first()
  await expect(first).toContainText(/refuses/)
  await expect(first).toContainText(/Height above water: [\d.]+\sm under the water/)
  await expect(first).toContainText('wanted: 0.5–1.4 m above the water')
  await expect(probe).toContainText(/(clear of|far from) “Fishers’ hut”/)
  await first.getByRole('button').click()
  await expect(page.getByRole('spinbutton', { name: 'Above the water, from' }).last()).toBeFocused()

  // The condition is switched off: the answer changes at once, and the next one decides or none does.
  await page.getByRole('checkbox', { name: 'Height above water on' }).uncheck()
  await expect(probe).not.toContainText('under the water')

  // Where one of them stands in sight; the condition is back, by key, though the tick has the focus.
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('checkbox', { name: 'Height above water on' })).toBeChecked()
  const [x, y] = await page.evaluate(() => {
    const { landscape, session } = window.waywardMeadow!
    for (const { block } of session.instances.tiles.get('lavender')?.values() ?? [])
      for (let i = 0; i < block.count; i++) {
        const [px, pz] = [block.position[3 * i], block.position[3 * i + 2]]
        const seen = landscape.project(px, pz)
        if (!seen || seen[0] < 320 || seen[0] > 590 || seen[1] < 250 || seen[1] > 700) continue
        const met = landscape.pick(seen[0], seen[1])
        if (met && Math.hypot(met.x - px, met.z - pz) < 0.3) return seen
      }
    return [0, 0]
  })
  expect(x).toBeGreaterThan(0)
  const box = await page.locator('.picture').boundingBox()
  await page.mouse.click(x + (box?.x ?? 0), y + (box?.y ?? 0))
  await expect(probe.getByRole('listitem').first()).not.toContainText('refuses')
  await page.keyboard.press('Escape')
  await expect(probe).toBeHidden()
})
