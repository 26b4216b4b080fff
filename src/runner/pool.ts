import { isShared } from '../core/shared-memory.ts'
import { ProblemError } from '../document/problem.ts'
import type { FromWorker, Shared, ToWorker } from './protocol.ts'
import type { TaskRef } from './tasks.ts'

/** One worker, whatever it is made of. */
export interface WorkerPort {
  post(message: ToWorker, transfer: ArrayBuffer[]): void
  onMessage(listener: (message: FromWorker) => void): void
  onFailure(listener: (cause: unknown) => void): void
  terminate(): void
}

export interface RunOptions {
  readonly signal?: AbortSignal
  readonly onProgress?: (share: number, note: string) => void
  /** Goes before work that is merely queued. */
  readonly urgent?: boolean
  /** One of many small pieces; only so many workers take such at a time. */
  readonly bulk?: boolean
  /** For work that gives no sign of life in between: its own patience, ms. */
  readonly silence?: number
}

/** The error of work that was called off. */
export class CancelledError extends Error {
  constructor() {
    super('cancelled')
    this.name = 'CancelledError'
  }
}

export interface AloneOptions extends Pick<RunOptions, 'signal' | 'onProgress'> {
  /** What is done, in words: “Reading “dunes.tif””. */
  readonly doing: string
  /** Longest that it may take, ms. */
  readonly milliseconds: number
}

export interface Pool {
  readonly size: number
  /** Whether its workers see memory that is shared as it is, so that what lies there need not be copied for them. */
  readonly sharesMemory: boolean
  run<I, O>(task: TaskRef<I, O>, input: I, options?: RunOptions): Promise<O>
  /**
   * Runs work that cannot be trusted to end, or to leave its worker whole, in a worker of its own: that is
   * ended when the work is done, is called off, or has taken too long. `input` is handed over where `transfer` says so.
   */
  alone<I, O>(task: TaskRef<I, O>, input: I, options: AloneOptions, transfer?: ArrayBuffer[]): Promise<O>
  /** Hands a large thing to all workers, those that replace a dead one included. */
  share(shared: Shared): void
  forget(name: string): void
  /** How many workers have died and were replaced. */
  replaced(): number
  close(): void
}

interface Job {
  readonly id: number
  readonly task: string
  readonly input: unknown
  readonly options: RunOptions
  attempts: number
  resolve(output: unknown): void
  reject(error: Error): void
}

interface Seat {
  port: WorkerPort
  /** Whether it has ever said anything: a worker that is still loading takes its time. */
  heard: boolean
  job: Job | null
  /** Large things that are still to be handed to it; until then it takes no job. */
  readonly owed: Shared[]
  timer: ReturnType<typeof setTimeout> | null
}

export interface PoolOptions {
  readonly size: number
  /** See {@link Pool}; not by default. */
  readonly sharesMemory?: boolean
  readonly spawn: () => WorkerPort
  /** How many workers may do bulk work at a time; all by default. */
  readonly bulkSize?: number
  /** A worker that gives no sign for so long while it has work is taken for dead, ms; with ∞ none ever is. */
  readonly silence?: number
}

const TRIES = 2
const STOPPED_TWICE = 'A background worker stopped twice on the same piece of work; nothing else was lost. Change the setting back, or reload the page.'
/** What is larger is handed to one worker at a time, with pauses for the page in between, bytes. */
const LARGE = 4 * 1024 * 1024
/** A worker that has worked before begins what it is given within so long, ms; else it is dead. */
const BEGINS_WITHIN = 900

/**
 * A pool that gives each worker one job at a time. A worker that dies, or falls silent, is
 * replaced; its job is tried once more by another and then fails with a sentence. Jobs that are
 * called off before they start never start; a running one is left to finish and its result dropped.
 */
export function createPool({ size, sharesMemory = false, spawn, bulkSize = size, silence = 20000 }: PoolOptions): Pool {
  const queue: Job[] = []
  const held = new Map<string, Shared>()
  let nextId = 1
  let replacements = 0
  let closed = false
  const loners = new Set<() => void>()

  const seats = Array.from({ length: size }, (): Seat => ({ port: spawn(), heard: false, job: null, owed: [], timer: null }))
  for (const seat of seats) attach(seat)

  function attach(seat: Seat): void {
    const { port } = seat
    port.onMessage((message) => {
      if (seat.port === port) receive(seat, message)
    })
    port.onFailure((cause) => {
      if (seat.port === port) bury(seat, cause)
    })
    seat.owed.length = 0
    for (const shared of held.values()) port.post({ type: 'share', shared }, [])
  }

  function watch(seat: Seat, within?: number): void {
    if (silence === Infinity) return
    if (seat.timer) clearTimeout(seat.timer)
    seat.timer = seat.job
      ? setTimeout(() => bury(seat, new Error('no sign of life'), within !== undefined), within ?? seat.job.options.silence ?? silence)
      : null
  }

  /** `unbegun`: its job was never begun, so that it is not to blame. */
  function bury(seat: Seat, cause: unknown, unbegun = false): void {
    if (closed) return
    const { job } = seat
    seat.port.terminate()
    seat.job = null
    watch(seat)
    replacements++
    seat.port = spawn()
    seat.heard = false
    attach(seat)
    if (job) {
      if (!unbegun) job.attempts++
      if (job.attempts < TRIES) queue.unshift(job)
      else job.reject(new ProblemError(STOPPED_TWICE, cause))
    }
    next()
  }

  function receive(seat: Seat, message: FromWorker): void {
    const { job } = seat
    seat.heard = true
    if (!job || job.id !== message.id) return
    if (message.type === 'begun') return watch(seat)
    if (message.type === 'progress') {
      watch(seat)
      job.options.onProgress?.(message.share, message.note)
      return
    }
    seat.job = null
    watch(seat)
    if (message.type === 'done') job.resolve(message.output)
    else job.reject(failureOf(message))
    next()
  }

  function next(): void {
    for (const seat of seats) {
      if (seat.job || seat.owed.length > 0 || closed) continue
      const job = takeNext(queue, seats.filter((one) => one.job?.options.bulk).length < bulkSize)
      if (!job) return
      seat.job = job
      // Inputs are copied, never handed over: a job whose worker dies must be able to start again.
      seat.port.post({ type: 'run', id: job.id, task: job.task, input: job.input }, [])
      watch(seat, seat.heard ? BEGINS_WITHIN : undefined)
    }
  }

  const callOff = createCallOff(queue)

  return {
    size,
    sharesMemory,
    run<I, O>(task: TaskRef<I, O>, input: I, options: RunOptions = {}) {
      return new Promise<O>((resolve, reject) => {
        const { signal } = options
        // What is done is let go of, with its input.
        const settled = <T>(settle: (value: T) => void) => (value: T) => {
          if (signal) callOff.done(signal, job)
          settle(value)
        }
        const job: Job = { id: nextId++, task: task.name, input, options, attempts: 0, resolve: settled(resolve as (output: unknown) => void), reject: settled(reject) }
        if (signal?.aborted || closed) return reject(new CancelledError())
        if (signal) callOff.with(signal, job)
        if (options.urgent) queue.unshift(job)
        else queue.push(job)
        next()
      })
    },
    alone: (task, input, options, transfer = []) =>
      closed ? Promise.reject(new CancelledError()) : runAlone(spawn(), { id: nextId++, task, input, options, transfer, loners }),
    share(shared) {
      held.set(shared.name, shared)
      for (const seat of seats) handOver(seat, shared, () => !closed && next())
    },
    forget(name) {
      held.delete(name)
      for (const seat of seats) takeBack(seat, name)
      next()
    },
    replaced: () => replacements,
    close() {
      closed = true
      for (const job of queue.splice(0)) job.reject(new CancelledError())
      for (const stop of loners) stop()
      for (const seat of seats) leave(seat)
    },
  }
}

/** Ends a worker, whatever it is at. */
function leave(seat: Seat): void {
  if (seat.timer) clearTimeout(seat.timer)
  seat.job?.reject(new CancelledError())
  seat.port.terminate()
}

/** The first job of a queue that may start now: of bulk work only so much goes on at a time. */
function takeNext(queue: Job[], bulkMay: boolean): Job | undefined {
  if (bulkMay) return queue.shift()
  const at = queue.findIndex((job) => !job.options.bulk)
  return at < 0 ? undefined : queue.splice(at, 1)[0]
}

/** Hands a thing to a worker, a large one after a pause for the page; `then` is called once it is there. */
function handOver(seat: Seat, shared: Shared, then: () => void): void {
  const bytes = shared.type === 'bytes' ? shared.bytes.byteLength : shared.type === 'terrain' && !isShared(shared.heights) ? shared.heights.byteLength : 0
  if (bytes < LARGE) return seat.port.post({ type: 'share', shared }, [])
  seat.owed.push(shared)
  setTimeout(() => {
    const at = seat.owed.indexOf(shared)
    if (at < 0) return
    seat.owed.splice(at, 1)
    seat.port.post({ type: 'share', shared }, [])
    then()
  }, 0)
}

/** Takes a thing back from a worker, or does not hand it over any more. */
function takeBack(seat: Seat, name: string): void {
  const at = seat.owed.findIndex((shared) => shared.name === name)
  if (at >= 0) seat.owed.splice(at, 1)
  seat.port.post({ type: 'forget', name }, [])
}

/** Calls jobs off with their signals: one listener a signal, however many jobs hang on it. */
function createCallOff(queue: Job[]) {
  const bySignal = new WeakMap<AbortSignal, Set<Job>>()
  return {
    with(signal: AbortSignal, job: Job): void {
      const jobs = bySignal.get(signal)
      if (jobs) {
        jobs.add(job)
        return
      }
      const started = new Set([job])
      bySignal.set(signal, started)
      signal.addEventListener('abort', () => {
        for (const called of started) {
          const at = queue.indexOf(called)
          if (at >= 0) queue.splice(at, 1)
          called.reject(new CancelledError())
        }
      })
    },
    done: (signal: AbortSignal, job: Job) => void bySignal.get(signal)?.delete(job),
  }
}

/** A failure as the worker told it, with the stack that it had there. */
function failureOf({ sentence, cause }: Extract<FromWorker, { type: 'failed' }>): ProblemError {
  return new ProblemError(sentence, cause ? Object.assign(new Error(cause.message), { name: cause.name, stack: cause.stack }) : undefined)
}

interface Alone<I, O> {
  readonly id: number
  readonly task: TaskRef<I, O>
  readonly input: I
  readonly options: AloneOptions
  readonly transfer: ArrayBuffer[]
  /** How to call off all work that is done alone. */
  readonly loners: Set<() => void>
}

function runAlone<I, O>(port: WorkerPort, { id, task, input, options, transfer, loners }: Alone<I, O>): Promise<O> {
  const { signal, milliseconds, doing, onProgress } = options
  return new Promise<O>((resolve, reject) => {
    const end = () => {
      clearTimeout(timer)
      loners.delete(callOff)
      signal?.removeEventListener('abort', callOff)
      port.terminate()
    }
    const fail = (error: Error) => {
      end()
      reject(error)
    }
    const callOff = () => fail(new CancelledError())
    const timer = setTimeout(
      () => fail(new ProblemError(`${doing} was stopped after ${Math.round(milliseconds / 1000)} seconds without an end; the file is damaged or too much for this. Nothing was changed.`)),
      milliseconds,
    )
    if (signal?.aborted) return callOff()
    loners.add(callOff)
    signal?.addEventListener('abort', callOff)
    port.onFailure((cause) => fail(new ProblemError(`${doing} took more memory than there is, or broke off; the file is damaged or too much for this. Nothing was changed.`, cause)))
    port.onMessage((message) => {
      if (message.id !== id) return
      if (message.type === 'begun') return
      if (message.type === 'progress') return onProgress?.(message.share, message.note)
      if (message.type === 'failed') return fail(failureOf(message))
      end()
      resolve(message.output as O)
    })
    port.post({ type: 'run', id, task: task.name, input }, transfer)
  })
}
