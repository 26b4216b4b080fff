import { LOCK_PREFIX } from '../storage/store.ts'

/** Who may write a meadow: one tab at a time, by the browser's own locks. */
export interface TabLock {
  /** Asks the tab that has the right to write to hand it over; takes it when there is no answer. */
  take(): void
  release(): void
}

export interface LockEvents {
  /** This tab may write from now on. */
  onGained(): void
  /** This tab may not write: it never could, it hands over on request, or the right was taken without asking. */
  onLost(how: 'waiting' | 'handing' | 'stolen'): void
  /** Another tab wants to write: what is not kept yet should be by the time the promise settles. */
  onAsked(): Promise<void>
}

type Message = { readonly type: 'please' | 'handed'; readonly id: string; readonly to: string }

/** Longest that a tab is waited for that was asked to hand over, ms. */
const PATIENCE = 800

/** Asks for the lock of a meadow and keeps asking until released. At most one request waits at any time. */
export function lockMeadow(id: string, token: string, events: LockEvents): TabLock {
  let letGo: (() => void) | null = null
  let waiting: AbortController | null = null
  let over = false
  let asking: ReturnType<typeof setTimeout> | null = null
  if (!navigator.locks) {
    queueMicrotask(() => over || events.onGained())
    return { take: () => undefined, release: () => void (over = true) }
  }
  const name = `${LOCK_PREFIX}${id}`
  const channel = typeof BroadcastChannel === 'function' ? new BroadcastChannel('wayward-meadow/locks') : null
  ;(channel as { unref?: () => void } | null)?.unref?.()

  const hold = () =>
    new Promise<void>((resolve) => {
      if (over) return resolve()
      stopAsking()
      letGo = resolve
      events.onGained()
    })

  function stopAsking(): void {
    if (asking) clearTimeout(asking)
    asking = null
  }

  /** Waits its turn: when the other tab closes, this one may write. */
  function wait(): void {
    if (over || waiting || letGo) return
    const turn = new AbortController()
    waiting = turn
    navigator.locks
      .request(name, { signal: turn.signal }, () => {
        if (waiting === turn) waiting = null
        return hold()
      })
      .catch(() => lost(turn))
  }

  /** The lock was stolen, or a turn was given up. */
  function lost(turn: AbortController | null): void {
    if (turn && waiting === turn) waiting = null
    if (turn?.signal.aborted || over) return
    letGo = null
    events.onLost('stolen')
    wait()
  }

  function steal(): void {
    stopAsking()
    if (over || letGo) return
    waiting?.abort()
    waiting = null
    navigator.locks.request(name, { steal: true }, hold).catch(() => lost(null))
  }

  async function handOver(to: string): Promise<void> {
    if (!letGo) return
    events.onLost('handing')
    await events.onAsked()
    letGo?.()
    letGo = null
    channel?.postMessage({ type: 'handed', id, to } satisfies Message)
    wait()
  }

  if (channel)
    channel.onmessage = ({ data }: MessageEvent<Message>) => {
      if (data.id !== id || over) return
      if (data.type === 'please') void handOver(data.to)
      else if (data.to === token && asking) steal()
    }

  navigator.locks
    .request(name, { ifAvailable: true }, (lock) => {
      if (lock) return hold()
      if (!over) events.onLost('waiting')
      wait()
      return undefined
    })
    .catch(() => lost(null))

  return {
    take() {
      if (letGo || asking || over) return
      asking = setTimeout(steal, channel ? PATIENCE : 0)
      channel?.postMessage({ type: 'please', id, to: token } satisfies Message)
    },
    release() {
      over = true
      stopAsking()
      waiting?.abort()
      letGo?.()
      channel?.close()
    },
  }
}
