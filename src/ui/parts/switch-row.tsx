import { Switch } from '@chakra-ui/react'

interface SwitchRowProps {
  readonly label: string
  readonly help?: string
  readonly on: boolean
  readonly disabled?: boolean
  readonly onChange: (on: boolean) => void
}

/** A switch with its word: either switches it. */
export function SwitchRow({ label, help, on, disabled, onChange }: SwitchRowProps) {
  return (
    <Switch.Root className="param switch-row" size="sm" title={help} checked={on} disabled={disabled} onCheckedChange={({ checked }) => onChange(checked)}>
      <Switch.HiddenInput />
      <Switch.Label className="param-label">{label}</Switch.Label>
      <Switch.Control>
        <Switch.Thumb />
      </Switch.Control>
    </Switch.Root>
  )
}
