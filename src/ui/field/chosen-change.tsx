import { useState } from 'react'
import { useStore } from 'zustand'
import type { Span } from '../../core/kinds.ts'
import { closed } from '../../core/stance/stance.ts'
import { newSeed } from '../../document/new-planting.ts'
import { atRandom, changeHeld, hold, swapFor } from '../../tools/choose/acts.ts'
import type { Drop } from '../../tools/choose/drop.ts'
import { dropAlong, DROPS } from '../../tools/choose/drop.ts'
import { COPIES, duplicate } from '../../tools/choose/duplicate.ts'
import type { Taken } from '../../tools/choose/like.ts'
import { PICKING_WORDS, TAKEN } from '../../tools/choose/like.ts'
import { CHANGES, SWAPS } from '../../tools/choose/settings.ts'
import { setToolValue, valuesOfTool } from '../../tools/define.ts'
import { partsOfMix } from '../../tools/of-mix.ts'
import { NumberField } from '../params/number-field.tsx'
import { SpanField } from '../params/span-field.tsx'
import type { ActProps } from './act-props.ts'
import { useField, useFieldState } from './field-context.ts'

/** Settings that are kept while others are chosen. */
function useKept(of: { readonly kind: string; readonly params: typeof CHANGES.params | typeof SWAPS.params | typeof COPIES.params }) {
  const { tool } = useField()
  // Read anew when a setting changes.
  useStore(tool, (state) => state.settings)
  return { values: valuesOfTool(of, tool), set: (key: string, value: number | boolean | Span) => setToolValue(tool, of.kind, key, value) }
}

/** Turns, sizes and leans each at random, from–to; again and again. */
export function AtRandom({ chosen }: ActProps) {
  const { session } = useField()
  const { values, set } = useKept(CHANGES)
  const spans = () => {
    const [turn, size, lean] = (['turn', 'size', 'lean'] as const).map((key) => closed(values[key] as Span))
    return { turn, size, lean }
  }
  return (
    <>
      {(['turn', 'size', 'lean'] as const).map((key) => (
        <label key={key} className="chosen-number">
          {CHANGES.params[key].label.toLowerCase()}
          <SpanField param={CHANGES.params[key]} value={values[key] as Span} onChange={(value) => set(key, value as Span)} />
        </label>
      ))}
      <button type="button" className="text-action" onClick={() => void hold(session, chosen).then((held) => changeHeld(session, held, 'Turn and size at random', atRandom(newSeed(), spans())))}>
        throw again
      </button>
    </>
  )
}

/** Colours each: the asset's own colours are multiplied by it. */
export function Tinting({ chosen }: ActProps) {
  const { session } = useField()
  const [colour, setColour] = useState('#d8c48a')
  const tint = (hex: string) => void hold(session, chosen).then((held) => changeHeld(session, held, 'Tint', () => ({ tint: (Number.parseInt(hex.slice(1), 16) * 256 + 255) >>> 0 })))
  return (
    <>
      <label className="row">
        in
        <input type="color" aria-label="Colour to tint with" value={colour} onChange={(event) => setColour(event.target.value)} />
      </label>
      <button type="button" className="text-action" onClick={() => tint(colour)}>
        tint
      </button>
      <button type="button" className="text-action" onClick={() => tint('#ffffff')}>
        as the assets are
      </button>
    </>
  )
}

/** Puts another asset, or the mix of a planting, in their places. */
export function Swapping({ chosen }: ActProps) {
  const { session } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const plantings = useFieldState((state) => state.history.meadow.plantings)
  const { values, set } = useKept(SWAPS)
  const swap = (to: string) => {
    const keep = { turn: values.turn === true, size: values.size === true }
    const asset = assets.find(({ id }) => id === to)
    if (asset) return void swapFor(session, chosen, { name: asset.name, mix: [{ asset, share: 1 }], keep })
    const planting = plantings.find(({ id }) => id === to)
    if (planting) void swapFor(session, chosen, { name: `the mix of ${planting.name}`, mix: partsOfMix(planting.mix, assets), keep })
  }
  return (
    <>
      <label className="row">
        swap for
        <select aria-label="Swap for another asset or mix" value="" onChange={(event) => swap(event.target.value)}>
          <option value="">an asset or a mix…</option>
          <optgroup label="Assets">
            {assets.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </optgroup>
          <optgroup label="Mixes of plantings">
            {plantings
              .filter(({ mix }) => mix.length > 1)
              .map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
          </optgroup>
        </select>
      </label>
      <span>keeping place,</span>
      {(['turn', 'size'] as const).map((key) => (
        <label key={key} className="row">
          <input type="checkbox" checked={values[key] === true} onChange={(event) => set(key, event.target.checked)} /> {key}
        </label>
      ))}
    </>
  )
}

/** Copies what is chosen so many times over by a step; again goes on from the last copies. */
export function Copies({ chosen, onChoose }: ActProps) {
  const { session } = useField()
  const { values, set } = useKept(COPIES)
  const number = (key: keyof typeof COPIES.params) => {
    const { unit, min, max, step, default: home, label } = COPIES.params[key]
    return <NumberField label={`Each copy: ${label.toLowerCase()}`} value={values[key] as number} unit={unit} min={min} max={max} step={step} home={home} onChange={(next) => next !== null && set(key, next)} />
  }
  const copy = () => {
    const [times, east, south, up, turn, size] = (['times', 'east', 'south', 'up', 'turn', 'size'] as const).map((key) => values[key] as number)
    void duplicate(session, chosen, { move: [east, up, south], turn, size }, Math.round(times)).then((last) => last && onChoose(last))
  }
  return (
    <>
      <button type="button" className="text-action" onClick={copy}>
        make
      </button>
      {number('times')} copies, each {number('east')} east, {number('south')} south, {number('up')} up, turned {number('turn')}, sized {number('size')}
      <span className="faded">again goes on from the last</span>
    </>
  )
}

/** Takes over what another thing has, comes to it, or is turned like it or like a face. */
export function Like(_: ActProps) {
  const { tool } = useField()
  const [take, setTake] = useState<readonly Taken[]>(['turn', 'size'])
  const picking = useStore(tool, (state) => state.picking?.what ?? null)
  const pick = (what: keyof typeof PICKING_WORDS) => tool.setState({ active: 'choose', picking: picking === what ? null : { what, take } })
  return (
    <>
      <button type="button" className="text-action" aria-pressed={picking === 'match'} disabled={take.length === 0} onClick={() => pick('match')}>
        take over from another…
      </button>
      {(Object.entries(TAKEN) as [Taken, string][]).map(([key, word]) => (
        <label key={key} className="row">
          <input type="checkbox" checked={take.includes(key)} onChange={(event) => setTake(event.target.checked ? [...take, key] : take.filter((one) => one !== key))} /> {word}
        </label>
      ))}
      <button type="button" className="text-action" aria-pressed={picking === 'centre'} onClick={() => pick('centre')}>
        centre on a thing or face…
      </button>
      <button type="button" className="text-action" aria-pressed={picking === 'turn'} onClick={() => pick('turn')}>
        turn like a thing or face…
      </button>
      {picking && <span role="status">{PICKING_WORDS[picking]}</span>}
    </>
  )
}

/** Drops what is chosen along a direction. */
export function Dropping({ chosen }: ActProps) {
  const { session } = useField()
  return (
    <>
      onto what lies
      {(Object.keys(DROPS) as Drop[]).map((key) => (
        <button key={key} type="button" className="text-action" onClick={() => void dropAlong(session, chosen, key)}>
          {DROPS[key].word}
        </button>
      ))}
    </>
  )
}
