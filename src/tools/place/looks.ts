import type { Desk } from '../define.ts'
import { openOf, setToolValue } from '../define.ts'
import { snapValues, stepped } from '../snap/settings.ts'
import type { Look } from './stand.ts'
import { thrown } from './stand.ts'

/** How the next things that are placed are turned and sized. */
export interface Looks {
  now(): Look
  /** That of the one of a number in a run or a row: as the first where all are as shown. */
  of(k: number): Look
  /** Turns or sizes the next one by hand: from then on all come as shown, in steps where things are set to them. */
  change(by: Partial<Look>): void
  /** Throws the dice for the next ones, where they come at random. */
  again(): void
}

export function createLooks({ session, state }: Desk, drawn: () => 'random' | 'shown'): Looks {
  const fresh = () => thrown(openOf({ session, state }))
  let look = fresh()
  let others: Look[] = []
  return {
    now: () => look,
    of(k) {
      if (drawn() === 'shown') return look
      while (others.length <= k) others.push(fresh())
      return others[k]
    },
    change(by) {
      const { on, turn, size } = snapValues(state)
      const next = { ...look, ...by }
      look = on ? { ...next, turn: stepped(next.turn, turn), size: Math.max(size, stepped(next.size, size)) } : next
      setToolValue(state, 'place', 'drawn', 'shown')
    },
    again() {
      if (drawn() === 'random') look = fresh()
      others = []
    },
  }
}
