import { Menu } from '@chakra-ui/react'
import { Plus, Trash2 } from 'lucide-react'
import { memo } from 'react'
import { DRIVERS } from '../../core/fields/drivers/index.ts'
import { isShown } from '../../core/kinds.ts'
import type { DriverTarget, DriverUse } from '../../core/meadow.ts'
import { DRIVER_TARGETS } from '../../core/meadow.ts'
import { IconAction } from '../parts/actions.tsx'
import { MenuLayer } from '../parts/menu-layer.tsx'
import { SubjectItems } from '../parts/subject-menu.tsx'
import { CurveField } from '../params/curve-field.tsx'
import { NumberField } from '../params/number-field.tsx'
import { ParamField } from '../params/param-field.tsx'
import { addDriver, removeDriver, setDriver, setDriverTarget } from '../../document/edits/drivers.ts'
import { TARGET_WORDS } from './driver-words.ts'
import { useField } from './field-context.ts'
import { firstRefs } from './habitat-editor.tsx'

interface DriversProps {
  /** The planting's id. */
  readonly planting: string
  readonly drivers: readonly DriverUse[]
  readonly locked: boolean
}

/** What grows differs from place to place: each driver lets a field of the ground change one thing. */
export const DriversEditor = memo(function DriversEditor({ planting, drivers, locked }: DriversProps) {
  const { session } = useField()
  return (
    <section className="drivers" aria-label="Drivers" data-guide="drivers">
      <h4>Drivers</h4>
      {drivers.length === 0 && <p className="faded">Nothing differs from place to place yet. A driver lets the ground, a path or a beacon change size, turn, lean, tint or density.</p>}
      {drivers.map((use) => (
        <DriverFields key={use.id} planting={planting} use={use} locked={locked} />
      ))}
      <Menu.Root>
        <Menu.Trigger asChild>
          <button type="button" className="text-action add-condition" disabled={locked}>
            <Plus size={14} /> Add a driver
          </button>
        </Menu.Trigger>
        <MenuLayer>
          <SubjectItems kinds={DRIVERS.all} onChoose={(kind) => addDriver(session, planting, kind, firstRefs(DRIVERS.get(kind).params, session, planting))} />
        </MenuLayer>
      </Menu.Root>
    </section>
  )
})

interface DriverProps {
  readonly planting: string
  readonly use: DriverUse
  readonly locked: boolean
}

const DriverFields = memo(function DriverFields({ planting, use, locked }: DriverProps) {
  const { session } = useField()
  const driver = DRIVERS.get(use.kind)
  const disabled = locked || !use.on
  const words = TARGET_WORDS[use.target]
  const set = (name: string, recipe: (draft: DriverUse) => void, gesture?: string) => setDriver(session, planting, use.id, name, recipe, gesture)
  return (
    <fieldset id={`driver-${use.id}`} className={use.on ? 'condition' : 'condition off'} aria-label={`${words.label} by ${driver.label.toLowerCase()}`}>
      <legend>
        <label className="row">
          <input
            type="checkbox"
            checked={use.on}
            disabled={locked}
            aria-label={`${driver.label} driver on`}
            onChange={(event) => set(event.target.checked ? 'Switch a driver on' : 'Switch a driver off', (draft) => void (draft.on = event.target.checked))}
          />
          <span title={driver.help}>{driver.label}</span>
        </label>
        <IconAction label={`Remove the driver ${driver.label.toLowerCase()}`} disabled={locked} onClick={() => removeDriver(session, planting, use.id)}>
          <Trash2 />
        </IconAction>
      </legend>
      <div className="param">
        <span className="param-label">Changes</span>
        <select aria-label="What it changes" value={use.target} disabled={disabled} onChange={(event) => setDriverTarget(session, planting, use.id, event.target.value as DriverTarget)}>
          {DRIVER_TARGETS.map((target) => (
            <option key={target} value={target}>
              {TARGET_WORDS[target].label.toLowerCase()}
            </option>
          ))}
        </select>
      </div>
      {Object.entries(driver.params)
        .filter(([, param]) => isShown(param, use.params))
        .map(([name, param]) => (
          <ParamField
            key={name}
            param={param}
            value={use.params[name]}
            disabled={disabled}
            onChange={(value, gesture) => set(`Change ${param.label.toLowerCase()}`, (draft) => void (draft.params[name] = value), gesture)}
          />
        ))}
      {(['from', 'to'] as const).map((end) => (
        <div className="param driver-end" key={end}>
          <span className="param-label">At</span>
          <NumberField
            label={`${driver.label}, ${end === 'from' ? 'first' : 'second'} value`}
            value={use.over[end]}
            unit={driver.unit}
            min={-1e6}
            max={1e6}
            step={driver.unit === 'share' ? 0.05 : driver.unit === 'deg' ? 1 : 0.1}
            home={driver.over[end]}
            disabled={disabled}
            onChange={(value, gesture) => value !== null && set('Change the reach of a driver', (draft) => void (draft.over[end] = value), gesture)}
          />
          <span className="grow">{words.label.toLowerCase()}</span>
          <Amount use={use} end={end === 'from' ? 'low' : 'high'} disabled={disabled} set={set} />
        </div>
      ))}
      <CurveField label="Falloff" points={use.curve} disabled={disabled} onChange={(curve, gesture) => set('Change the curve', (draft) => void (draft.curve = curve), gesture)} />
    </fieldset>
  )
})

interface AmountProps {
  readonly use: DriverUse
  readonly end: 'low' | 'high'
  readonly disabled: boolean
  readonly set: (name: string, recipe: (draft: DriverUse) => void, gesture?: string) => void
}

/** What the target gets at one end: a number, or a colour for tints. */
function Amount({ use, end, disabled, set }: AmountProps) {
  const words = TARGET_WORDS[use.target]
  const label = `${words.label} at the ${end === 'low' ? 'first' : 'second'} value`
  if (use.target === 'tint')
    return (
      <input
        type="color"
        aria-label={label}
        value={String(use[end])}
        disabled={disabled}
        onChange={(event) => set('Change a tint', (draft) => void (draft[end] = event.target.value), `tint-${use.id}-${end}`)}
      />
    )
  return (
    <NumberField
      label={label}
      value={Number(use[end])}
      unit={words.unit}
      min={words.least}
      max={words.most}
      step={words.step}
      disabled={disabled}
      onChange={(value, gesture) => value !== null && set(`Change ${words.label.toLowerCase()}`, (draft) => void (draft[end] = value), gesture)}
    />
  )
}
