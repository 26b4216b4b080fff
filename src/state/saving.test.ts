import { jest } from '@jest/globals'
import type { Meadow } from '../core/meadow.ts'
import { newMeadow } from '../document/new-planting.ts'
import type { JournalEntry, MeadowStore } from '../storage/store.ts'
import { LossError } from '../storage/store.ts'
import { createSaving } from './saving.ts'

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())

const meadow = newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 40 })
const patch = (k: number) => [{ op: 'replace' as const, path: ['name'], value: `${k}` }]

function bench() {
  const wrote: { readonly seq: number; readonly at: number }[] = []
  const noted: JournalEntry[] = []
  const heard: string[] = []
  const fail = { note: null as Error | null, write: null as Error | null }
  const begun = Date.now()
  const store = {
    async write(_meadow: Meadow, _owner: string, seq: number) {
      if (fail.write) throw fail.write
      wrote.push({ seq, at: Date.now() - begun })
    },
    async note(entry: JournalEntry) {
      if (fail.note) throw fail.note
      noted.push(entry)
    },
  } as unknown as MeadowStore
  const saving = createSaving(store, 'owner', () => meadow, { onKept: (kept, sentence) => void heard.push(sentence ? `${kept}: ${sentence}` : kept), onLoss: (reason) => void heard.push(`lost: ${reason}`) })
  const pass = (milliseconds: number) => jest.advanceTimersByTimeAsync(milliseconds)
  return { wrote, noted, heard, fail, saving, pass }
}

describe('saving', () => {
  it('hands every edit over in its own turn, numbered, and the whole once it is quiet', async () => {
    const { noted, wrote, heard, saving, pass } = bench()
    for (let k = 1; k <= 3; k++) {
      saving.note(patch(k))
      expect(noted.length).toBe(k)
      await pass(200)
    }
    expect(noted.map(({ seq, patches }) => [seq, patches])).toEqual([[1, patch(1)], [2, patch(2)], [3, patch(3)]])
    expect(wrote).toEqual([])
    await pass(400)
    expect(wrote.map(({ seq }) => seq)).toEqual([3])
    expect(heard.at(-1)).toBe('saved')
    expect(saving.pending()).toBe(false)
    await pass(60_000)
    expect(wrote.length).toBe(1)
  })

  it('is pending until the edit is noted', async () => {
    const { heard, saving, pass } = bench()
    saving.note(patch(1))
    expect([saving.pending(), heard]).toEqual([true, ['saving']])
    await pass(1)
    expect([saving.pending(), heard]).toEqual([false, ['saving', 'saved']])
  })

  it('writes the whole at the latest after so many edits, however fast they follow each other', async () => {
    const { wrote, saving, pass } = bench()
    for (let k = 1; k <= 1300; k++) {
      saving.note(patch(k))
      await pass(5)
    }
    expect(wrote.length).toBeGreaterThanOrEqual(3)
    expect(wrote[0].seq).toBeLessThanOrEqual(402)
  })

  it('at once when it is told to, and not again when nothing has come since', async () => {
    const { wrote, saving } = bench()
    saving.note(patch(1))
    await saving.flush()
    await saving.flush()
    expect(wrote.map(({ seq }) => seq)).toEqual([1])
  })

  it('what fails is told, and tried again by itself, more and more seldom, until it works', async () => {
    const { wrote, heard, fail, saving, pass } = bench()
    fail.write = new Error('the disk is full')
    saving.note(patch(1))
    await pass(500)
    expect(heard.at(-1)).toContain('failed')
    expect(saving.pending()).toBe(true)
    const told = () => heard.filter((one) => one.startsWith('failed')).length
    const before = told()
    // After 1.5, 3, 6, 12 and 24 seconds, then every half a minute.
    await pass(46_600)
    expect(told() - before).toBe(5)
    await pass(90_000)
    expect(told() - before).toBe(8)
    fail.write = null
    await pass(30_000)
    expect(wrote.map(({ seq }) => seq)).toEqual([1])
    expect(heard.at(-1)).toBe('saved')
    expect(saving.pending()).toBe(false)
  })

  it('a journal that cannot be written has the whole written soon', async () => {
    const { wrote, fail, saving, pass } = bench()
    fail.note = new Error('no room')
    saving.note(patch(1))
    await pass(1)
    expect(saving.pending()).toBe(true)
    await pass(1600)
    expect(wrote.map(({ seq }) => seq)).toEqual([1])
    expect(saving.pending()).toBe(false)
  })

  it('stops for good when the meadow is gone or another’s', async () => {
    for (const reason of ['gone', 'taken'] as const) {
      const { wrote, noted, heard, fail, saving, pass } = bench()
      fail.write = new LossError(reason, 'It is gone.')
      saving.note(patch(1))
      await pass(500)
      expect(heard.at(-1)).toBe(`lost: ${reason}`)
      fail.write = null
      saving.note(patch(2))
      await pass(60_000)
      expect([wrote.length, noted.length]).toEqual([0, 1])
    }
  })

  it('writes nothing once it is stopped', async () => {
    const { wrote, saving, pass } = bench()
    saving.note(patch(1))
    saving.stop()
    await pass(60_000)
    expect(wrote).toEqual([])
  })
})
