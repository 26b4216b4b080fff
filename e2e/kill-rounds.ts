import type { BrowserContext, Page } from '@playwright/test'
import { chromium } from '@playwright/test'
import { execSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import config from '../playwright.config.ts'

/** Ways in which a page or its browser can come to an end in the middle of work. */
export const ENDS = ['reload', 'navigate', 'close', 'crash', 'kill'] as const
export type End = (typeof ENDS)[number]

/** What became of the edits of one round: how many were lost that were older than the grace, and how many that were told to be saved. */
export interface Round {
  readonly end: End
  readonly made: number
  readonly lostOld: number
  readonly lostSaved: number
}

/** Edits younger than this when the end comes may be lost, ms. */
const GRACE = 50
const EDIT_EVERY = 12

interface Told {
  readonly k: number
  readonly at: number
  readonly saved: number
}

async function launch(profile: string): Promise<BrowserContext> {
  const { launchOptions } = config.use ?? {}
  return chromium.launchPersistentContext(profile, { ...launchOptions, viewport: { width: 900, height: 600 }, serviceWorkers: 'block' })
}

/** Edits a meadow every few milliseconds, ends it in the given way at a moment that `wait` says, opens it again and counts what is there. */
export async function killRound(base: string, end: End, wait: number): Promise<Round> {
  const profile = mkdtempSync(join(tmpdir(), 'meadow-kill-'))
  try {
    const context = await launch(profile)
    const page = await context.newPage()
    await page.goto(base)
    await page.getByRole('button', { name: 'New meadow' }).click()
    await page.waitForFunction(() => window.waywardMeadow?.session.store.getState().save === 'saved' && !window.waywardMeadow.session.store.getState().growing)
    const address = page.url()
    const told: Told[] = []
    await page.exposeFunction('tellEdit', (one: Told) => void told.push(one))
    await page.evaluate(startEditing, EDIT_EVERY)
    // However slow the machine, something has been edited when the end comes.
    while (told.length < 8) await page.waitForTimeout(20)
    await page.waitForTimeout(wait)
    const endedAt = Date.now()
    await bringTo(end, context, page, profile)
    const kept = await levelAfter(end, profile, context, address)
    const made = told.length
    return {
      end,
      made,
      lostOld: told.filter(({ k, at }) => at < endedAt - GRACE && k > kept).length,
      lostSaved: told.filter(({ saved, at }) => at < endedAt && saved > kept).length,
    }
  } finally {
    rmSync(profile, { recursive: true, force: true })
  }
}

/** Runs in the page: the k-th edit sets the water to k hundredths; tells each, with the last that was shown as saved. */
function startEditing(every: number): void {
  const { session } = window.waywardMeadow ?? {}
  if (!session) throw new Error('there is no meadow')
  const tell = (window as unknown as { tellEdit: (one: object) => Promise<void> }).tellEdit
  let k = 0
  let saved = 0
  session.store.subscribe(({ save, history }) => {
    if (save === 'saved') saved = Math.round(100 * history.meadow.water.level)
  })
  setInterval(() => {
    k++
    session.edit('Change the water level', (meadow) => void (meadow.water.level = k / 100))
    void tell({ k, at: Date.now(), saved })
  }, every)
}

async function bringTo(end: End, context: BrowserContext, page: Page, profile: string): Promise<void> {
  if (end === 'reload') await page.reload({ waitUntil: 'commit' })
  else if (end === 'navigate') await page.goto('about:blank')
  else if (end === 'close') await page.close()
  else if (end === 'crash') await page.goto('chrome://crash').catch(() => undefined)
  else {
    process.kill(browserOf(profile), 'SIGKILL')
    await context.close().catch(() => undefined)
  }
}

/** The process of the browser that has a profile, by its command line. */
function browserOf(profile: string): number {
  const list = execSync('ps -eo pid,args --no-headers', { encoding: 'utf8' }).split('\n')
  const line = list.find((one) => one.includes(`--user-data-dir=${profile}`) && !one.includes('--type='))
  if (!line) throw new Error('the browser is not to be found')
  return Number(line.trim().split(/\s+/)[0])
}

async function levelAfter(end: End, profile: string, context: BrowserContext, address: string): Promise<number> {
  const again = end === 'kill' ? await launch(profile) : context
  const page = await again.newPage()
  await page.goto(address)
  await page.waitForFunction(() => window.waywardMeadow !== undefined)
  const level = await page.evaluate(() => window.waywardMeadow?.session.store.getState().history.meadow.water.level ?? 0)
  await again.close()
  return Math.round(100 * level)
}
