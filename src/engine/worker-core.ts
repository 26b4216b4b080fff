import type { Terrain } from '../core/ground/terrain.ts'
import { createTerrain } from '../core/ground/terrain.ts'
import { sentenceOf } from '../document/problem.ts'
import type { FromWorker, ToWorker } from './protocol.ts'
import type { Task } from './tasks.ts'

/** The inside of a worker, whatever thread it runs on: holds large things by name and runs tasks. */
export function createWorkerCore(
  tasks: readonly Task[],
  post: (message: FromWorker, transfer: ArrayBuffer[]) => void,
): (message: ToWorker) => Promise<void> {
  const terrains = new Map<string, Terrain>()
  const bytes = new Map<string, Uint8Array<ArrayBuffer>>()
  const byName = new Map(tasks.map((task) => [task.name, task]))

  async function run(id: number, name: string, input: unknown): Promise<void> {
    post({ type: 'begun', id }, [])
    try {
      const task = byName.get(name)
      if (!task) throw new Error(`no task is called "${name}"`)
      const { output, transfer } = await task.run(input as never, {
        terrain(wanted) {
          const found = terrains.get(wanted)
          if (!found) throw new Error(`the terrain ${wanted} was not handed over`)
          return found
        },
        bytes(wanted) {
          const found = bytes.get(wanted)
          if (!found) throw new Error(`the part ${wanted} was not handed over`)
          return found
        },
        progress: (share, note) => post({ type: 'progress', id, share, note }, []),
      })
      post({ type: 'done', id, output }, transfer)
    } catch (error) {
      post({ type: 'failed', id, sentence: sentenceOf(error, 'Working on it') }, [])
    }
  }

  return async (message) => {
    switch (message.type) {
      case 'share': {
        const { shared } = message
        if (shared.type === 'bytes') bytes.set(shared.name, shared.bytes)
        else terrains.set(shared.name, createTerrain(shared.heights, shared.columns, shared.rows, shared.sizeX, shared.sizeZ))
        return
      }
      case 'forget':
        terrains.delete(message.name)
        bytes.delete(message.name)
        return
      case 'run':
        return run(message.id, message.task, message.input)
    }
  }
}
