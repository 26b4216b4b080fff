import type { RefParam, RefTarget } from '../../core/kinds.ts'
import { refKind } from '../../core/things/index.ts'
import type { Meadow } from '../../core/meadow.ts'
import { useField, useFieldState } from '../field/field-context.ts'
import { makerOf } from '../field/makers.ts'

/** The first thing that a parameter of a planting could refer to, never itself; empty when there is none. */
export function firstRef(to: RefTarget, meadow: Meadow, planting: string): string {
  return refKind(to).of(meadow).find(({ id }) => id !== planting)?.id ?? ''
}

interface RefFieldProps {
  readonly param: RefParam
  readonly value: string
  readonly disabled?: boolean
  readonly className?: string
  readonly onChange: (value: string) => void
}

/** Chooses one of the meadow's own things by name. */
export function RefField({ param, value, disabled, className, onChange }: RefFieldProps) {
  const { word, of } = refKind(param.to)
  const names = useFieldState((state) => JSON.stringify(of(state.history.meadow).map(({ id, name }) => [id, name])))
  const field = useField()
  const maker = value === '' && className === 'ref' ? makerOf(param.to) : undefined
  const options = JSON.parse(names) as [string, string][]
  const known = options.some(([id]) => id === value)
  return (
    <>
      <select className={className} aria-label={param.label} title={param.help} value={value} disabled={disabled} onChange={(event) => onChange(event.target.value)}>
        {!known && <option value={value}>{value === '' ? (options.length > 0 ? `${word} to be chosen` : `no ${word.replace(/^an? /, '')} yet`) : `${word} that is gone`}</option>}
        {options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      {maker && (
        <button type="button" className="text-action make-one" disabled={disabled} onClick={() => maker.make(field)}>
          {maker.label}
        </button>
      )}
    </>
  )
}
