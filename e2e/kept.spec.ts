import { test } from '@playwright/test'
import { expect } from './field.ts'
import { ENDS, killRound } from './kill-rounds.ts'

const ROUNDS = Number(process.env.KILL_ROUNDS ?? ENDS.length)

test(`${ROUNDS} ends in the middle of work lose no edit older than 50 ms, and none that was told to be saved`, async ({ baseURL }) => {
  for (let k = 0; k < ROUNDS; k++) {
    const round = await killRound(baseURL ?? '', ENDS[k % ENDS.length], 50 + ((137 * k) % 1500))
    expect(round.made).toBeGreaterThan(5)
    expect({ ...round, made: 0 }).toEqual({ end: round.end, made: 0, lostOld: 0, lostSaved: 0 })
  }
})
