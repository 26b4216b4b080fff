import { useStore } from 'zustand'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { PatternBase, Planting } from '../../core/meadow.ts'
import { liftOff, setBase, turnOfBase, withTurn } from '../../document/edits/base.ts'
import { countChosen, instanceOf } from '../../state/chosen.ts'
import { terrainHeight } from '../../tools/choose/acts.ts'
import { centreOnChosen } from '../../tools/place/put-base.ts'
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
export function BaseSection({ planting }: { readonly planting: Planting }) {
  const { id, base, locked } = planting
  const { session, tool } = useField()
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  const on = useRiddenWords(base)
  const chosen = useStore(tool, (state) => state.chosen)
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
      <h4>Stands on {on?.words ?? groundName(base.host, meshes)}</h4>
      {on?.gone && <p className="faded">What it stood on is gone: it stays where it was, on {groundName(base.host, meshes)}. Lift it off to forget it.</p>}
      {PLACES.map(({ c, label }) => (
        <div className="param" key={c}>
          <span className="param-label">{label}</span>
          <NumberField label={`Base, ${label}`} value={Number(base.place[c].toFixed(4)) + 0} unit="m" min={-100000} max={100000} step={0.1} disabled={locked} onChange={(value, gesture) => value !== null && move(c, value, gesture)} />
        </div>
      ))}
      <div className="param">
        <span className="param-label">turned</span>
        <NumberField label="Base, turned" value={degreesOf(base)} unit="deg" min={-360} max={360} step={5} disabled={locked} onChange={(value, gesture) => value !== null && setBase(session, id, withTurn(base, value), 'Turn a pattern', gesture)} />
      </div>
      <div className="row base-acts">
        <button type="button" className="text-action" disabled={locked} onClick={put}>
          Stand it elsewhere
        </button>
        <button type="button" className="text-action" disabled={locked || countChosen(chosen) === 0} title="Its base comes to stand on the one thing that is chosen, and goes along with it; or in the middle of several" onClick={() => void centreOnChosen(session, planting, chosen)}>
          Centre it on what is chosen
        </button>
        {(base.host !== TERRAIN_ID || base.rides) && (
          <button type="button" className="text-action" disabled={locked} title="It stays where it is while what it stands on is moved" onClick={() => liftOff(session, id, terrainHeight(session))}>
            Lift it off
          </button>
        )}
      </div>
    </section>
  )
}

/** What a base rides on, in words, and whether that is gone; null where it rides on nothing. */
function useRiddenWords(base: PatternBase | null): { readonly words: string; readonly gone: boolean } | null {
  const { session } = useField()
  const { plantings, pegs, assets } = useFieldState((state) => state.history.meadow)
  // Looked for anew when something has grown.
  useFieldState((state) => state.plantings)
  const growing = useFieldState((state) => state.growing)
  const rides = base?.rides
  if (!rides) return null
  if (rides.thing === 'peg') {
    const peg = pegs.find(({ id }) => id === rides.id)
    return { words: peg?.name ?? 'a peg', gone: !peg }
  }
  const on = instanceOf(session.instances, rides.id, rides.low, rides.high)
  const [planting, asset] = [plantings.find(({ id }) => id === rides.id)?.name, assets.find(({ number }) => number === on?.asset)?.name]
  return { words: [asset ?? 'a thing', planting && planting !== asset && ` of “${planting}”`].filter(Boolean).join(''), gone: on === null && !growing }
}

function degreesOf(base: PatternBase): number {
  return Number(turnOfBase(base).degrees.toFixed(3)) + 0
}
