import { useId } from 'react'
import type { Control, FieldPath, FieldPathByValue, FieldValues } from 'react-hook-form'
import { Controller, useController } from 'react-hook-form'
import { NotTaken } from '../parts/not-taken.tsx'
import type { NumberFieldProps } from '../params/number-field.tsx'
import { NumberField } from '../params/number-field.tsx'

interface RowProps<T extends FieldValues, N extends FieldPath<T>> {
  readonly control: Control<T>
  readonly name: N
  readonly label: string
}

interface TextRowProps<T extends FieldValues> extends RowProps<T, FieldPathByValue<T, string>> {
  readonly help?: string
  /** What stands for an empty field. */
  readonly placeholder?: string
  /** Leaves the word before it out, where what is around says it. */
  readonly bare?: boolean
}

/** A line of text of a form; what is wrong with it stands below. */
export function TextRow<T extends FieldValues>({ control, name, label, help, placeholder, bare }: TextRowProps<T>) {
  const id = useId()
  const {
    field,
    fieldState: { error },
  } = useController({ control, name })
  const input = <input id={id} aria-label={bare ? label : undefined} aria-invalid={error !== undefined} placeholder={placeholder} {...field} />
  const why = <NotTaken why={error?.message ?? null} of={label} />
  if (bare)
    return (
      <>
        {input}
        {why}
      </>
    )
  return (
    <div className="param">
      <label className="param-label" htmlFor={id} title={help}>
        {label}
      </label>
      {input}
      {why}
    </div>
  )
}

interface ChoiceRowProps<T extends FieldValues, V extends string | number> extends RowProps<T, FieldPathByValue<T, V>> {
  readonly options: readonly (readonly [V, string])[]
  /** What else changes with it. */
  readonly onChosen?: (value: V) => void
}

/** One of several, in a form. */
export function ChoiceRow<T extends FieldValues, V extends string | number>({ control, name, label, options, onChosen }: ChoiceRowProps<T, V>) {
  const id = useId()
  const { field } = useController({ control, name })
  return (
    <div className="param">
      <label className="param-label" htmlFor={id}>
        {label}
      </label>
      <select
        id={id}
        ref={field.ref}
        name={field.name}
        value={String(field.value)}
        onBlur={field.onBlur}
        onChange={(event) => {
          const [value] = options[event.target.selectedIndex]
          field.onChange(value)
          onChosen?.(value)
        }}
      >
        {options.map(([one, words]) => (
          <option key={String(one)} value={String(one)}>
            {words}
          </option>
        ))}
      </select>
    </div>
  )
}

interface NumberRowProps<T extends FieldValues> extends RowProps<T, FieldPathByValue<T, number>>, Pick<NumberFieldProps, 'unit' | 'min' | 'max' | 'step'> {
  /** What else changes with it. */
  readonly onTaken?: (value: number) => void
}

/** A number of a form. The field itself keeps to its limits; what it does not agree with elsewhere in the form stands below. */
export function NumberRow<T extends FieldValues>({ control, name, label, onTaken, ...limits }: NumberRowProps<T>) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState: { error } }) => (
        <div className="param">
          <span className="param-label">{label}</span>
          <NumberField
            label={label}
            value={field.value as number}
            {...limits}
            onChange={(value) => {
              if (value === null) return
              field.onChange(value)
              onTaken?.(value)
            }}
          />
          <NotTaken why={error?.message ?? null} of={label} />
        </div>
      )}
    />
  )
}
