import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'

/** What axe finds wrong with a page, with how much of each place. */
export async function axeFaults(page: Page): Promise<{ readonly id: string; readonly places: readonly string[] }[]> {
  // No frames lie within, and only what is wrong is wanted: a quarter of the time.
  const { violations } = await new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ['violations'], preload: false }).analyze()
  return violations.map(({ id, nodes }) => ({ id, places: nodes.map(({ html }) => html.slice(0, 160)) }))
}
