import { growTileTask, holdsTask, prepareTask, probeTask, seeTask, tintTask } from './grow-tasks.ts'
import { IO_TASKS } from './io-tasks.ts'
import type { Task } from './tasks.ts'

/** Everything that a worker can do. */
export const ALL_TASKS: readonly Task[] = [growTileTask, holdsTask, prepareTask, probeTask, seeTask, tintTask, ...IO_TASKS] as readonly Task[]
