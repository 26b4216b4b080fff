/** Work of which only the newest matters. */
export interface OwnTask {
  /** Does the work soon, unless newer work comes first. */
  ask(work: () => void): void
  /** Does at once what still waits. */
  flush(): void
}

/**
 * Does work in a task of its own: browsers deliver pointer moves in the task that draws the frame, and
 * what an edit entails there would make that frame late.
 */
function createOwnTask(): OwnTask {
  const { port1, port2 } = new MessageChannel()
  let waiting: (() => void) | null = null
  function flush(): void {
    const work = waiting
    waiting = null
    work?.()
  }
  port1.onmessage = flush
  // In Node a port that is listened to keeps the process alive.
  ;(port1 as { unref?: () => void }).unref?.()
  return {
    ask(work) {
      if (!waiting) port2.postMessage(null)
      waiting = work
    },
    flush,
  }
}

/** For edits of whatever the pointer drags: that is one thing at a time. */
export const dragEdits = createOwnTask()
