import { X } from 'lucide-react'
import { useMemo } from 'react'
import { useStore } from 'zustand'
import type { Outline, Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { outlineLength } from '../../core/outlines/measure.ts'
import { addAlong, giveAlong, leaveAlong } from '../../document/edits/along.ts'
import { removeOutline } from '../../document/edits/outlines.ts'
import { showQuantity } from '../params/quantity.ts'
import { IconAction } from '../parts/actions.tsx'
import { useField, useFieldState } from './field-context.ts'
import { tellRemoved } from './tell.ts'

/** The lines that a planting lies along: each shown with its points, named, given to another planting or taken out. */
export function LinesSection({ planting }: { readonly planting: Planting }) {
  const { session, tool } = useField()
  const outlines = useFieldState((state) => state.history.meadow.outlines)
  const lines = planting.along.flatMap((id) => outlines.find((one) => one.id === id) ?? [])
  const others = outlines.filter(({ id }) => !planting.along.includes(id))
  const { id, locked } = planting
  return (
    <section className="strokes" aria-label="Lines it lies along">
      <h4>{lines.length === 0 ? 'No lines yet: draw one over the ground with Strew' : `${lines.length.toLocaleString('en')} ${lines.length === 1 ? 'line' : 'lines'}`}</h4>
      <ul className="lines-list">
        {lines.map((line) => (
          <LineRow key={line.id} line={line} planting={planting} />
        ))}
      </ul>
      <div className="row">
        <button type="button" className="text-action" disabled={locked} onClick={() => tool.setState({ active: 'strew' })}>
          Draw one more
        </button>
        {others.length > 0 && (
          <select aria-label="Lie along a path or a rim that is there" value="" disabled={locked} onChange={(event) => addAlong(session, id, event.target.value)}>
            <option value="">along what is drawn…</option>
            {others.map((one) => (
              <option key={one.id} value={one.id}>
                {one.kind === 'patch' ? `the rim of ${one.name}` : one.name}
              </option>
            ))}
          </select>
        )}
      </div>
    </section>
  )
}

function LineRow({ line, planting }: { readonly line: Outline; readonly planting: Planting }) {
  const { session, tool } = useField()
  const selected = useStore(tool, (state) => state.selected === line.id)
  const plantings = useFieldState((state) => state.history.meadow.plantings)
  const long = useMemo(() => showQuantity(Number(outlineLength(line).toPrecision(3)), 'm'), [line])
  const takers = plantings.filter(({ id, kind }) => id !== planting.id && PLANTINGS.get(kind).lineReach)
  // A patch is not only its rim: it stays where it is.
  const used = line.kind === 'patch' || plantings.some(({ id, along }) => id !== planting.id && along.includes(line.id))
  const { id, name } = line
  return (
    <li>
      <div className="row">
        <button type="button" className="stroke-row grow" aria-expanded={selected} title="Show its points" onClick={() => tool.setState({ active: 'look', selected: selected ? null : id, point: null })}>
          <span className="grow">
            {line.kind === 'patch' ? `the rim of ${name}` : name}, {long} long
          </span>
        </button>
        <IconAction
          label={used ? `Lie along ${name} no more` : `Take ${name} out`}
          disabled={planting.locked}
          onClick={() => tellRemoved(session, name, used ? leaveAlong(session, planting.id, id) : removeOutline(session, id), 'taken out')}
        >
          <X />
        </IconAction>
      </div>
      {selected && takers.length > 0 && (
        <label className="param">
          <span className="param-label">Of</span>
          <select value={planting.id} disabled={planting.locked} onChange={(event) => giveAlong(session, planting.id, event.target.value, id)}>
            <option value={planting.id}>{planting.name}</option>
            {takers.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
      )}
    </li>
  )
}
