import { ProblemError } from '../document/problem.ts'
import type { FromWorker, ToWorker } from './protocol.ts'
import { defineTask } from './tasks.ts'
import { createWorkerCore } from './worker-core.ts'

const tasks = [
  defineTask<number, number>({ name: 'double', run: (input, { progress }) => (progress(0.5, 'half'), { output: 2 * input, transfer: [] }) }),
  defineTask<string, number>({ name: 'length', run: (name, { bytes }) => ({ output: bytes(name).length, transfer: [] }) }),
  defineTask<string, string>({ name: 'called', run: (name, { thing }) => ({ output: thing(name).id, transfer: [] }) }),
  defineTask<string, number>({ name: 'wide', run: (name, { terrain }) => ({ output: terrain(name).sizeX, transfer: [] }) }),
  defineTask<null, null>({ name: 'refuse', run: () => { throw new ProblemError('It cannot be; try another.', new TypeError('deep inside')) } }),
  defineTask<null, null>({ name: 'break', run: () => { throw new TypeError('by mistake') } }),
  defineTask<null, ArrayBuffer>({ name: 'large', run: () => { const output = new ArrayBuffer(8); return { output, transfer: [output] } } }),
]

function worker() {
  const posted: FromWorker[] = []
  const transfers: ArrayBuffer[][] = []
  const core = createWorkerCore(tasks, (message, transfer) => {
    posted.push(message)
    transfers.push(transfer)
  })
  let id = 0
  return {
    transfers,
    tell: (message: ToWorker) => core(message),
    async run(task: string, input: unknown) {
      posted.length = 0
      await core({ type: 'run', id: ++id, task, input })
      for (const message of posted) expect(message.id).toBe(id)
      return posted.map(({ type, ...rest }) => ({ type, ...rest, id: undefined }))
    },
  }
}

describe('the inside of a worker', () => {
  it('says when it begins, how far it is, and what came out', async () => {
    expect(await worker().run('double', 21)).toEqual([{ type: 'begun' }, { type: 'progress', share: 0.5, note: 'half' }, { type: 'done', output: 42 }])
  })

  it('holds what it was handed by name, until it is told to forget it', async () => {
    const { tell, run } = worker()
    await tell({ type: 'share', shared: { type: 'bytes', name: 'one', bytes: new Uint8Array(5) } })
    await tell({ type: 'share', shared: { type: 'thing', name: 'outline/x', thing: { id: 'o', name: '' } } })
    await tell({ type: 'share', shared: { type: 'terrain', name: 'ground', heights: new Float32Array(4), columns: 2, rows: 2, sizeX: 30, sizeZ: 40 } })
    expect((await run('length', 'one')).at(-1)).toEqual({ type: 'done', output: 5 })
    expect((await run('called', 'outline/x')).at(-1)).toEqual({ type: 'done', output: 'o' })
    expect((await run('wide', 'ground')).at(-1)).toEqual({ type: 'done', output: 30 })
    await tell({ type: 'forget', name: 'one' })
    expect((await run('length', 'one')).at(-1)).toMatchObject({ type: 'failed', cause: { message: 'the part one was not handed over' } })
    expect((await run('wide', 'ground')).at(-1)).toEqual({ type: 'done', output: 30 })
  })

  it('keeps what it has when the same is handed over again, as names are of contents', async () => {
    const { tell, run } = worker()
    await tell({ type: 'share', shared: { type: 'thing', name: 'outline/x', thing: { id: 'the one', name: '' } } })
    await tell({ type: 'share', shared: { type: 'thing', name: 'outline/x', thing: { id: 'another', name: '' } } })
    expect((await run('called', 'outline/x')).at(-1)).toEqual({ type: 'done', output: 'the one' })
    await tell({ type: 'forget', name: 'outline/x' })
    await tell({ type: 'share', shared: { type: 'thing', name: 'outline/x', thing: { id: 'another', name: '' } } })
    expect((await run('called', 'outline/x')).at(-1)).toEqual({ type: 'done', output: 'another' })
  })

  it('hands buffers over that the task names', async () => {
    const { run, transfers } = worker()
    const [, done] = await run('large', null)
    expect(transfers.at(-1)).toEqual([(done as { output: ArrayBuffer }).output])
  })

  it('a failure that was foreseen keeps its sentence, and what lies behind it with its stack; others say so in a sentence', async () => {
    const { run } = worker()
    expect((await run('refuse', null)).at(-1)).toEqual({ type: 'failed', sentence: 'It cannot be; try another.', cause: { name: 'TypeError', message: 'deep inside', stack: expect.stringContaining('worker-core.test') } })
    const broken = (await run('break', null)).at(-1) as { sentence: string; cause: { message: string } }
    expect(broken.sentence).toBe('Working on it did not work: by mistake')
    expect(broken.cause.message).toBe('by mistake')
    expect((await run('dance', null)).at(-1)).toMatchObject({ type: 'failed', cause: { message: 'no task is called "dance"' } })
  })
})
