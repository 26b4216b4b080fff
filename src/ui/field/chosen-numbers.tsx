import { useEffect, useMemo, useRef, useState } from 'react'
import { useStore } from 'zustand'
import type { InstanceAt } from '../../document/edits/hands.ts'
import type { Chosen } from '../../state/chosen.ts'
import type { Held } from '../../tools/choose/acts.ts'
import { changeHeld, compassOf, hold, holdByGesture, middleOf, movedBy, setTo, sizedBy, turnedBy } from '../../tools/choose/acts.ts'
import { valuesOfTool } from '../../tools/define.ts'
import { TOOLS } from '../../tools/index.ts'
import { NumberField } from '../params/number-field.tsx'
import type { ActProps } from './act-props.ts'
import { useField } from './field-context.ts'

/** Numbers of place, turn and size. */
interface Amounts {
  readonly east: number
  readonly south: number
  readonly up: number
  readonly turn: number
  readonly size: number
}

const AS_IT_IS: Amounts = { east: 0, south: 0, up: 0, turn: 0, size: 1 }

/** Moves, turns and sizes what is chosen by numbers: by so much from how it stood when it was chosen, or to a place, a turn and a size. */
export function Numbers({ chosen, instances }: ActProps) {
  const { tool } = useField()
  const [absolute, setAbsolute] = useState(false)
  const about = useStore(tool, () => valuesOfTool(TOOLS.get('choose'), tool).about as 'own' | 'middle')
  const relative = useRelative(chosen, about)
  const to = useAbsolute(chosen)
  const now = absolute ? standOfAll(instances) : null
  const number = (key: keyof Amounts, unit: 'm' | 'deg' | 'factor', min: number, max: number, step: number, words: string) => (
    <label className="chosen-number">
      {words}
      <NumberField
        label={words}
        value={now ? now[key] : relative.values[key]}
        unit={unit}
        min={min}
        max={max}
        step={step}
        home={now ? now[key] : AS_IT_IS[key]}
        onChange={(value, gesture) => value !== null && (absolute ? to({ [key]: value }, gesture) : relative.set({ [key]: value }))}
      />
    </label>
  )
  return (
    <>
      <button type="button" className="text-action" aria-pressed={absolute} disabled={!absolute && instances.length === 0} onClick={() => setAbsolute(!absolute)}>
        {absolute ? 'to' : 'by'}
      </button>
      {number('east', 'm', -1e5, 1e5, 0.1, 'east')}
      {number('south', 'm', -1e5, 1e5, 0.1, 'south')}
      {number('up', 'm', -1e4, 1e4, 0.05, absolute ? 'height' : 'up')}
      {number('turn', 'deg', -360, 360, 5, 'turned')}
      {number('size', 'factor', 0.01, 100, 0.05, 'sized')}
    </>
  )
}

/** Where the middle of things is, and how the first of them is turned and sized. */
function standOfAll(instances: readonly InstanceAt[]): Amounts | null {
  if (instances.length === 0) return null
  const [x, y, z] = middleOf(instances)
  const tidy = (value: number, places: number) => Number(value.toFixed(places))
  return { east: tidy(x, 3), south: tidy(z, 3), up: tidy(y, 3), turn: tidy(compassOf(instances[0].turn), 1), size: tidy(instances[0].size[1], 3) }
}

/** Sets place, turn or size of what is chosen; what is dragged on begins from where things stood before. */
function useAbsolute(chosen: Chosen) {
  const { session } = useField()
  const take = useMemo(() => holdByGesture(session), [session])
  return (change: Partial<Amounts>, gesture?: string): void => {
    void take(chosen, gesture).then((held) => changeHeld(session, held, 'Set', setTo(held.instances, change)))
  }
}

/** Numbers relative to how what is chosen stood when the first of them was changed: what is typed later replaces what was typed before. */
function useRelative(chosen: Chosen, about: 'own' | 'middle') {
  const { session } = useField()
  const [values, setValues] = useState(AS_IT_IS)
  const held = useRef<Promise<Held> | null>(null)
  const wanted = useRef(AS_IT_IS)
  useEffect(() => {
    setValues(AS_IT_IS)
    wanted.current = AS_IT_IS
    held.current = null
  }, [chosen])
  return {
    values,
    set(change: Partial<Amounts>) {
      const next = { ...wanted.current, ...change }
      wanted.current = next
      setValues(next)
      held.current ??= hold(session, chosen)
      void held.current.then((own) => {
        if (wanted.current !== next) return
        const move = movedBy(session, [next.east, next.up, next.south])
        const turn = turnedBy(own.instances, next.turn, about)
        const size = sizedBy(own.instances, next.size, about)
        changeHeld(session, own, 'Change', (at) => {
          const sized = size(at)
          const turnedAt = { ...at, ...sized } as InstanceAt
          const both = { ...sized, ...turn(turnedAt) }
          return { ...both, ...move({ ...turnedAt, ...both } as InstanceAt) }
        })
      })
    },
  }
}
