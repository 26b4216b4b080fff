import { MEMORY_IS_SHARED } from '../core/shared-memory.ts'
import type { Pool, WorkerPort } from './pool.ts'
import { createPool } from './pool.ts'
import type { FromWorker } from './protocol.ts'

const MOST_WORKERS = 8
/** A tile takes milliseconds; longer work says so by progress or asks for more patience. */
const SILENCE = 15000

function spawn(): WorkerPort {
  const worker = new Worker(new URL('./browser-worker.ts', import.meta.url), { type: 'module', name: 'meadow' })
  return {
    post: (message, transfer) => worker.postMessage(message, transfer),
    onMessage: (listener) => worker.addEventListener('message', (event: MessageEvent<FromWorker>) => listener(event.data)),
    onFailure: (listener) => {
      worker.addEventListener('error', (event) => listener(event.error ?? event.message))
      worker.addEventListener('messageerror', () => listener(new Error('a message could not be read')))
    },
    terminate: () => worker.terminate(),
  }
}

/**
 * A pool of web workers. Growing takes every core but the one that draws; with two cores there is a
 * second worker all the same, so that files do not wait for growing.
 */
export function createBrowserPool(): Pool {
  const spare = Math.max(1, Math.min(MOST_WORKERS, (navigator.hardwareConcurrency || 2) - 1))
  return createPool({ size: Math.max(2, spare), bulkSize: spare, sharesMemory: MEMORY_IS_SHARED, spawn, silence: SILENCE })
}
