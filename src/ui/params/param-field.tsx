import { NativeSelect } from '@chakra-ui/react'
import { Dices } from 'lucide-react'
import type { ComponentType } from 'react'
import type { ChoiceParam, FlagParam, FormulaParam, NumberParam, Param, ParamValue, RefParam, SeedParam, Span, SpanParam } from '../../core/kinds.ts'
import { newSeed } from '../../document/new-planting.ts'
import type { Histogram } from '../../runner/io-refs.ts'
import { IconAction } from '../parts/actions.tsx'
import { SwitchRow } from '../parts/switch-row.tsx'
import { FormulaField } from './formula-field.tsx'
import { NumberField } from './number-field.tsx'
import { RefField } from './ref-field.tsx'
import { SpanField } from './span-field.tsx'

export interface ParamFieldProps<P extends Param = Param, V extends ParamValue = ParamValue> {
  readonly param: P
  readonly value: V
  readonly disabled?: boolean
  readonly distribution?: Histogram | null
  readonly onChange: (value: ParamValue, gesture?: string) => void
}

function NumberParamField({ param, value, disabled, onChange }: ParamFieldProps<NumberParam, number>) {
  const field = (
    <NumberField
      label={param.label}
      value={value}
      unit={param.unit}
      min={param.min}
      max={param.max}
      step={param.step}
      home={param.default}
      disabled={disabled}
      onChange={(next, gesture) => next !== null && onChange(next, gesture)}
    />
  )
  if (!param.presets) return field
  const nearest = param.presets.find((preset) => preset.value === value)
  return (
    <span className="row">
      <select
        className="presets"
        aria-label={`${param.label}, ready-made`}
        value={nearest?.value ?? ''}
        disabled={disabled}
        onChange={(event) => onChange(Number(event.target.value))}
      >
        {!nearest && <option value="">own</option>}
        {param.presets.map((preset) => (
          <option key={preset.value} value={preset.value}>
            {preset.label}
          </option>
        ))}
      </select>
      {field}
    </span>
  )
}

function FormulaParamField(props: ParamFieldProps<FormulaParam, string>) {
  return <FormulaField {...props} />
}

function SpanParamField(props: ParamFieldProps<SpanParam, Span>) {
  return <SpanField {...props} />
}

export function ChoiceField({ param, value, disabled, onChange }: ParamFieldProps<ChoiceParam, string>) {
  return (
    <NativeSelect.Root size="xs" disabled={disabled} className="choice">
      <NativeSelect.Field aria-label={param.label} value={value} onChange={(event) => onChange(event.target.value)}>
        {param.options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}

function FlagField({ param, value, disabled, onChange }: ParamFieldProps<FlagParam, boolean>) {
  return <SwitchRow label={param.label} help={param.help} on={value} disabled={disabled} onChange={onChange} />
}

function SeedField({ param, value, disabled, onChange }: ParamFieldProps<SeedParam, number>) {
  return (
    <span className="row">
      <NumberField label={param.label} value={value} unit="count" min={0} max={4294967295} step={1} disabled={disabled} onChange={(next) => next !== null && onChange(next)} />
      <IconAction label="Throw again" disabled={disabled} onClick={() => onChange(newSeed())}>
        <Dices />
      </IconAction>
    </span>
  )
}

function RefParamField(props: ParamFieldProps<RefParam, string>) {
  return <RefField {...props} className="ref" />
}

/** One field component a parameter type; the interface draws kinds it has never heard of with these. */
const FIELDS: { [T in Param['type']]: ComponentType<ParamFieldProps<Extract<Param, { type: T }>, never>> } = {
  number: NumberParamField,
  span: SpanParamField,
  choice: ChoiceField,
  flag: FlagField,
  seed: SeedField,
  ref: RefParamField,
  formula: FormulaParamField,
}

/** A labelled field for any parameter. */
export function ParamField(props: ParamFieldProps) {
  const Field = FIELDS[props.param.type] as unknown as ComponentType<ParamFieldProps>
  // A switch has its word within.
  if (props.param.type === 'flag') return <Field {...props} />
  const tall = (props.param.type === 'span' && props.distribution !== undefined) || props.param.type === 'formula'
  return (
    <div className={tall ? 'param tall' : 'param'}>
      <span className="param-label" title={props.param.help}>
        {props.param.label}
      </span>
      <Field {...props} />
    </div>
  )
}
