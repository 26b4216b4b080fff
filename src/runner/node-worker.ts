import { parentPort } from 'node:worker_threads'
import { ALL_TASKS } from './all-tasks.ts'
import type { ToWorker } from './protocol.ts'
import { createWorkerCore } from './worker-core.ts'

/** The inside of a worker thread of Node: the same tasks as in a browser's worker. */
const handle = createWorkerCore(ALL_TASKS, (message, transfer) => parentPort?.postMessage(message, transfer))
parentPort?.on('message', (message: ToWorker) => void handle(message))
