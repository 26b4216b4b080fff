import { ProblemError } from '../document/problem.ts'
import type { FileInput } from './io-refs.ts'
import type { AloneOptions, Pool } from './pool.ts'
import type { TaskRef } from './tasks.ts'

/** Files above this are refused before they are looked at, bytes. */
const LARGEST = 1024 * 1024 * 1024
/** Longest that reading may take: so long, and more for each megabyte, ms. */
const PATIENCE = 45_000
const PATIENCE_A_MEGABYTE = 600

/** A file as pages and commands know it. */
export interface FileLike {
  readonly name: string
  readonly size: number
  arrayBuffer(): Promise<ArrayBuffer>
}

/** The longest that reading a file of a size may take, ms. */
export function patienceFor(bytes: number): number {
  return PATIENCE + (PATIENCE_A_MEGABYTE * bytes) / 1048576
}

/**
 * Reads a file by a task, in a worker of its own that ends when the file is read, given up, or has taken
 * too long. Throws ProblemError, or CancelledError when it was called off.
 */
export async function readFileAlone<I extends FileInput, O>(
  pool: Pool,
  task: TaskRef<I, O>,
  file: FileLike,
  rest: Omit<I, keyof FileInput>,
  options: Pick<AloneOptions, 'signal' | 'onProgress'> = {},
): Promise<O> {
  if (file.size > LARGEST) throw new ProblemError(`“${file.name}” is ${(file.size / 1e9).toFixed(1)} GB; at most ${LARGEST / 1048576} MB can be read.`)
  options.onProgress?.(0, 'Fetching the file')
  const buffer = await file.arrayBuffer().catch((error: unknown) => {
    throw new ProblemError(`“${file.name}” cannot be fetched; it may have been moved or changed since it was chosen. Choose it again.`, error)
  })
  const input = { ...rest, name: file.name, bytes: new Uint8Array(buffer) } as unknown as I
  return pool.alone(task, input, { ...options, doing: `Reading “${file.name}”`, milliseconds: patienceFor(buffer.byteLength) }, [buffer])
}
