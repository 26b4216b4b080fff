import { hashValue } from '../core/content-hash.ts'
import type { Meadow } from '../core/meadow.ts'
import type { History } from '../document/history.ts'
import { tellProblem } from '../document/log.ts'
import type { MeadowStore } from '../storage/store.ts'
import { GONE, TAKEN } from '../storage/store.ts'
import type { SaveState } from './field-state.ts'
import { notify } from './notices.ts'
import type { Leave } from './open-document.ts'
import type { Saving } from './saving.ts'
import { createSaving } from './saving.ts'
import type { LockEvents } from './tab-lock.ts'

/** The right of this tab to write the meadow, and its saving as long as it has it. */
export interface WriteRight extends LockEvents {
  leave(): Leave
  /** Begins to save: this tab writes from now on. */
  begin(): void
  /** Reads what another tab has saved, then begins. */
  takeAnew(): Promise<void>
  /** Waits for the right: changes wait with it. */
  ask(): void
  /** The meadow is no longer in the store. */
  gone(): void
  note(change: History['change']): void
  flush(): Promise<void>
  stop(): void
  /** Whether anything is not written yet. */
  pending(): boolean
  /** Whether this tab writes. */
  mine(): boolean
  /** Whether what is seen may be changed here. */
  holds(): boolean
}

interface RightOptions {
  readonly id: string
  readonly owner: string
  readonly store: MeadowStore
  readonly current: () => Meadow
  readonly told: () => SaveState
  readonly tell: (save: SaveState, sentence: string | null) => void
  /** Another tab had changed it. */
  readonly onAnother: (meadow: Meadow) => void
  /** What waited can be done. */
  readonly onBegun: () => void
}

export function createWriteRight({ id, owner, store, current, told, tell, onAnother, onBegun }: RightOptions): WriteRight {
  let saving: Saving | null = null
  let mine = false
  /** Edits made while the meadow is being taken over wait until it has been read again. */
  let taking = false
  /** Whether it was granted, and how often it has come and gone. */
  let held = false
  let turns = 0

  const kept = (save: SaveState, sentence: string | null) => {
    // Where the browser keeps nothing, what was written lasts as long as the tab.
    if (save === 'saved' && !store.lasting) tell('tab-only', store.sentence)
    else tell(save, sentence)
  }

  const right: WriteRight = {
    leave: () => (taking ? 'later' : mine || told() === 'gone' ? 'now' : 'never'),
    begin() {
      mine = held = true
      saving?.stop()
      saving = createSaving(store, owner, current, {
        onKept(now, sentence) {
          if (now === 'failed' && told() !== 'failed' && sentence) notify('warning', sentence)
          if (mine) kept(now, sentence)
        },
        onLoss(reason, sentence) {
          mine = false
          kept(reason === 'gone' ? 'gone' : 'elsewhere', sentence)
          notify('warning', sentence)
        },
      })
      kept('saved', null)
      taking = false
      onBegun()
    },
    async takeAnew() {
      const turn = ++turns
      held = true
      right.ask()
      try {
        const fresh = await store.take(id, owner)
        // The right went to another tab while the meadow was read: this one must not write.
        if (turn !== turns) return
        if (!fresh) return right.gone()
        if (hashValue(fresh.meadow) !== hashValue(current())) onAnother(fresh.meadow)
        right.begin()
      } catch (error) {
        kept('failed', tellProblem(error, 'Taking the meadow over'))
      }
    },
    ask() {
      taking = true
      kept('taking', null)
    },
    gone() {
      mine = false
      saving?.stop()
      if (told() !== 'gone') notify('warning', GONE)
      kept('gone', GONE)
      taking = false
      // What waited is changed in this tab, from where the meadow can be kept again.
      onBegun()
    },
    note: (change) => saving?.note(change),
    flush: async () => saving?.flush(),
    stop: () => saving?.stop(),
    pending: () => saving?.pending() ?? false,
    mine: () => mine,
    holds: () => mine || taking,
    // The browser may grant it twice, to a tab that waited and asked: what is under way or done is not done again.
    onGained: () => void (held || right.takeAnew()),
    onLost(how) {
      turns++
      mine = false
      taking = false
      held = false
      if (how === 'stolen') {
        if (saving?.pending()) notify('warning', TAKEN)
        saving?.stop()
      }
      kept('elsewhere', null)
    },
    async onAsked() {
      await saving?.flush()
      saving?.stop()
      saving = null
    },
  }
  return right
}
