/** An error as a value: one sentence for the person, and a cause for the log. */
export interface Problem {
  /** What happened, where, and what to do. */
  readonly sentence: string
  readonly cause?: unknown
}

/** Thrown where a value cannot be returned; carries a sentence fit to be shown. */
export class ProblemError extends Error {
  readonly sentence: string
  constructor(sentence: string, cause?: unknown) {
    super(sentence, { cause })
    this.name = 'ProblemError'
    this.sentence = sentence
  }
}

/** The sentence of a thrown value; a general one for those that were not foreseen. */
export function sentenceOf(error: unknown, doing: string): string {
  if (error instanceof ProblemError) return error.sentence
  return `${doing} did not work: ${error instanceof Error ? error.message : String(error)}`
}
