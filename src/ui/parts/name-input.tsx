import type { ReactNode } from 'react'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { shortened } from '../../core/limits.ts'
import { nameProblem } from '../forms/texts.ts'
import { NotTaken } from './not-taken.tsx'

/** Letters of a name that are said again. */
const SAID = 40

interface NameInputProps {
  readonly label: string
  readonly name: string
  readonly className?: string
  /** The new name, or null when it was left as it is or given up; whether that was by a key; and what was not taken. */
  readonly onDone: (name: string | null, byKey: boolean, notTaken: string | null) => void
}

/** A name being changed: all of it is chosen at first; Enter or leaving takes it, Esc gives it up. What cannot be a name is said. */
function NameInput({ label, name, className, onDone }: NameInputProps) {
  const [typed, setTyped] = useState(name)
  const [notTaken, setNotTaken] = useState<string | null>(null)
  const done = useRef(false)
  const finish = (accept: boolean, byKey: boolean) => {
    if (done.current) return
    const why = accept ? nameProblem(typed) : null
    if (why && byKey) return setNotTaken(why)
    done.current = true
    const taken = accept && !why && typed.trim() !== name ? typed.trim() : null
    onDone(taken, byKey, why && `${why} “${shortened(name, SAID)}” is kept.`)
  }
  return (
    <>
      <input
        className={className}
        aria-label={label}
        aria-invalid={notTaken !== null}
        autoFocus
        value={typed}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => {
          setTyped(event.target.value)
          setNotTaken(null)
        }}
        onBlur={() => finish(true, false)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' || event.key === 'Escape') {
            event.preventDefault()
            event.stopPropagation()
            finish(event.key === 'Enter', true)
          }
        }}
      />
      <NotTaken why={notTaken} of={label} />
    </>
  )
}

interface RenamedProps extends Omit<NameInputProps, 'onDone'> {
  /** Whether the name is being changed. */
  readonly naming: boolean
  readonly onNaming: (naming: boolean) => void
  readonly onRename: (name: string) => void
  /** What shows the name; it has the focus again when a change ends by a key. */
  readonly children: ReactNode
}

/** A name that can be changed in place. */
export function Renamed({ naming, onNaming, onRename, children, ...rest }: RenamedProps) {
  const place = useRef<HTMLSpanElement>(null)
  const byKey = useRef(false)
  const [notTaken, setNotTaken] = useState<string | null>(null)
  useEffect(() => setNotTaken(null), [rest.name])
  useLayoutEffect(() => {
    if (naming || !byKey.current) return
    byKey.current = false
    place.current?.querySelector<HTMLElement>('button, a')?.focus()
  }, [naming])
  return (
    <span className="renamed" ref={place}>
      {naming ? (
        <NameInput
          {...rest}
          onDone={(name, key, why) => {
            byKey.current = key
            setNotTaken(why)
            onNaming(false)
            if (name) onRename(name)
          }}
        />
      ) : (
        <>
          {children}
          <NotTaken why={notTaken} of={rest.label} />
        </>
      )}
    </span>
  )
}
