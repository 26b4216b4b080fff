/** Thrown where a value cannot be returned; carries a sentence fit to be shown. */
export class ProblemError extends Error {
  readonly sentence: string
  constructor(sentence: string, cause?: unknown) {
    super(sentence, { cause })
    this.name = 'ProblemError'
    this.sentence = sentence
  }
}

/** Whether code of the application itself could not be fetched: its server is gone, or serves another version. */
export function isLoadFailure(error: unknown): boolean {
  return error instanceof Error && /dynamically imported module|importing a module script|error loading dynamically/i.test(error.message)
}

/** The sentence of a thrown value; a general one for those that were not foreseen. */
export function sentenceOf(error: unknown, doing: string): string {
  if (error instanceof ProblemError) return error.sentence
  if (isLoadFailure(error)) return `${doing} did not work: a part of the application could not be fetched, as the network or the server is gone. Nothing was changed; try again when the connection is back.`
  return `${doing} did not work: ${error instanceof Error ? error.message : String(error)}`
}
