/** Longest stretch of work on the calling thread before others get a turn, ms. */
const TURN = 8

/** Gives other work a turn when the current stretch has become long. */
export function pacer(now: () => number): () => Promise<void> {
  let since = now()
  return async () => {
    if (now() - since < TURN) return
    await new Promise<void>(afterOthers)
    since = now()
  }
}

/** Calls back once all that waits has had its turn: by a message, as a timer of no time at all is held back for milliseconds. */
export const afterOthers = (globalThis as { readonly setImmediate?: (then: () => void) => void }).setImmediate ?? byMessage()

function byMessage(): (then: () => void) => void {
  const waiting: (() => void)[] = []
  const { port1, port2 } = new MessageChannel()
  port1.onmessage = () => waiting.shift()?.()
  return (then) => {
    waiting.push(then)
    port2.postMessage(null)
  }
}
