import type { Terrain } from '../core/grounds/terrain.ts'
import type { Thing } from '../core/things/define.ts'
import type { GrowSetup } from './protocol.ts'

/** What a running task may use. */
export interface TaskContext {
  /** A terrain shared under this name; throws when it was never handed over. */
  terrain(name: string): Terrain
  /** Bytes shared under this name; throws when they were never handed over. */
  bytes(name: string): Uint8Array<ArrayBuffer>
  /** A thing shared under this name; throws when it was never handed over. */
  thing(name: string): Thing
  /** A setup shared under this name; throws when it was never handed over. */
  setup(name: string): GrowSetup
  progress(share: number, note: string): void
}

/** A task result that names the buffers to hand over instead of copying. */
export interface Handover<T> {
  readonly output: T
  readonly transfer: ArrayBuffer[]
}

/** A piece of work that a worker can do, by name. */
export interface Task<I = never, O = unknown> {
  readonly name: string
  run(input: I, context: TaskContext): Promise<Handover<O>> | Handover<O>
}

/** Ties a task to the types of its input and output; a {@link TaskRef} of it is what callers hold. */
export function defineTask<I, O>(task: Task<I, O>): Task<I, O> {
  return task
}

/** The caller's half of a task: its name with its types, without its code. */
export interface TaskRef<I, O> {
  readonly name: string
  /** Only for the type system. */
  readonly types?: (input: I) => O
}

export function taskRef<I, O>(name: string): TaskRef<I, O> {
  return { name }
}
