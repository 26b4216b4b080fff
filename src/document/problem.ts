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
