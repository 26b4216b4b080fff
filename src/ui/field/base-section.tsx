import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { PatternBase, Planting } from '../../core/meadow.ts'
import { liftOff, setBase, turnOfBase, withTurn } from '../../document/edits/base.ts'
import { terrainHeight } from '../../tools/choose/acts.ts'
import { setToolValue } from '../../tools/define.ts'
import { NumberField } from '../params/number-field.tsx'
import { useField, useFieldState } from './field-context.ts'
import { groundName } from './grounds-editor.tsx'

const PLACES = [
  { c: 0, label: 'east' },
  { c: 2, label: 'south' },
  { c: 1, label: 'up' },
] as const

/** What a pattern stands on, in numbers: where on its host, and how it is turned there. */
export function BaseSection({ planting: { id, base, locked } }: { readonly planting: Planting }) {
  const { session, tool } = useField()
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  if (!base) return null
  const move = (c: number, value: number, gesture?: string) => {
    const place: [number, number, number] = [base.place[0], base.place[1], base.place[2]]
    place[c] = value
    setBase(session, id, { ...base, place }, 'Move a pattern', gesture)
  }
  const put = () => {
    setToolValue(tool, 'place', 'manner', 'base')
    tool.setState({ active: 'place' })
  }
  return (
    <section className="strokes" aria-label="What it stands on">
      <h4>Stands on {groundName(base.host, meshes)}</h4>
      {PLACES.map(({ c, label }) => (
        <div className="param" key={c}>
          <span className="param-label">{label}</span>
          <NumberField label={`Base, ${label}`} value={Number(base.place[c].toPrecision(7))} unit="m" min={-100000} max={100000} step={0.1} disabled={locked} onChange={(value, gesture) => value !== null && move(c, value, gesture)} />
        </div>
      ))}
      <div className="param">
        <span className="param-label">turned</span>
        <NumberField label="Base, turned" value={degreesOf(base)} unit="deg" min={-360} max={360} step={5} disabled={locked} onChange={(value, gesture) => value !== null && setBase(session, id, withTurn(base, value), 'Turn a pattern', gesture)} />
      </div>
      <div className="row">
        <button type="button" className="text-action" disabled={locked} onClick={put}>
          Stand it elsewhere
        </button>
        {base.host !== TERRAIN_ID && (
          <button type="button" className="text-action" disabled={locked} title="It stays where it is while what it stands on is moved" onClick={() => liftOff(session, id, terrainHeight(session))}>
            Lift it off
          </button>
        )}
      </div>
    </section>
  )
}

function degreesOf(base: PatternBase): number {
  return Number(turnOfBase(base).degrees.toFixed(3)) + 0
}
