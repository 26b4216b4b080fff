import { useEffect, useState } from 'react'
import { tellProblem } from '../../document/log.ts'
import type { AloneOptions } from '../../runner/pool.ts'

/** What is known of a file that is being read. */
export interface Reading<T> {
  readonly output: T | null
  readonly problem: string | null
  /** What is being done; null when nothing is. */
  readonly doing: string | null
  /** 0…1, as far as it is known. */
  readonly share: number
}

/** How a file is read: may be called off, and tells how far it is. */
export type Read<T> = (options: Required<Pick<AloneOptions, 'signal' | 'onProgress'>>) => Promise<T>

const BEGUN = { doing: 'Fetching the file', share: 0 }

/**
 * Reads a file, and again whenever `read` is another function; what was read before stays until then.
 * Reading is called off when the sheet is gone.
 */
export function useReading<T>(fileName: string, read: Read<T>): Reading<T> {
  const [reading, setReading] = useState<Reading<T>>({ output: null, problem: null, ...BEGUN })
  useEffect(() => {
    const gone = new AbortController()
    setReading(({ output }) => ({ output, problem: null, ...BEGUN }))
    read({ signal: gone.signal, onProgress: (share, doing) => !gone.signal.aborted && setReading((before) => ({ ...before, share, doing })) }).then(
      (output) => !gone.signal.aborted && setReading({ output, problem: null, doing: null, share: 1 }),
      (error: unknown) => !gone.signal.aborted && setReading((before) => ({ ...before, problem: tellProblem(error, `Reading “${fileName}”`), doing: null })),
    )
    return () => gone.abort()
  }, [read, fileName])
  return reading
}

interface ReadingHeadProps {
  readonly fileName: string
  readonly reading: Reading<unknown>
  /** What is said after a problem: what was kept. */
  readonly kept: string
}

/** How far the reading of a file is, or why it cannot be read. */
export function ReadingHead({ fileName, reading: { output, problem, doing, share }, kept }: ReadingHeadProps) {
  if (problem)
    return (
      <p className="warning-line" role="alert">
        {problem} {kept}
      </p>
    )
  if (doing === null) return null
  return (
    <div className="reading">
      <p role="status">
        {output === null ? `Reading ${fileName}…` : 'Reading it again…'} <span className="faded">{doing}</span>
      </p>
      <progress max={1} value={share} aria-label={`Reading ${fileName}`} />
    </div>
  )
}
