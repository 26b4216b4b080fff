import { X } from 'lucide-react'
import { useEffect, useLayoutEffect, useReducer, useRef, useState } from 'react'
import { useStore } from 'zustand'
import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import type { Answer } from '../../core/plantings/ask.ts'
import { growsOnTerrain } from '../../core/meadow.ts'
import { DRIVERS } from '../../core/fields/drivers/index.ts'
import { attempt, notify } from '../../state/notices.ts'
import { phraseText } from '../params/live-phrase.tsx'
import { showQuantity, unbroken } from '../params/quantity.ts'
import { IconAction } from '../parts/actions.tsx'
import { TARGET_WORDS } from './driver-words.ts'
import { useField, useFieldState } from './field-context.ts'
import { takenBy } from './rooms-at.ts'

interface Asked extends Answer {
  /** Who has taken the room there. */
  readonly taken: string | null
}

const WIDTH = 292

/** Why here, why not here: what every condition of the open planting says to the place clicked. */
export function Probe() {
  const { session, landscape, tool, open } = useField()
  const sight = useStore(tool, (state) => state.asking)
  const planting = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === open))
  const [asked, setAsked] = useState<Asked | null>(null)
  const [, look] = useReducer((n: number) => n + 1, 0)
  const sheet = useRef<HTMLElement>(null)
  const [height, setHeight] = useState(320)
  useLayoutEffect(() => {
    if (sheet.current) setHeight(sheet.current.offsetHeight)
  }, [asked])

  useEffect(() => {
    if (!sight) setAsked(null)
    return sight ? landscape?.onDrawn(look) : undefined
  }, [sight, landscape])

  // Asked again whenever the planting has changed.
  useEffect(() => {
    if (!sight || !planting) return
    let current = true
    void attempt('Asking', () => session.probe(planting.id, sight)).then((answer) => {
      if (current && answer) setAsked({ ...answer, taken: takenBy(session, planting, answer) })
      else if (current && answer === null && !growsOnTerrain(planting)) notify('word', `“${planting.name}” grows on meshes; click on one of them.`)
    })
    return () => {
      current = false
    }
  }, [sight, planting, session])

  if (!sight || !asked || !planting || !landscape) return null
  const { place } = asked
  const at = landscape.project(place.x, place.z, place.y)
  const deciding = asked.verdicts.find(({ weight }) => !(weight > 0))
  const share = asked.verdicts.reduce((product, { weight }) => product * weight, 1)
  return (
    <>
      {at && <span className="probe-mark" style={{ left: at[0], top: at[1] }} />}
      <section className="probe" data-over="" aria-label="Why here, why not here" style={beside(at, height)} ref={sheet}>
        <div className="row">
          <h2 className="grow">
            {deciding ? `No ${planting.name} here` : share >= 1 ? `${planting.name} may grow here` : `${planting.name} at ${Math.round(100 * share)} % here`}
          </h2>
          <IconAction label="End asking" onClick={() => tool.setState({ active: 'look' })}>
            <X />
          </IconAction>
        </div>
        <ul>
          {asked.verdicts.map((verdict) => {
            const use = planting.habitat.find(({ id }) => id === verdict.use)
            const kind = use && CONDITIONS.get(use.kind)
            return (
              <li key={verdict.use}>
                <button type="button" title="Go to its fields" onClick={() => goTo(`condition-${verdict.use}`)}>
                  <span className={`verdict ${verdict.weight <= 0 ? 'refuses' : verdict.weight < 1 ? 'thins' : ''}`}>
                    {verdict.weight <= 0 ? 'refuses' : verdict.weight < 1 ? `${Math.max(1, Math.round(100 * verdict.weight))} %` : 'accepts'}
                  </span>
                  <span>
                    {verdict.label}: {unbroken(verdict.finding)}
                    <small>wanted: {use && kind ? unbroken(phraseText(kind.sentence(use.params), kind.params, use.params)) : ''}</small>
                  </span>
                </button>
              </li>
            )
          })}
        </ul>
        {asked.verdicts.length === 0 && <p className="faded">It has no conditions; it may grow anywhere.</p>}
        {asked.readings.length > 0 && (
          <ul aria-label="What drives it here">
            {asked.readings.map(({ use: id, value, amount }) => {
              const use = planting.drivers.find((one) => one.id === id)
              if (!use) return null
              const driver = DRIVERS.get(use.kind)
              const { label, unit } = TARGET_WORDS[use.target]
              return (
                <li key={id}>
                  <button type="button" title="Go to its fields" onClick={() => goTo(`driver-${id}`)}>
                    <span className="verdict">{typeof amount === 'string' ? <span className="swatch" style={{ background: amount }} /> : showQuantity(amount, unit)}</span>
                    <span>
                      {label}, by {driver.label.toLowerCase()}: {unbroken(showQuantity(value, driver.unit))}
                    </span>
                  </button>
                </li>
              )
            })}
          </ul>
        )}
        {asked.taken && <p className="faded">{asked.taken}</p>}
      </section>
    </>
  )
}

/** Beside the place asked about, within the picture. */
function beside(at: readonly [number, number] | null, height: number): { left: number; top: number } {
  const frame = document.querySelector('.picture')
  const [w, h] = [frame?.clientWidth ?? 1280, frame?.clientHeight ?? 740]
  const [x, y] = at ?? [w / 2, h / 3]
  return {
    left: x + 22 + WIDTH < w ? x + 22 : Math.max(10, x - 22 - WIDTH),
    top: Math.max(10, Math.min(y - 40, h - height - 10)),
  }
}

/** Takes the focus to the fields of a condition or driver. */
function goTo(id: string): void {
  const fields = document.getElementById(id)
  fields?.scrollIntoView({ block: 'nearest' })
  const field = fields?.querySelector<HTMLElement>('[role="spinbutton"]') ?? fields?.querySelector<HTMLElement>('select, .param input')
  field?.focus()
}
