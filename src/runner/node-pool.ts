import { Worker } from 'node:worker_threads'
import { MEMORY_IS_SHARED } from '../core/shared-memory.ts'
import type { Pool, WorkerPort } from './pool.ts'
import { createPool } from './pool.ts'
import type { FromWorker } from './protocol.ts'

/** What a thread may take beside its buffers, MB; more ends it as it would end a browser's worker. */
const HEAP = 2048

/** `workerData`: a package that the GeoTIFF reader loads looks into it. */
function spawn(): WorkerPort {
  // The thread compiles its own TypeScript, as the command that started it does.
  const worker = new Worker(new URL('./node-worker-start.mjs', import.meta.url), { workerData: {}, execArgv: ['--no-warnings'], stdout: true, stderr: true, resourceLimits: { maxOldGenerationSizeMb: HEAP } })
  // What libraries mutter about damaged files is not for the one who called.
  worker.stdout.resume()
  worker.stderr.resume()
  worker.unref()
  return {
    post: (message, transfer) => worker.postMessage(message, transfer),
    onMessage: (listener) => void worker.on('message', (message: FromWorker) => listener(message)),
    onFailure: (listener) => void worker.on('error', listener),
    terminate: () => void worker.terminate(),
  }
}

/** A pool of worker threads of Node, which see shared memory as it is unless they are told not to. */
export function createNodePool(size: number, silence: number, sharesMemory = MEMORY_IS_SHARED): Pool {
  return createPool({ size, sharesMemory, spawn, silence })
}
