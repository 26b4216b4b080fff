import { X } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'
import { IconAction } from '../parts/actions.tsx'
import { useField } from './field-context.ts'
import { doneSteps, nextStep } from './first-steps.ts'

const KEPT_AS = 'wayward-meadow-first-steps'
const AWAY = 'away'

interface FirstSteps {
  /** Whether the line was put away. */
  readonly away: boolean
  readonly done: ReadonlySet<string>
}

/** Kept in this browser: whoever knows the first steps is not shown them in the next meadow. */
const steps = createStore<FirstSteps>(() => {
  const kept = localStorage.getItem(KEPT_AS)
  return { away: kept === AWAY, done: new Set(kept && kept !== AWAY ? kept.split(' ') : []) }
})
steps.subscribe(({ away, done }) => localStorage.setItem(KEPT_AS, away ? AWAY : [...done].join(' ')))

/** Shows the first steps again, from the beginning. */
export function callBackFirstSteps(): void {
  steps.setState({ away: false, done: new Set() })
}

/** A line over the picture that follows what the person does, until it is put away or all is done. */
export function FirstLine() {
  const { session, tool } = useField()
  const { away, done } = useStore(steps)
  const [step, setStep] = useState<string | null>(null)
  useEffect(() => {
    if (away) return setStep(null)
    const look = () => {
      const seen = { field: session.store.getState(), tool: tool.getState() }
      const now = doneSteps(seen, steps.getState().done)
      if (now !== steps.getState().done) steps.setState({ done: now })
      setStep(nextStep(seen, now)?.words ?? null)
    }
    look()
    const stops = [session.store.subscribe(look), tool.subscribe(look)]
    return () => {
      for (const stop of stops) stop()
    }
  }, [session, tool, away, done])
  if (step === null) return null
  return (
    <p className="first-line" data-over="" role="status">
      {step}
      <IconAction label="Put the first steps away; the guide brings them back" onClick={() => steps.setState({ away: true })}>
        <X />
      </IconAction>
    </p>
  )
}
