import { ALL_TASKS } from './all-tasks.ts'
import type { Pool } from './pool.ts'
import { createPool } from './pool.ts'
import type { FromWorker } from './protocol.ts'
import { createWorkerCore } from './worker-core.ts'

/** A pool whose workers run on the calling thread, for Node and for tests; messages are handed over as they are, or `cloned` as between threads. */
export function createInlinePool(size = 1, cloned = false): Pool {
  return createPool({
    size,
    sharesMemory: !cloned,
    silence: Infinity,
    spawn: () => {
      let listener: (message: FromWorker) => void = () => undefined
      const handle = createWorkerCore(ALL_TASKS, (message, transfer) => {
        const received = cloned ? structuredClone(message, { transfer }) : message
        queueMicrotask(() => listener(received))
      })
      return {
        post: (message, transfer) => void handle(cloned ? structuredClone(message, { transfer }) : message),
        onMessage: (wanted) => {
          listener = wanted
        },
        onFailure: () => undefined,
        terminate: () => {
          listener = () => undefined
        },
      }
    },
  })
}
