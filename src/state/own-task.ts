import { afterOthers } from '../growth/pacer.ts'

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
  let waiting: (() => void) | null = null
  function flush(): void {
    const work = waiting
    waiting = null
    work?.()
  }
  return {
    ask(work) {
      if (!waiting) afterOthers(flush)
      waiting = work
    },
    flush,
  }
}

/** For edits of whatever the pointer drags: that is one thing at a time. */
export const dragEdits = createOwnTask()
