import { valuesOf } from '../../core/long-list.ts'
import { S, SINGLE, T, TOUCH } from '../../core/hand/layout.ts'
import { idSet } from '../../core/hand/id-set.ts'
import type { Planting } from '../../core/meadow.ts'
import { forgetTouchUps, looseToSingles } from '../../document/edits/hands.ts'
import { terrainHeight } from '../../tools/choose/acts.ts'
import { useField, useFieldState } from './field-context.ts'
import { tellRemoved } from './tell.ts'

/** What of a planting a hand placed or touched up, and what became of it. Nothing where there is none. */
export function TouchedSection({ planting: { id, locked } }: { readonly planting: Planting }) {
  const { session, landscape, tool } = useField()
  const work = useFieldState((state) => state.history.meadow.hands.find((one) => one.id === id))
  const touched = useFieldState((state) => state.plantings[id]?.touched ?? null)
  const singles = valuesOf(work?.singles[0] ?? [])
  const touches = valuesOf(work?.touched[0] ?? [])
  if (!work || singles.length + touches.length === 0) return null
  const count = touches.length / TOUCH
  const loose = touched?.loose ?? []
  const choose = (values: readonly number[], numbers: number, low: number, high: number) =>
    tool.setState({ active: 'choose', chosen: new Map([[id, idSet(Array.from({ length: values.length / numbers }, (_, k) => [values[k * numbers + low], values[k * numbers + high]] as const))]]) })
  const words = [
    touched && touched.anew > 0 && `${touched.anew.toLocaleString('en')} attached anew, as the rules have changed`,
    loose.length > 0 && `${loose.length.toLocaleString('en')} loose: what ${loose.length === 1 ? 'it was' : 'they were'} made for is not there`,
  ].filter(Boolean)
  return (
    <section className="strokes" aria-label="Done by hand">
      {singles.length > 0 && (
        <div className="row">
          <h4 className="grow">{(singles.length / SINGLE).toLocaleString('en')} placed by hand</h4>
          <button type="button" className="text-action" onClick={() => choose(singles, SINGLE, S.low, S.high)}>
            choose them
          </button>
        </div>
      )}
      {count > 0 && (
        <>
          <div className="row">
            <h4 className="grow">{count.toLocaleString('en')} touched by hand</h4>
            <button type="button" className="text-action" onClick={() => choose(touches, TOUCH, T.low, T.high)}>
              choose them
            </button>
            <button type="button" className="text-action" disabled={locked} onClick={() => tellRemoved(session, `${count.toLocaleString('en')} touch-ups`, forgetTouchUps(session, id, Array.from({ length: count }, (_, k) => k)), 'forgotten')}>
              forget all
            </button>
          </div>
          {words.length > 0 && <p className="faded">{words.join('; ')}.</p>}
          {loose.length > 0 && (
            <div className="row">
              <button
                type="button"
                className="text-action"
                onClick={() => {
                  const [x, , z] = touches.slice(loose[0] * TOUCH + T.home, loose[0] * TOUCH + T.home + 3)
                  const at = landscape?.project(x, z)
                  if (at) landscape?.flyToPoint(at[0], at[1])
                  else landscape?.frameAll()
                }}
              >
                show
              </button>
              <button type="button" className="text-action" disabled={locked} onClick={() => looseToSingles(session, id, loose, terrainHeight(session))}>
                make singles of them
              </button>
              <button type="button" className="text-action" disabled={locked} onClick={() => tellRemoved(session, `${loose.length.toLocaleString('en')} loose touch-ups`, forgetTouchUps(session, id, loose), 'forgotten')}>
                forget them
              </button>
            </div>
          )}
        </>
      )}
    </section>
  )
}
