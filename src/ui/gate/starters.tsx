import { useEffect, useState } from 'react'
import type { StarterWords } from '../../runner/io-refs.ts'
import { LIST_STARTERS } from '../../runner/io-refs.ts'
import { enginePool } from '../../state/engine-pool.ts'

interface StartersProps {
  readonly disabled: boolean
  /** Whether there is no meadow yet: then the demo is shown large elsewhere. */
  readonly first: boolean
  readonly onStart: (kind: string, name: string) => void
}

/** Meadows to start from, each opened by one click. */
export function Starters({ disabled, first, onStart }: StartersProps) {
  const [starters, setStarters] = useState<readonly StarterWords[]>([])
  useEffect(() => {
    let here = true
    enginePool()
      .run(LIST_STARTERS, null)
      .then(
        (found) => here && setStarters(found),
        () => undefined,
      )
    return () => {
      here = false
    }
  }, [])
  const shown = starters.filter(({ kind }) => !first || kind !== 'saltings')
  if (shown.length === 0) return null
  return (
    <section className="starters" aria-label="Meadows to start from">
      <h2>{first ? 'Or start from' : 'Start from'}</h2>
      <ul>
        {shown.map(({ kind, name, is, shows }) => (
          <li key={kind}>
            <button type="button" disabled={disabled} onClick={() => onStart(kind, name)} aria-label={`Start from ${name}`}>
              <img src={`/pictures/starters/${kind}.jpg`} alt="" width={320} height={200} loading="lazy" />
              <strong>{name}</strong>
            </button>
            <p>{is}</p>
            <p className="faded">{shows}</p>
          </li>
        ))}
      </ul>
    </section>
  )
}
