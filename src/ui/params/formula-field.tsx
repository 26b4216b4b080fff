import { useEffect, useState } from 'react'
import { VARIABLE_NAMES, VARIABLES } from '../../core/fields/conditions/variables.ts'
import type { FormulaParam } from '../../core/kinds.ts'
import { FORMULA_HELP, readFormula } from '../../core/math/formula.ts'
import { newGesture } from '../../document/history.ts'
import { NotTaken } from '../parts/not-taken.tsx'

interface FormulaFieldProps {
  readonly param: FormulaParam
  readonly value: string
  readonly disabled?: boolean
  readonly onChange: (value: string, gesture?: string) => void
}

/** A formula that is typed; what is wrong with it stands below, and the last good one stays in force until it is right. */
export function FormulaField({ param, value, disabled, onChange }: FormulaFieldProps) {
  const [text, setText] = useState(value)
  const [gesture, setGesture] = useState('')
  const [shown, setShown] = useState(false)
  const [notTaken, setNotTaken] = useState<string | null>(null)
  useEffect(() => {
    setText(value)
    setNotTaken(null)
  }, [value])
  const read = readFormula(text, VARIABLE_NAMES)
  const problem = 'problem' in read ? read.problem : notTaken
  return (
    <span className="formula">
      <input
        aria-label={param.label}
        aria-invalid={problem !== null}
        spellCheck={false}
        autoComplete="off"
        value={text}
        disabled={disabled}
        onFocus={() => setGesture(newGesture())}
        onChange={(event) => {
          const next = event.target.value
          setText(next)
          setNotTaken(null)
          if (!('problem' in readFormula(next, VARIABLE_NAMES))) onChange(next, gesture)
        }}
        onBlur={() => {
          setText(value)
          if ('problem' in read) setNotTaken(`${read.problem} What was there before is kept.`)
        }}
      />
      <NotTaken why={problem} of={param.label} />
      <button type="button" className="text-action" aria-expanded={shown} onClick={() => setShown(!shown)}>
        What can be written
      </button>
      {shown && (
        <small>
          {Object.entries(VARIABLES).map(([name, meaning]) => (
            <span key={name}>
              <code>{name}</code> {meaning}
            </span>
          ))}
          <span>
            <code>{'+ − * / % ^ < > == && || !'}</code> and <code>a ? b : c</code>
          </span>
          {FORMULA_HELP.map((help) => (
            <span key={help}>{help}</span>
          ))}
        </small>
      )}
    </span>
  )
}
