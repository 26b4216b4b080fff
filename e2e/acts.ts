import type { Locator, Page } from '@playwright/test'

/** Counts what a person does: presses of the pointer and of keys, over all pages that are visited. */
export async function countActs(page: Page): Promise<{ tell(task: string): Promise<{ readonly clicks: number; readonly keys: number }>; chosen(): void }> {
  const install = () => {
    const add = (what: 'clicks' | 'keys') => sessionStorage.setItem(what, String(Number(sessionStorage.getItem(what) ?? 0) + 1))
    addEventListener('pointerdown', (event) => event.isTrusted && add('clicks'), { capture: true })
    addEventListener('keydown', (event) => event.isTrusted && !['Shift', 'Control', 'Alt'].includes(event.key) && add('keys'), { capture: true })
  }
  await page.addInitScript(install)
  // A page that is there already counts from now on.
  if (page.url() !== 'about:blank') {
    await page.evaluate(() => sessionStorage.clear())
    await page.evaluate(install)
  }
  let chosen = 0
  return {
    /** A choice from a list of the browser's own takes two clicks that no page sees. */
    chosen: () => void (chosen += 2),
    async tell(task) {
      const seen = await page.evaluate(() => ({ clicks: Number(sessionStorage.getItem('clicks') ?? 0), keys: Number(sessionStorage.getItem('keys') ?? 0) }))
      const acts = { clicks: seen.clicks + chosen, keys: seen.keys }
      console.log(`task “${task}”: ${acts.clicks} clicks, ${acts.keys} keys`)
      return acts
    },
  }
}

/** Presses Tab until what has the focus is called so; by keys alone, as a person would who sees where the focus is. */
export async function tabTo(page: Page, name: RegExp, back = false): Promise<void> {
  for (let k = 0; k < 90; k++) {
    const now = await page.evaluate(() => {
      const at = document.activeElement
      return at?.getAttribute('aria-label') ?? (at instanceof HTMLInputElement ? (at.labels?.[0]?.textContent ?? at.placeholder) : at?.textContent) ?? ''
    })
    if (name.test(now.trim())) return
    await page.keyboard.press(back ? 'Shift+Tab' : 'Tab')
  }
  throw new Error(`no control called ${String(name)} is reached by Tab`)
}

/** The middle of what is seen of an element. */
export async function middleOf(one: Locator): Promise<[number, number]> {
  const box = await one.boundingBox()
  if (!box) throw new Error('the element is not to be seen')
  return [box.x + box.width / 2, box.y + box.height / 2]
}

/** A file that is dropped. */
export interface Dropped {
  readonly name: string
  readonly bytes: Iterable<number>
}

/** Drops files on the field, all at once. */
export async function dropFiles(page: Page, files: readonly Dropped[]): Promise<void> {
  const transfer = await page.evaluateHandle((all) => {
    const data = new DataTransfer()
    for (const { name, base64 } of all) data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name))
    return data
  }, files.map(({ name, bytes }) => ({ name, base64: Buffer.from(Uint8Array.from(bytes)).toString('base64') })))
  await page.dispatchEvent('main.field', 'drop', { dataTransfer: transfer })
}
