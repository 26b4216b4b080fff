import { X } from 'lucide-react'
import { useMemo } from 'react'
import { useStore } from 'zustand'
import type { Outline, Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { outlineLength } from '../../core/outlines/measure.ts'
import { addAlong, giveAlong, leaveAlong } from '../../document/edits/along.ts'
import { removeOutline } from '../../document/edits/outlines.ts'
import { startDrawing } from '../../tools/draw.ts'
import { showQuantity } from '../params/quantity.ts'
import { IconAction } from '../parts/actions.tsx'
import { useField, useFieldState } from './field-context.ts'
import { areaWords } from './outline-words.ts'
import { tellRemoved } from './tell.ts'

/** The lines that a planting lies along: each shown with its points, named, given to another planting or taken out. */
export function LinesSection({ planting }: { readonly planting: Planting }) {
  const { session, tool } = useField()
  const outlines = useFieldState((state) => state.history.meadow.outlines)
  const lines = planting.along.flatMap((id) => outlines.find((one) => one.id === id) ?? [])
  const { within } = PLANTINGS.get(planting.kind)
  const others = outlines.filter(({ id, kind }) => !planting.along.includes(id) && (!within || kind === 'patch'))
  const { id, locked } = planting
  return (
    <section className="strokes" aria-label={within ? 'Patches it fills' : 'Lines it lies along'}>
      <h4>{headOf(lines.length, within)}</h4>
      <ul className="lines-list">
        {lines.map((line) => (
          <LineRow key={line.id} line={line} planting={planting} />
        ))}
      </ul>
      <div className="row">
        <button type="button" className="text-action" disabled={locked} onClick={() => (within ? startDrawing(tool, 'patch') : tool.setState({ active: 'strew' }))}>
          Draw one more
        </button>
        {others.length > 0 && (
          <select aria-label={within ? 'Fill a patch that is there' : 'Lie along a path or a rim that is there'} value="" disabled={locked} onChange={(event) => addAlong(session, id, event.target.value)}>
            <option value="">{within ? 'fill what is drawn…' : 'along what is drawn…'}</option>
            {others.map((one) => (
              <option key={one.id} value={one.id}>
                {one.kind === 'patch' && !within ? `the rim of ${one.name}` : one.name}
              </option>
            ))}
          </select>
        )}
      </div>
    </section>
  )
}

function headOf(count: number, within: boolean): string {
  if (count === 0) return within ? 'No patch yet: draw one over the ground' : 'No lines yet: draw one over the ground with Strew'
  const [one, many] = within ? ['patch', 'patches'] : ['line', 'lines']
  return `${count.toLocaleString('en')} ${count === 1 ? one : many}`
}

function LineRow({ line, planting }: { readonly line: Outline; readonly planting: Planting }) {
  const { session, tool } = useField()
  const selected = useStore(tool, (state) => state.selected === line.id)
  const plantings = useFieldState((state) => state.history.meadow.plantings)
  const { within } = PLANTINGS.get(planting.kind)
  const long = useMemo(() => (within ? areaWords(line) : `${showQuantity(Number(outlineLength(line).toPrecision(3)), 'm')} long`), [line, within])
  const takers = plantings.filter(({ id, kind }) => id !== planting.id && PLANTINGS.get(kind).lineReach && PLANTINGS.get(kind).within === within)
  // A patch is not only its rim: it stays where it is.
  const used = line.kind === 'patch' || plantings.some(({ id, along }) => id !== planting.id && along.includes(line.id))
  const { id, name } = line
  return (
    <li>
      <div className="row">
        <button type="button" className="stroke-row grow" aria-expanded={selected} title="Show its points" onClick={() => tool.setState({ active: 'look', selected: selected ? null : id, point: null })}>
          <span className="grow">
            {line.kind === 'patch' && !within ? `the rim of ${name}` : name}, {long}
          </span>
        </button>
        <IconAction
          label={within ? `Fill ${name} no more` : used ? `Lie along ${name} no more` : `Take ${name} out`}
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
