import { useState } from 'react'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { LIMITS, shortened } from '../../core/limits.ts'
import { gatherChosen, openChosen, takeChosenApart } from '../../tools/choose/posies.ts'
import { notify } from '../../state/notices.ts'
import { nameProblem } from '../forms/texts.ts'
import { NotTaken } from '../parts/not-taken.tsx'
import type { ActProps } from './act-props.ts'
import { useField, useFieldState } from './field-context.ts'

/** Gathers what is chosen into a posy; opens one that is chosen, or takes it apart. */
export function Gathering({ chosen, kinds, instances, onChoose }: ActProps) {
  const { session, showInNursery, tool } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const [name, setName] = useState('')
  const [instead, setInstead] = useState(true)
  const [drapes, setDrapes] = useState(true)
  const [notTaken, setNotTaken] = useState<string | null>(null)
  const of = assets.filter(({ number }) => kinds.has(number))
  const posies = of.filter(({ parts }) => parts.length > 0)
  // Very many are not told one by one.
  const onTerrain = instances.every(({ ground }) => ground === TERRAIN_ID)
  const suggested = shortened(of.length > 0 ? `${of[0].name} posy` : 'Posy', LIMITS.name)
  const gather = () => {
    const own = name.trim() === '' ? suggested : name.trim()
    const why = nameProblem(own)
    setNotTaken(why)
    if (!why) void gatherChosen(session, tool, own, { instead, drapes: drapes && onTerrain }).then((made) => {
        if (!made) return
        setName('')
        notify('word', `“${own}” is on the shelf now: spread it, place it, put it in a row, or swap others for it.`, { label: 'Show it on the shelf', run: () => showInNursery(made) })
      })
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
      {onTerrain && (
        <label className="row" title="Wherever it stands, each part comes down to the ground under it; else the parts stay to each other as they are now">
          <input type="checkbox" checked={drapes} onChange={(event) => setDrapes(event.target.checked)} /> each part on the ground
        </label>
      )}
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
