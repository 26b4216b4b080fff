import { pacer } from './pacer.ts'

describe('long work on the calling thread', () => {
  it('lets what waits have its turn once a stretch is long, and not before', async () => {
    let time = 0
    const pace = pacer(() => time)
    let others = 0
    const timer = setInterval(() => others++, 0)
    for (let step = 0; step < 20; step++) {
      time += 0.3
      await pace()
    }
    // No stretch has been long: all of it was one turn.
    expect(others).toBe(0)
    const end = performance.now() + 60
    let stretches = 0
    while (performance.now() < end) {
      time += 9
      stretches++
      await pace()
    }
    clearInterval(timer)
    expect(others).toBeGreaterThan(5)
    // A turn is no wait: far more stretches than timers of no time at all would let through.
    expect(stretches).toBeGreaterThan(2 * others)
  })
})
