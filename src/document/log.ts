import { ProblemError, sentenceOf } from './problem.ts'

/** What is written down about a problem for whoever looks after the application. */
export type LogWriter = (doing: string, error: unknown) => void

let write: LogWriter = (doing, error) => console.error(doing, error)

/** Has problems written elsewhere than to the console; returns the writer before. */
export function logTo(writer: LogWriter): LogWriter {
  const before = write
  write = writer
  return before
}

const logged = new WeakSet<object>()

/**
 * Writes down what was not foreseen, with its stack and causes: an error of the program, or what lies behind
 * a sentence. Bad input that was refused is no news, and what was written once is not written again.
 */
export function logProblem(doing: string, error: unknown): void {
  const known = error instanceof ProblemError ? error.cause : error
  if (known === undefined || known === null) return
  if (typeof known === 'object') {
    if (logged.has(known)) return
    logged.add(known)
  }
  write(doing, error)
}

/** The sentence to show for a thrown value; what lies behind it is written down. */
export function tellProblem(error: unknown, doing: string): string {
  logProblem(doing, error)
  return sentenceOf(error, doing)
}
