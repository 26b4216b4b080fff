import type { FromWorker, ToWorker } from './protocol.ts'
import type { WorkerPort } from './pool.ts'
import { CancelledError, createPool } from './pool.ts'
import { taskRef } from './tasks.ts'

const WORK = taskRef<number, number>('work')

/** A worker whose fate the test decides. */
function puppet(answer: (message: ToWorker, reply: (message: FromWorker) => void, die: (cause: unknown) => void) => void) {
  const spawned: { terminated: boolean; got: ToWorker[] }[] = []
  const spawn = (): WorkerPort => {
    const state = { terminated: false, got: [] as ToWorker[] }
    spawned.push(state)
    let listener: (message: FromWorker) => void = () => undefined
    let failure: (cause: unknown) => void = () => undefined
    return {
      post(message) {
        state.got.push(message)
        queueMicrotask(() => !state.terminated && answer(message, (reply) => listener(reply), (cause) => failure(cause)))
      },
      onMessage: (wanted) => (listener = wanted),
      onFailure: (wanted) => (failure = wanted),
      terminate: () => (state.terminated = true),
    }
  }
  return { spawn, spawned }
}

const double = (message: ToWorker, reply: (message: FromWorker) => void) => {
  if (message.type === 'run') reply({ type: 'done', id: message.id, output: (message.input as number) * 2 })
}

describe('the pool', () => {
  it('answers every job with its own result', async () => {
    const pool = createPool({ size: 2, spawn: puppet(double).spawn })
    expect(await Promise.all([1, 2, 3, 4, 5].map((n) => pool.run(WORK, n)))).toEqual([2, 4, 6, 8, 10])
    pool.close()
  })

  it('replaces a worker that dies and tries its job once more', async () => {
    let deaths = 0
    const { spawn, spawned } = puppet((message, reply, die) => {
      if (message.type === 'run' && deaths++ === 0) die(new Error('killed'))
      else double(message, reply)
    })
    const pool = createPool({ size: 1, spawn })
    pool.share({ type: 'terrain', name: 'ground', heights: new Float32Array(4), columns: 2, rows: 2, sizeX: 1, sizeZ: 1 })
    expect(await Promise.all([pool.run(WORK, 21), pool.run(WORK, 1)])).toEqual([42, 2])
    expect(pool.replaced()).toBe(1)
    expect(spawned[0].terminated).toBe(true)
    // The new worker was given the ground before any work.
    expect(spawned[1].got[0].type).toBe('share')
    pool.close()
  })

  it('hands large things to one worker at a time, and no worker works before it has what it is owed', async () => {
    const { spawn, spawned } = puppet(double)
    const pool = createPool({ size: 2, spawn })
    pool.share({ type: 'bytes', name: 'large', bytes: new Uint8Array(5 * 1024 * 1024) })
    pool.share({ type: 'bytes', name: 'gone', bytes: new Uint8Array(5 * 1024 * 1024) })
    pool.share({ type: 'bytes', name: 'small', bytes: new Uint8Array(5) })
    pool.forget('gone')
    expect(spawned.map(({ got }) => got.filter(({ type }) => type === 'share').length)).toEqual([1, 1])
    expect(await Promise.all([1, 2, 3].map((n) => pool.run(WORK, n)))).toEqual([2, 4, 6])
    await new Promise((resolve) => setTimeout(resolve, 20))
    for (const { got } of spawned) {
      const said = got.map((message) => (message.type === 'share' ? message.shared.name : message.type))
      expect(said.slice(0, 3)).toEqual(['small', 'forget', 'large'])
      expect(said.slice(3).every((one) => one === 'run')).toBe(true)
    }
    pool.close()
  })

  it('gives up on a job that kills two workers, with a sentence, and goes on with others', async () => {
    const { spawn } = puppet((message, reply, die) => {
      if (message.type === 'run' && message.input === 13) die(new Error('killed'))
      else double(message, reply)
    })
    const pool = createPool({ size: 1, spawn })
    const unlucky = pool.run(WORK, 13)
    const lucky = pool.run(WORK, 4)
    await expect(unlucky).rejects.toThrow('stopped twice on the same piece of work; nothing else was lost')
    expect(await lucky).toBe(8)
    pool.close()
  })

  it('takes a worker that falls silent for dead; progress is a sign of life', async () => {
    let silent = true
    const { spawn } = puppet((message, reply) => {
      if (message.type !== 'run') return
      if (message.input === 1 && silent) {
        silent = false
        return
      }
      if (message.input === 2) {
        let signs = 0
        const timer = setInterval(() => {
          reply({ type: 'progress', id: message.id, share: signs / 6, note: '' })
          if (++signs === 6) {
            clearInterval(timer)
            double(message, reply)
          }
        }, 20)
      } else double(message, reply)
    })
    const pool = createPool({ size: 1, spawn, silence: 60 })
    expect(await pool.run(WORK, 1)).toBe(2)
    expect(pool.replaced()).toBe(1)
    const shares: number[] = []
    expect(await pool.run(WORK, 2, { onProgress: (share) => shares.push(share) })).toBe(4)
    expect(pool.replaced()).toBe(1)
    expect(shares.length).toBe(6)
    pool.close()
  })

  it('never starts what was called off, and rejects what waits when it closes', async () => {
    const { spawn, spawned } = puppet(() => undefined)
    const pool = createPool({ size: 1, spawn })
    const stop = new AbortController()
    const running = pool.run(WORK, 1)
    const waiting = pool.run(WORK, 2, { signal: stop.signal })
    stop.abort()
    await expect(waiting).rejects.toBeInstanceOf(CancelledError)
    await expect(pool.run(WORK, 3, { signal: stop.signal })).rejects.toBeInstanceOf(CancelledError)
    pool.close()
    await expect(running).rejects.toBeInstanceOf(CancelledError)
    expect(spawned[0].got.filter((message) => message.type === 'run').length).toBe(1)
  })

  it('keeps bulk work to its share of the workers, and the others free for what matters now', async () => {
    const held: { input: number; finish: () => void }[] = []
    const { spawn } = puppet((message, reply) => {
      if (message.type === 'run') held.push({ input: message.input as number, finish: () => double(message, reply) })
    })
    const pool = createPool({ size: 3, bulkSize: 2, spawn })
    const bulk = [1, 2, 3, 4].map((n) => pool.run(WORK, n, { bulk: true }))
    await Promise.resolve()
    expect(held.map(({ input }) => input)).toEqual([1, 2])
    const now = pool.run(WORK, 50)
    await Promise.resolve()
    expect(held.map(({ input }) => input)).toEqual([1, 2, 50])
    held[0].finish()
    held[2].finish()
    await now
    expect(held.map(({ input }) => input)).toEqual([1, 2, 50, 3])
    held[1].finish()
    held[3].finish()
    await bulk[2]
    await Promise.resolve()
    held[4].finish()
    expect(await Promise.all(bulk)).toEqual([2, 4, 6, 8])
    pool.close()
  })

  it('notices within a second that a worker has died while it had nothing to do, and blames nobody', async () => {
    let dead = false
    const { spawn, spawned } = puppet((message, reply) => {
      if (message.type !== 'run' || (dead && spawned.length === 1)) return
      reply({ type: 'begun', id: message.id })
      double(message, reply)
    })
    const pool = createPool({ size: 1, spawn, silence: 60_000 })
    expect(await pool.run(WORK, 1)).toBe(2)
    dead = true
    const started = performance.now()
    expect(await pool.run(WORK, 5)).toBe(10)
    expect(performance.now() - started).toBeLessThan(1500)
    expect(pool.replaced()).toBe(1)
    pool.close()
  })

  it('gives a job its two tries beside the one that never began', async () => {
    let dead = false
    let breaks = 1
    const { spawn, spawned } = puppet((message, reply, die) => {
      if (message.type !== 'run' || (dead && spawned.length === 1)) return
      reply({ type: 'begun', id: message.id })
      if (dead && breaks-- > 0) die(new Error('broke'))
      else double(message, reply)
    })
    const pool = createPool({ size: 1, spawn, silence: 60_000 })
    expect(await pool.run(WORK, 1)).toBe(2)
    dead = true
    expect(await pool.run(WORK, 5)).toBe(10)
    expect(pool.replaced()).toBe(2)
    pool.close()
  })
})

describe('work that is done alone', () => {
  const options = { doing: 'Reading “dunes.tif”', milliseconds: 100 }

  it('has a worker of its own, which ends with it', async () => {
    const { spawn, spawned } = puppet(double)
    const pool = createPool({ size: 1, spawn })
    expect(await pool.alone(WORK, 4, options)).toBe(8)
    expect(spawned.length).toBe(2)
    expect(spawned.map(({ terminated }) => terminated)).toEqual([false, true])
    // The next one finds a fresh worker, whatever became of the last.
    expect(await pool.alone(WORK, 5, options)).toBe(10)
    expect(spawned.length).toBe(3)
    pool.close()
  })

  it('is ended with a sentence when it takes too long, breaks its worker, or fails', async () => {
    const hanging = puppet(() => undefined)
    const slow = createPool({ size: 1, spawn: hanging.spawn })
    await expect(slow.alone(WORK, 1, options)).rejects.toThrow('Reading “dunes.tif” was stopped after 0 seconds without an end')
    expect(hanging.spawned[1].terminated).toBe(true)
    const dying = puppet((message, _reply, die) => void (message.type === 'run' && die(new Error('out of memory'))))
    await expect(createPool({ size: 1, spawn: dying.spawn }).alone(WORK, 1, options)).rejects.toThrow('took more memory than there is')
    expect(dying.spawned[1].terminated).toBe(true)
    const failing = puppet((message, reply) => void (message.type === 'run' && reply({ type: 'failed', id: message.id, sentence: 'It is no TIFF.', cause: null })))
    await expect(createPool({ size: 1, spawn: failing.spawn }).alone(WORK, 1, options)).rejects.toThrow('It is no TIFF.')
  })

  it('is ended at once when it is called off, and does not hold up other work', async () => {
    const { spawn, spawned } = puppet((message, reply) => void (message.type === 'run' && message.input !== 13 && double(message, reply)))
    const pool = createPool({ size: 1, spawn })
    const gone = new AbortController()
    const reading = [1, 2, 3].map(() => pool.alone(WORK, 13, { ...options, milliseconds: 60_000, signal: gone.signal }))
    expect(await pool.run(WORK, 3)).toBe(6)
    gone.abort()
    for (const one of reading) await expect(one).rejects.toThrow(CancelledError)
    expect(spawned.slice(1).every(({ terminated }) => terminated)).toBe(true)
    pool.close()
  })
})
