import type { Repair } from '../../formats/repair.ts'
import { NO_REPAIR } from '../../formats/repair.ts'
import { NumberField } from '../params/number-field.tsx'
import { SwitchRow } from '../parts/switch-row.tsx'

const UNITS = [
  { one: 'metre', scale: 1 },
  { one: 'centimetre', scale: 0.01 },
  { one: 'millimetre', scale: 0.001 },
  { one: 'inch', scale: 0.0254 },
  { one: 'foot', scale: 0.3048 },
] as const

interface RepairProps {
  readonly chosen: Repair
  /** What was likely wanted. */
  readonly first: Repair
  readonly onChange: (repair: Repair) => void
}

/** Unit, scale, axis, pivot, tint and sides of a model. */
export function RepairFields({ chosen, first, onChange }: RepairProps) {
  const unit = UNITS.findIndex(({ scale }) => scale === chosen.scale)
  return (
    <>
      <label className="param">
        <span className="param-label">File unit</span>
        <select value={unit} onChange={(event) => onChange({ ...chosen, scale: UNITS[Number(event.target.value)].scale })}>
          {UNITS.map(({ one }, i) => (
            <option key={one} value={i}>
              {one}
            </option>
          ))}
          {unit < 0 && <option value={-1}>own scale</option>}
        </select>
      </label>
      <div className="param">
        <span className="param-label">Scale</span>
        <NumberField label="Scale" value={chosen.scale} unit="factor" min={0.000001} max={100000} step={0.1} home={first.scale} onChange={(scale) => scale !== null && onChange({ ...chosen, scale })} />
      </div>
      <label className="param">
        <span className="param-label">Up in the file</span>
        <select value={chosen.up} onChange={(event) => onChange({ ...chosen, up: event.target.value as Repair['up'] })}>
          <option value="y">Y (glTF)</option>
          <option value="z">Z</option>
          <option value="x">X</option>
        </select>
      </label>
      <label className="param">
        <span className="param-label">Pivot</span>
        <select value={chosen.pivot} onChange={(event) => onChange({ ...chosen, pivot: event.target.value as Repair['pivot'] })}>
          <option value="base">the middle of its base</option>
          <option value="middle">its very middle</option>
          <option value="keep">the file’s own origin</option>
        </select>
      </label>
      <div className="param">
        <label className="row grow">
          <span className="param-label">Tint over all of it</span>
          <input type="color" value={chosen.tint} onChange={(event) => onChange({ ...chosen, tint: event.target.value })} />
        </label>
        {chosen.tint !== NO_REPAIR.tint && (
          <button type="button" className="text-action" onClick={() => onChange({ ...chosen, tint: NO_REPAIR.tint })}>
            as its file has it
          </button>
        )}
      </div>
      <SwitchRow label="Flip faces" on={chosen.flip} onChange={(flip) => onChange({ ...chosen, flip })} />
    </>
  )
}
