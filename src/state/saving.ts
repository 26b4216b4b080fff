import type { Patch } from 'immer'
import type { Meadow } from '../core/meadow.ts'
import { tellProblem } from '../document/log.ts'
import type { LossReason, MeadowStore } from '../storage/store.ts'
import { LossError } from '../storage/store.ts'

/** What becomes of the edits: kept, on their way, or why not. */
export type Kept = 'saved' | 'saving' | 'failed'

export interface SavingEvents {
  onKept(kept: Kept, sentence: string | null): void
  /** The meadow is gone or another's: nothing is written any more. */
  onLoss(reason: LossReason, sentence: string): void
}

export interface Saving {
  /** Notes an edit at once, and has the whole written a while later. */
  note(patches: readonly Patch[]): void
  /** Writes the whole at once when anything was noted since the last time. */
  flush(): Promise<void>
  /** Whether something that was noted is not known to be kept. */
  pending(): boolean
  stop(): void
}

/** The whole is written so long after the last edit, ms, and after so many edits at the latest. */
const WHOLE_AFTER = 400
const MOST_NOTES = 400
/** Between one try that failed and the next, ms; doubled each time. */
const RETRY = { first: 1500, most: 30000 }

/**
 * Keeps the edits of one meadow: each is handed to the store's journal in the same turn in which it is
 * made, and the whole document follows when there is time. What fails is tried again by itself.
 */
export function createSaving(store: MeadowStore, owner: string, current: () => Meadow, events: SavingEvents): Saving {
  let seq = 0
  let written = 0
  let inFlight = 0
  let failed = false
  let stopped = false
  let retryAfter = RETRY.first
  let timer: ReturnType<typeof setTimeout> | null = null
  let writing: Promise<void> = Promise.resolve()

  function schedule(after: number): void {
    if (stopped) return
    if (timer) clearTimeout(timer)
    timer = setTimeout(() => void flush(), after)
  }

  function lose(error: LossError): void {
    stopped = true
    if (timer) clearTimeout(timer)
    events.onLoss(error.reason, error.sentence)
  }

  function fail(error: unknown): void {
    if (stopped) return
    if (error instanceof LossError) return lose(error)
    failed = true
    events.onKept('failed', tellProblem(error, 'Saving'))
    schedule(retryAfter)
    retryAfter = Math.min(RETRY.most, 2 * retryAfter)
  }

  function flush(): Promise<void> {
    if (timer) clearTimeout(timer)
    timer = null
    writing = writing.then(async () => {
      if (stopped || (written === seq && !failed)) return
      const upTo = seq
      try {
        await store.write(current(), owner, upTo)
        written = upTo
        failed = false
        retryAfter = RETRY.first
        if (upTo === seq) events.onKept('saved', null)
      } catch (error) {
        fail(error)
      }
    })
    return writing
  }

  return {
    note(patches) {
      if (stopped) return
      seq++
      inFlight++
      if (!failed) events.onKept('saving', null)
      store.note({ meadow: current().id, owner, seq, patches }).then(
        () => {
          inFlight--
          if (inFlight === 0 && !failed && !stopped) events.onKept('saved', null)
        },
        (error: unknown) => {
          inFlight--
          fail(error)
        },
      )
      if (seq - written > MOST_NOTES) void flush()
      else if (!failed) schedule(WHOLE_AFTER)
    },
    flush,
    pending: () => inFlight > 0 || failed,
    stop() {
      stopped = true
      if (timer) clearTimeout(timer)
    },
  }
}
