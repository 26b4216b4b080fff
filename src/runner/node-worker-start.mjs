// A thread of Node begins here: it is taught to read TypeScript, then becomes a worker.
import { register } from 'tsx/esm/api'

register()
await import('./node-worker.ts')
