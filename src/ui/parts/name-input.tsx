import { useState } from 'react'

interface NameInputProps {
  readonly label: string
  readonly name: string
  readonly className?: string
  /** The new name, or null when it was left as it is, emptied or given up. */
  readonly onDone: (name: string | null) => void
}

/** A name being changed: Enter or leaving takes it, Esc gives it up. */
export function NameInput({ label, name, className, onDone }: NameInputProps) {
  const [typed, setTyped] = useState(name)
  const finish = () => onDone(typed.trim() !== '' && typed !== name ? typed.trim() : null)
  return (
    <input
      className={className}
      aria-label={label}
      autoFocus
      value={typed}
      maxLength={120}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => {
        if (event.key === 'Enter') finish()
        if (event.key === 'Escape') onDone(null)
      }}
    />
  )
}
