/** Who may write a meadow: one tab at a time, by the browser's own locks. */
export interface TabLock {
  /** Takes the right to write from the tab that has it. */
  take(): void
  release(): void
}

/** Asks for the lock; `onChange` tells whether this tab has it, now and whenever that changes. */
export function lockMeadow(id: string, onChange: (mine: boolean) => void): TabLock {
  let letGo: (() => void) | null = null
  let over = false
  if (!navigator.locks) {
    onChange(true)
    return { take: () => undefined, release: () => undefined }
  }
  const hold = () =>
    new Promise<void>((resolve) => {
      letGo = resolve
      onChange(true)
    })
  const ask = (options: LockOptions) => {
    navigator.locks
      .request(`wayward-meadow/${id}`, options, async (lock) => {
        if (over) return
        if (lock) return hold()
        onChange(false)
        // Waits its turn: when the other tab closes, this one may write.
        wait()
      })
      .catch(() => {
        // Stolen by another tab.
        letGo = null
        if (!over) {
          onChange(false)
          wait()
        }
      })
  }
  const waiting = new AbortController()
  const wait = () => {
    navigator.locks
      .request(`wayward-meadow/${id}`, { signal: waiting.signal }, async () => (over ? undefined : hold()))
      .catch(() => {
        if (!over) onChange(false)
      })
  }
  ask({ ifAvailable: true })
  return {
    take: () => ask({ steal: true }),
    release() {
      over = true
      waiting.abort()
      letGo?.()
    },
  }
}
