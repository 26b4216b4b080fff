import { useState } from 'react'
import { LIMITS, shortened } from '../../core/limits.ts'
import { gatherChosen, openChosen, takeChosenApart } from '../../tools/choose/posies.ts'
import { nameProblem } from '../forms/texts.ts'
import { NotTaken } from '../parts/not-taken.tsx'
import type { ActProps } from './act-props.ts'
import { useField, useFieldState } from './field-context.ts'

/** Gathers what is chosen into a posy; opens one that is chosen, or takes it apart. */
export function Gathering({ chosen, kinds, instances, onChoose }: ActProps) {
  const { session, tool } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const [name, setName] = useState('')
  const [instead, setInstead] = useState(true)
  const [notTaken, setNotTaken] = useState<string | null>(null)
  const of = assets.filter(({ number }) => kinds.has(number))
  const posies = of.filter(({ parts }) => parts.length > 0)
  const suggested = shortened(of.length > 0 ? `${of[0].name} posy` : 'Posy', LIMITS.name)
  const gather = () => {
    const own = name.trim() === '' ? suggested : name.trim()
    const why = nameProblem(own)
    setNotTaken(why)
    if (!why) void gatherChosen(session, tool, own, instead).then(() => setName(''))
  }
  return (
    <>
      <button type="button" className="text-action" onClick={gather}>
        gather
      </button>
      <label className="row">
        into
        <input className="posy-name" aria-label="Name of the new posy" placeholder={suggested} value={name} onChange={(event) => setName(event.target.value)} onKeyDown={(event) => event.key === 'Enter' && gather()} />
      </label>
      <NotTaken why={notTaken} of="Name of the new posy" />
      <label className="row">
        <input type="checkbox" checked={instead} onChange={(event) => setInstead(event.target.checked)} /> and put it in their place
      </label>
      {posies.length > 0 && instances.length === 1 && (
        <button type="button" className="text-action" onClick={() => void openChosen(session, tool)}>
          open {posies[0].name}
        </button>
      )}
      {posies.length > 0 && (
        <button type="button" className="text-action" onClick={() => void takeChosenApart(session, chosen).then((parts) => parts && onChoose(parts))}>
          take apart
        </button>
      )}
    </>
  )
}
