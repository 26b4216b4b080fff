import { jest } from '@jest/globals'
import { createPace } from './pace.ts'

/** The window's pointer events, and a clock. */
const listeners = new Map<string, Set<(event: { type: string }) => void>>()
let clock = 0

beforeEach(() => {
  jest.useFakeTimers()
  clock = 0
  jest.spyOn(performance, 'now').mockImplementation(() => clock)
  listeners.clear()
  Object.assign(globalThis, {
    addEventListener: (type: string, listener: (event: { type: string }) => void) => listeners.set(type, (listeners.get(type) ?? new Set()).add(listener)),
    removeEventListener: (type: string, listener: (event: { type: string }) => void) => listeners.get(type)?.delete(listener),
  })
})

afterEach(() => {
  jest.useRealTimers()
  jest.restoreAllMocks()
})

const fire = (type: string) => listeners.get(type)?.forEach((listener) => listener({ type }))
const pass = (milliseconds: number) => {
  clock += milliseconds
  jest.advanceTimersByTime(milliseconds)
}

function paced(given: { growing?: () => boolean; inSoftware?: boolean } = {}) {
  const told = { frames: 0, rests: 0 }
  const pace = createPace({ invalidate: () => told.frames++, growing: given.growing ?? (() => false), onRest: () => told.rests++, inSoftware: given.inSoftware ?? false })
  /** Draws frames so far apart while something moves. */
  const frames = (count: number, apart: number) => {
    for (let k = 0; k < count; k++) {
      pace.stirred()
      pass(apart)
      pace.learn(true, clock)
    }
  }
  return { pace, told, frames }
}

describe('the pace of the picture', () => {
  it('is coarse while something moves, and comes to rest a moment after it has stopped', () => {
    const { pace, told } = paced()
    expect(pace.moving).toBe(false)
    pace.stirred()
    expect(pace.moving).toBe(true)
    pass(100)
    pace.stirred()
    pass(150)
    expect([pace.moving, told.rests]).toEqual([true, 0])
    pass(20)
    expect([pace.moving, told.rests]).toEqual([false, 1])
    expect(told.frames).toBe(3)
  })

  it('learns nothing from frames that were passed over', () => {
    const { pace } = paced()
    const before = pace.budget(false)
    for (let k = 0; k < 20; k++) {
      pace.stirred()
      pass(4)
      pace.learn(k % 2 === 1, clock)
    }
    expect(pace.budget(false)).toBe(before)
  })

  it('does not rest while instances come in, or while a button is held anywhere', () => {
    let growing = true
    const { pace, told } = paced({ growing: () => growing })
    pace.stirred()
    pass(1000)
    expect(told.rests).toBe(0)
    growing = false
    fire('pointerdown')
    pass(1000)
    expect(told.rests).toBe(0)
    fire('pointerup')
    pass(200)
    expect([told.rests, pace.moving]).toEqual([1, false])
  })

  it('shows what trickles in calmly: no more than a few frames a second', () => {
    const { pace, told } = paced()
    clock = 1000
    for (let k = 0; k < 100; k++) {
      pace.trickled()
      pass(10)
    }
    // A second in steps of 120 ms at least.
    expect(told.frames).toBeGreaterThanOrEqual(7)
    expect(told.frames).toBeLessThanOrEqual(9)
    const { pace: slow, told: slowly } = paced({ inSoftware: true })
    for (let k = 0; k < 100; k++) {
      slow.trickled()
      pass(10)
    }
    expect(slowly.frames).toBeLessThanOrEqual(4)
  })

  it('learns what the machine can take: quick frames get more triangles, slow ones fewer, within bounds', () => {
    const { pace, frames } = paced()
    const first = pace.budget(false)
    frames(10, 16)
    expect(pace.budget(false)).toBeGreaterThan(3 * first)
    expect(pace.slow).toBe(false)
    frames(60, 150)
    expect(pace.budget(false)).toBe(40_000)
    expect(pace.slow).toBe(true)
    frames(200, 2)
    expect(pace.budget(false)).toBe(6_000_000)
    // A pause is no slow frame.
    frames(3, 2000)
    expect(pace.budget(false)).toBe(6_000_000)
  })

  it('draws less after a single frame that took long, where the processor draws it', () => {
    const single = (pace: ReturnType<typeof paced>['pace'], took: number) => {
      pace.stirred()
      pass(1000)
      pace.stirred()
      const began = clock
      clock += took
      pace.learn(true, began)
      pass(1)
    }
    const { pace: card } = paced()
    single(card, 400)
    expect(card.budget(false)).toBe(160_000)
    const { pace } = paced({ inSoftware: true })
    single(pace, 80)
    expect(pace.budget(false)).toBe(160_000)
    single(pace, 120)
    expect(pace.budget(false)).toBe(0.5 * 160_000)
    for (let k = 0; k < 9; k++) single(pace, 900)
    expect(pace.budget(false)).toBe(40_000)
  })

  it('has more for full frames, less of it where no graphics card is at work, and never without end', () => {
    const { pace } = paced()
    expect(pace.budget(true)).toBe(7 * 160_000)
    const { pace: software, frames } = paced({ inSoftware: true })
    frames(60, 150)
    expect(software.budget(true)).toBe(450_000)
    frames(300, 2)
    expect(software.budget(true)).toBe(16_000_000)
  })

  it('listens to nothing once it is disposed of', () => {
    const { pace, told } = paced()
    pace.stirred()
    pace.dispose()
    pass(5000)
    expect(told.rests).toBe(0)
    for (const [, own] of listeners) expect(own.size).toBe(0)
  })
})
