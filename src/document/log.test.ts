import { createPool } from '../runner/pool.ts'
import type { FromWorker } from '../runner/protocol.ts'
import { defineTask, taskRef } from '../runner/tasks.ts'
import { createWorkerCore } from '../runner/worker-core.ts'
import { logProblem, logTo, tellProblem } from './log.ts'
import { ProblemError } from './problem.ts'

describe('the log', () => {
  const seen: [string, unknown][] = []
  let before: ReturnType<typeof logTo>
  beforeEach(() => {
    seen.length = 0
    before = logTo((doing, error) => void seen.push([doing, error]))
  })
  afterEach(() => void logTo(before))

  it('has what was not foreseen once, with its stack, and not what was refused', () => {
    expect(tellProblem(new ProblemError('“a.png” is empty.'), 'Reading')).toBe('“a.png” is empty.')
    expect(seen).toEqual([])
    const cause = new RangeError('offset is out of bounds')
    const problem = new ProblemError('“a.png” is damaged.', cause)
    expect(tellProblem(problem, 'Reading')).toBe('“a.png” is damaged.')
    logProblem('Reading', problem)
    logProblem('Reading again', cause)
    expect(seen).toEqual([['Reading', problem]])
    expect(tellProblem(new TypeError('x is undefined'), 'Growing')).toBe('Growing did not work: x is undefined')
    expect(seen.length).toBe(2)
  })

  it('has the stack of the worker in which it happened', async () => {
    const broken = defineTask<null, null>({
      name: 'broken',
      run() {
        return whereItHappened()
      },
    })
    const refusing = defineTask<null, null>({
      name: 'refusing',
      run() {
        throw new ProblemError('No.')
      },
    })
    const pool = createPool({
      size: 1,
      spawn: () => {
        let listener: (message: FromWorker) => void = () => undefined
        const handle = createWorkerCore([broken, refusing], (message) => queueMicrotask(() => listener(structuredClone(message))))
        return { post: (message) => void handle(message), onMessage: (one) => (listener = one), onFailure: () => undefined, terminate: () => undefined }
      },
    })
    const error: unknown = await pool.run(taskRef<null, null>('broken'), null).catch((caught: unknown) => caught)
    expect(tellProblem(error, 'Trying')).toBe('Working on it did not work: the floor gave way')
    expect(seen.length).toBe(1)
    const { cause } = seen[0][1] as ProblemError
    expect((cause as Error).name).toBe('RangeError')
    expect((cause as Error).stack).toContain('whereItHappened')
    const refused: unknown = await pool.run(taskRef<null, null>('refusing'), null).catch((caught: unknown) => caught)
    expect(tellProblem(refused, 'Trying')).toBe('No.')
    expect(seen.length).toBe(1)
    pool.close()
  })
})

function whereItHappened(): never {
  throw new RangeError('the floor gave way')
}
