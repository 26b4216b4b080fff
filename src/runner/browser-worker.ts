import { ALL_TASKS } from './all-tasks.ts'
import type { ToWorker } from './protocol.ts'
import { createWorkerCore } from './worker-core.ts'

interface WorkerScope {
  onmessage: ((event: MessageEvent<ToWorker>) => void) | null
  postMessage(message: unknown, transfer: Transferable[]): void
}

const scope = self as unknown as WorkerScope
const handle = createWorkerCore(ALL_TASKS, (message, transfer) => scope.postMessage(message, transfer))
scope.onmessage = (event) => void handle(event.data)
