/** Longest stretch of work on the calling thread before others get a turn, ms. */
const TURN = 8

/** Gives other work a turn when the current stretch has become long. */
export function pacer(now: () => number): () => Promise<void> {
  let since = now()
  return async () => {
    if (now() - since < TURN) return
    await new Promise((resolve) => setTimeout(resolve, 0))
    since = now()
  }
}
