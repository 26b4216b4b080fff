import { useEffect, useState } from 'react'
import { useStore } from 'zustand'
import type { GroundPoint } from '../../scene/landscape.ts'
import { useField, useFieldState, useOpen } from './field-context.ts'
import { OpenedWord } from './opened-posy.tsx'

/** The foot of the field: what is under the pointer, how many there are, how long growing took. */
export function StatusLine() {
  const { session, landscape, dispatcher, tool } = useField()
  const states = useFieldState((state) => state.plantings)
  const growing = useFieldState((state) => state.growing)
  const last = useFieldState((state) => state.lastGrowing)
  const water = useFieldState((state) => state.history.meadow.water)
  // What the tool says can change with whatever it holds.
  useStore(tool, (state) => `${state.active} ${state.selected} ${state.drawing?.length} ${state.brush?.touches} ${state.hovered?.row} ${state.chosen.size} ${state.measured?.done}`)
  useStore(tool, (state) => state.settings)
  const [under, setUnder] = useState<GroundPoint | null>(null)

  useEffect(() => {
    if (!dispatcher || !landscape) return
    let waiting = 0
    const stop = dispatcher.onHover((at) => {
      cancelAnimationFrame(waiting)
      if (at) waiting = requestAnimationFrame(() => setUnder(landscape.pick(at.x, at.y)))
      else setUnder(null)
    })
    return () => {
      cancelAnimationFrame(waiting)
      stop()
    }
  }, [dispatcher, landscape])

  const words = dispatcher?.words() ?? null
  const list = Object.values(states)
  const count = list.reduce((sum, state) => sum + state.count, 0)
  const done = list.reduce((sum, state) => sum + state.done, 0)
  const total = list.reduce((sum, state) => sum + state.total, 0)
  return (
    <footer className="status">
      <span className="grow">
        {words ??
          (under
            ? `Height ${under.y.toFixed(2)} m${water.shown ? `, ${Math.abs(under.y - water.level).toFixed(2)} m ${under.y < water.level ? 'under' : 'above'} the water` : ''}, slope ${under.slope.toFixed(0)}°, at ${under.x.toFixed(1)} east, ${under.z.toFixed(1)} south`
            : '')}
      </span>
      {growing ? (
        <span className="row" role="status">
          Growing{total > 0 ? ` ${Math.round((100 * done) / total)} %` : ''}…
          <button type="button" className="text-action" onClick={session.cancelGrowing}>
            Stop
          </button>
        </span>
      ) : (
        last && (
          <span className="faded">
            {last.tiles === 0 ? 'shown as it had grown' : `grown in ${last.milliseconds < 1000 ? `${Math.round(last.milliseconds)} ms` : `${(last.milliseconds / 1000).toFixed(1)} s`}`}
          </span>
        )
      )}
      <OpenedWord />
      <TooSmall />
      <span className="tabular" data-testid="total">
        {count.toLocaleString('en')} instances
      </span>
    </footer>
  )
}

/** Says when the open planting cannot be seen from here, and leads nearer. */
function TooSmall() {
  const { landscape } = useField()
  const open = useOpen()
  const planting = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === open))
  const count = useFieldState((state) => (open ? (state.plantings[open]?.count ?? 0) : 0))
  const [pixels, setPixels] = useState<number | null>(null)
  useEffect(() => {
    if (!landscape || !open) return setPixels(null)
    // Whole steps, so that moving does not draw the line anew at every frame.
    const look = () => {
      const now = landscape.openPixels()
      setPixels(now === null ? null : now < 1 ? 0.5 : now < 3 ? 2 : 9)
    }
    look()
    return landscape.onDrawn(look)
  }, [landscape, open])
  if (!landscape || !planting || !planting.visible || count === 0 || pixels === null || pixels > 3) return null
  return (
    <span className="row too-small" role="status">
      <span className="mark" style={{ background: planting.colour }} aria-hidden="true" />
      {count.toLocaleString('en')} of {planting.name.charAt(0).toLowerCase() + planting.name.slice(1)}, each {pixels < 1 ? 'smaller than a pixel' : 'a pixel or two'} from here
      <button type="button" className="text-action" onClick={() => landscape.comeNear(planting.id)}>
        Come near
      </button>
    </span>
  )
}
