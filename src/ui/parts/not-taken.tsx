interface NotTakenProps {
  /** What was not taken, and why; null when all was. */
  readonly why: string | null
  /** The field's label. */
  readonly of: string
}

/** What a field did not take, said in its place until the next edit. */
export function NotTaken({ why, of }: NotTakenProps) {
  if (why === null) return null
  return (
    <small className="not-taken" role="alert">
      <span className="sr-only">{of}: </span>
      {why}
    </small>
  )
}
