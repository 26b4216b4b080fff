import type { Terrain } from '../core/grounds/terrain.ts'
import { createTerrain } from '../core/grounds/terrain.ts'
import { ProblemError, sentenceOf } from '../document/problem.ts'
import type { Thing } from '../core/things/define.ts'
import type { FromWorker, GrowSetup, Shared, ToWorker, WorkerError } from './protocol.ts'
import type { Task } from './tasks.ts'

/** The inside of a worker, whatever thread it runs on: holds large things by name and runs tasks. */
export function createWorkerCore(
  tasks: readonly Task[],
  post: (message: FromWorker, transfer: ArrayBuffer[]) => void,
): (message: ToWorker) => Promise<void> {
  /** What was handed over, by sort and name. */
  const held = {
    terrain: new Map<string, Terrain>(),
    bytes: new Map<string, Uint8Array<ArrayBuffer>>(),
    thing: new Map<string, Thing>(),
    setup: new Map<string, GrowSetup>(),
  }
  const find = <T>(map: ReadonlyMap<string, T>, what: string, name: string): T => {
    const found = map.get(name)
    if (found === undefined) throw new Error(`the ${what} ${name} was not handed over`)
    return found
  }
  const byName = new Map(tasks.map((task) => [task.name, task]))

  async function run(id: number, name: string, input: unknown): Promise<void> {
    post({ type: 'begun', id }, [])
    try {
      const task = byName.get(name)
      if (!task) throw new Error(`no task is called "${name}"`)
      const { output, transfer } = await task.run(input as never, {
        terrain: (wanted) => find(held.terrain, 'terrain', wanted),
        bytes: (wanted) => find(held.bytes, 'part', wanted),
        thing: (wanted) => find(held.thing, 'thing', wanted),
        setup: (wanted) => find(held.setup, 'setup', wanted),
        progress: (share, note) => post({ type: 'progress', id, share, note }, []),
      })
      post({ type: 'done', id, output }, transfer)
    } catch (error) {
      post({ type: 'failed', id, sentence: sentenceOf(error, 'Working on it'), cause: behind(error) }, [])
    }
  }

  function keep(shared: Shared): void {
    // Names are of contents: what is here already stays, with all that was made of it.
    if (held[shared.type].has(shared.name)) return
    if (shared.type === 'bytes') held.bytes.set(shared.name, shared.bytes)
    else if (shared.type === 'thing') held.thing.set(shared.name, shared.thing)
    else if (shared.type === 'setup') held.setup.set(shared.name, shared.setup)
    else held.terrain.set(shared.name, createTerrain(shared.heights, shared.columns, shared.rows, shared.sizeX, shared.sizeZ))
  }

  return async (message) => {
    switch (message.type) {
      case 'share': {
        keep(message.shared)
        return
      }
      case 'forget':
        for (const map of Object.values(held)) map.delete(message.name)
        return
      case 'run':
        return run(message.id, message.task, message.input)
    }
  }
}

/** What lies behind a thrown value, as it travels; null for what was foreseen. */
function behind(error: unknown): WorkerError | null {
  const cause = error instanceof ProblemError ? error.cause : error
  if (cause === undefined || cause === null) return null
  return cause instanceof Error ? { name: cause.name, message: cause.message, stack: cause.stack ?? '' } : { name: 'Error', message: String(cause), stack: '' }
}
