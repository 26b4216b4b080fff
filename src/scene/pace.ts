/** Says when frames are drawn, and how full: a coarse and quick one while something moves, the full one at rest. */
export interface Pace {
  readonly moving: boolean
  /** Whether this machine is too slow for whole frames while moving. */
  readonly slow: boolean
  /** Something moves: frames are coarse until it has come to rest. */
  stirred(): void
  /** Something has come in, as tiles do while growing: coarse frames at a calm pace. */
  trickled(): void
  /** Comes to rest at once. */
  settle(): void
  /** Learns from the time between frames while moving how many triangles this machine can take; to be told of every frame drawn and when it was begun, and of those passed over. */
  learn(drawn: boolean, began: number): void
  /** Triangles that a frame may have. */
  budget(rest: boolean): number
  dispose(): void
}

interface PaceOptions {
  readonly invalidate: () => void
  /** Whether instances are still coming in; the full picture waits until they have. */
  readonly growing: () => boolean
  /** All has come to rest. */
  readonly onRest: () => void
  readonly inSoftware: boolean
}

/** Milliseconds without movement after which the full picture is drawn. */
const REST_AFTER = 160
/** A frame while moving should take about so long, ms. */
const MOVING_FRAME = 45
/** Frames while instances come in are at least so far apart, ms; more where drawing and growing share the processor. */
const GROWTH_FRAME = { least: 120, slow: 300 }
/** A machine whose frames take longer than this while moving draws them at half the size, ms. */
const SLOW_FRAME = 90
const REST_SHARE = 7
const BUDGET = { start: 160_000, least: 40_000, most: 6_000_000, restLeast: 900_000, restSlow: 450_000, restMost: 16_000_000 }
const HOLDS = ['pointerdown', 'pointerup', 'pointercancel'] as const

export function createPace({ invalidate, growing, onRest, inSoftware }: PaceOptions): Pace {
  let moving = false
  let slow = inSoftware
  let lastFrame = 0
  let movingBudget = BUDGET.start
  let trickleShown = 0
  let restTimer: ReturnType<typeof setTimeout> | null = null
  // While something is dragged, here or in a panel, full frames would hold up the next move.
  let held = false
  const hold = (event: PointerEvent) => (held = event.type === 'pointerdown')
  for (const type of HOLDS) addEventListener(type, hold, true)

  function move(): void {
    moving = true
    if (restTimer) clearTimeout(restTimer)
    restTimer = setTimeout(settle, REST_AFTER)
  }
  function settle(): void {
    if (growing() || held) {
      restTimer = setTimeout(settle, REST_AFTER)
      return
    }
    moving = false
    lastFrame = 0
    onRest()
    invalidate()
  }

  /** Draws less after a frame that took so long, ms. */
  function thin(took: number): void {
    if (took > SLOW_FRAME) movingBudget = Math.max(BUDGET.least, movingBudget * Math.max(0.5, MOVING_FRAME / took))
  }

  return {
    get moving() {
      return moving
    },
    get slow() {
      return slow
    },
    stirred() {
      move()
      invalidate()
    },
    trickled() {
      move()
      if (performance.now() - trickleShown < (slow ? GROWTH_FRAME.slow : GROWTH_FRAME.least)) return
      trickleShown = performance.now()
      lastFrame = 0
      invalidate()
    },
    settle,
    learn(drawn, began) {
      if (!drawn) {
        lastFrame = 0
        return
      }
      const now = performance.now()
      // The next task begins once the frame is drawn, where the processor does it: a single one tells, too.
      if (moving && inSoftware) setTimeout(() => thin(performance.now() - began))
      if (moving && lastFrame > 0) {
        const took = now - lastFrame
        if (took > SLOW_FRAME) slow = true
        if (took < 400) {
          const factor = Math.min(1.25, Math.max(0.7, MOVING_FRAME / took))
          movingBudget = Math.min(BUDGET.most, Math.max(BUDGET.least, movingBudget * factor))
        }
      }
      lastFrame = moving ? now : 0
    },
    budget: (rest) =>
      rest ? Math.min(BUDGET.restMost, Math.max(inSoftware ? BUDGET.restSlow : BUDGET.restLeast, movingBudget * REST_SHARE)) : movingBudget,
    dispose() {
      for (const type of HOLDS) removeEventListener(type, hold, true)
      if (restTimer) clearTimeout(restTimer)
    },
  }
}
