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
import { useField, useFieldState, useOpen } from './field-context.ts'
import type { Taken } from './rooms-at.ts'
import { takenBy } from './rooms-at.ts'

/** What is rounded to 100 % is told as all. */
const ALL = 0.995

interface Asked extends Answer {
  /** Who has taken the room there. */
  readonly taken: Taken | null
}

const WIDTH = 292

/** Why here, why not here: what every condition of the open planting says to the place clicked. */
export function Probe() {
  const { session, landscape, tool, setOpen } = useField()
  const open = useOpen()
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
  const { taken, barred } = asked
  const no = barred !== null || asked.verdicts.some(({ weight }) => !(weight > 0)) || taken?.refuses === true
  const share = asked.verdicts.reduce((product, { weight }) => product * weight, 1)
  return (
    <>
      {at && <span className="probe-mark" style={{ left: at[0], top: at[1] }} />}
      <section className="probe" data-over="" data-guide="why" aria-label="Why here, why not here" style={beside(at, height)} ref={sheet}>
        <div className="row">
          <h2 className="grow">
            {no ? `No ${planting.name} here` : share >= 1 ? `${planting.name} may grow here` : `${planting.name} at ${Math.round(100 * share)} % here`}
          </h2>
          <IconAction label="End asking" onClick={() => tool.setState({ active: 'look' })}>
            <X />
          </IconAction>
        </div>
        <ul>
          {barred && (
            <Deciding label="refuses" onGo={() => tool.setState({ fold: 'where' })} title="Go to what it grows on">
              {barred}
            </Deciding>
          )}
          {taken?.refuses && (
            <Deciding label="taken" onGo={() => setOpen(taken.by)} title="Open the planting that has the room">
              {taken.sentence}
            </Deciding>
          )}
          {asked.verdicts.map((verdict) => {
            const use = planting.habitat.find(({ id }) => id === verdict.use)
            const kind = use && CONDITIONS.get(use.kind)
            return (
              <li key={verdict.use}>
                <button type="button" title="Go to its fields" onClick={() => goTo(`condition-${verdict.use}`)}>
                  <span className={`verdict ${verdict.weight <= 0 ? 'refuses' : verdict.weight < ALL ? 'thins' : ''}`}>
                    {verdict.weight <= 0 ? 'refuses' : verdict.weight < ALL ? `${Math.max(1, Math.round(100 * verdict.weight))} %` : 'accepts'}
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
        {asked.verdicts.length === 0 && <p className="faded">{no ? 'It has no conditions of its own.' : 'It has no conditions; it may grow anywhere.'}</p>}
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
        {taken && !taken.refuses && <p className="faded">{taken.sentence}</p>}
        {!planting.visible && <p className="faded">It is hidden: what grows is not shown.</p>}
      </section>
    </>
  )
}

interface DecidingProps {
  readonly label: string
  readonly title: string
  readonly onGo: () => void
  readonly children: string
}

/** What beside its conditions keeps the planting from a place. */
function Deciding({ label, title, onGo, children }: DecidingProps) {
  return (
    <li>
      <button type="button" title={title} onClick={onGo}>
        <span className="verdict refuses">{label}</span>
        <span>{unbroken(children)}</span>
      </button>
    </li>
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
