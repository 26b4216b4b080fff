import { Eye, EyeOff, Lock, LockOpen, PenLine, Plus, Trash2 } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useStore } from 'zustand'
import type { Beacon } from '../../core/meadow.ts'
import { Action, IconAction } from '../parts/actions.tsx'
import { plantingsNaming } from '../../document/named-in.ts'
import { Renamed } from '../parts/name-input.tsx'
import { NumberField } from '../params/number-field.tsx'
import { removeBeacon, setBeacon } from '../../document/edits/beacons.ts'
import { useField, useFieldState } from './field-context.ts'
import { setBeaconHere } from './makers.ts'
import { tellRemoved } from './tell.ts'

const FALLOFFS: readonly { readonly value: Beacon['falloff']; readonly label: string }[] = [
  { value: 'straight', label: 'straight' },
  { value: 'steep', label: 'steep' },
  { value: 'round', label: 'round' },
]

/** Points whose nearness drives something. */
export function BeaconsDrawer() {
  const field = useField()
  const { tool } = field
  const beacons = useFieldState((state) => state.history.meadow.beacons)
  useEffect(() => {
    tool.setState({ beacons: true })
    return () => tool.setState({ beacons: false, beacon: null })
  }, [tool])
  const add = () => setBeaconHere(field)
  return (
    <>
      <div className="drawer-head">
        <h2>Beacons</h2>
        <IconAction label="Set a beacon in the middle of the picture" onClick={add}>
          <Plus />
        </IconAction>
      </div>
      {beacons.length === 0 && (
        <div className="empty">
          <p>No beacon yet. A beacon is a point on the ground; the nearer something stands, the more it is driven: larger, leaning, tinted, denser.</p>
          <Action main onClick={add}>
            Set a beacon
          </Action>
        </div>
      )}
      <ul className="outlines" aria-label="Beacons">
        {beacons.map((beacon) => (
          <BeaconRow key={beacon.id} beacon={beacon} />
        ))}
      </ul>
    </>
  )
}

function BeaconRow({ beacon }: { readonly beacon: Beacon }) {
  const { session, tool } = useField()
  const selected = useStore(tool, (state) => state.beacon === beacon.id)
  const [naming, setNaming] = useState(false)
  const { id, name, locked, visible } = beacon
  return (
    <li className={selected ? 'outline selected' : 'outline'}>
      <div className="card-head">
        <span className="beacon-dot" style={{ background: beacon.colour }} aria-hidden="true" />
        <Renamed className="card-name-input" label="Name of the beacon" name={name} naming={naming} onNaming={setNaming} onRename={(next) => setBeacon(session, id, 'Rename the beacon', { name: next })}>
          <button type="button" className="card-name" aria-expanded={selected} onClick={() => tool.setState({ beacon: selected ? null : id })}>
            {name}
          </button>
        </Renamed>
        <IconAction label={visible ? `Hide ${name}` : `Show ${name}`} pressed={!visible} onClick={() => setBeacon(session, id, visible ? 'Hide the beacon' : 'Show the beacon', { visible: !visible })}>
          {visible ? <Eye /> : <EyeOff />}
        </IconAction>
        <IconAction label={locked ? `Unlock ${name}` : `Lock ${name}`} pressed={locked} onClick={() => setBeacon(session, id, locked ? 'Unlock the beacon' : 'Lock the beacon', { locked: !locked })}>
          {locked ? <Lock /> : <LockOpen />}
        </IconAction>
        <IconAction label={`Rename ${name}`} disabled={locked} onClick={() => setNaming(true)}>
          <PenLine />
        </IconAction>
        <IconAction label={`Remove ${name}`} disabled={locked} onClick={() => tellRemoved(session, name, removeBeacon(session, beacon))}>
          <Trash2 />
        </IconAction>
      </div>
      {selected && <BeaconFields beacon={beacon} />}
    </li>
  )
}

const NUMBERS = [
  { key: 'x', label: 'East of the middle', unit: 'm', min: -1e6, max: 1e6, step: 0.5 },
  { key: 'z', label: 'South of the middle', unit: 'm', min: -1e6, max: 1e6, step: 0.5 },
  { key: 'above', label: 'Above the ground', unit: 'm', min: -1e4, max: 1e4, step: 0.1 },
  { key: 'reach', label: 'Reach', unit: 'm', min: 0.1, max: 1e5, step: 0.5 },
  { key: 'strength', label: 'Strength', unit: 'share', min: 0, max: 1, step: 0.05 },
] as const

function BeaconFields({ beacon }: { readonly beacon: Beacon }) {
  const { session } = useField()
  const users = useFieldState((state) => plantingsNaming(state.history.meadow, beacon.id).map(({ name }) => name).join(', '))
  const { id, locked } = beacon
  return (
    <div className="outline-fields">
      <p className="faded">{users ? `Drives ${users}.` : 'It drives nothing yet: add a driver “Nearness to a beacon” to a planting, under How it stands.'} Drag it in the picture.</p>
      {NUMBERS.map(({ key, label, unit, min, max, step }) => (
        <div className="param" key={key}>
          <span className="param-label">{label}</span>
          <NumberField label={label} value={beacon[key]} unit={unit} min={min} max={max} step={step} disabled={locked} onChange={(value, gesture) => value !== null && setBeacon(session, id, 'Change the beacon', { [key]: value }, gesture)} />
        </div>
      ))}
      <label className="param">
        <span className="param-label">Falloff</span>
        <select aria-label="Falloff" value={beacon.falloff} disabled={locked} onChange={(event) => setBeacon(session, id, 'Change the beacon', { falloff: event.target.value as Beacon['falloff'] })}>
          {FALLOFFS.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <label className="param">
        <span className="param-label">Colour</span>
        <input type="color" value={beacon.colour} disabled={locked} onChange={(event) => setBeacon(session, id, 'Change the colour', { colour: event.target.value }, `beacon-colour-${id}`)} />
      </label>
    </div>
  )
}
