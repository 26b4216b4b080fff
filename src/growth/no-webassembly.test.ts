import { createHash } from 'node:crypto'

// Before anything is loaded that looks for it: this thread has none, while the threads that it starts have theirs.
Reflect.deleteProperty(globalThis, 'WebAssembly')
const { makeDemo } = await import('../demo/demo-meadow.ts')
const { createInlinePool } = await import('../runner/inline-pool.ts')
const { createNodePool } = await import('../runner/node-pool.ts')
const { runMeadow } = await import('./run-meadow.ts')

it('without WebAssembly the same bytes grow', async () => {
  const demo = await makeDemo()
  const WANTED = new Set(['pines', 'shrubs', 'samphire', 'barnacles'])
  const meadow = { ...demo.meadow, plantings: demo.meadow.plantings.filter(({ id }) => WANTED.has(id)) }
  const hashes: string[] = []
  for (const pool of [createInlinePool(1), createNodePool(2, 60_000)]) {
    const hash = createHash('sha256')
    let count = 0
    for (const { blocks } of await runMeadow(meadow, demo.blobs, pool, { now: () => performance.now() }))
      for (const block of blocks) {
        hash.update(new Uint8Array(block.buffer))
        count += block.count
      }
    pool.close()
    expect(count).toBeGreaterThan(10_000)
    hashes.push(hash.digest('hex'))
  }
  expect(typeof WebAssembly).toBe('undefined')
  expect(hashes[0]).toBe(hashes[1])
}, 120_000)
