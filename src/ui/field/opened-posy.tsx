import { useMemo } from 'react'
import { putTogether } from '../../document/edits/posies.ts'
import { posiesWith } from '../../core/posy/posy.ts'
import { Action } from '../parts/actions.tsx'
import { useField, useFieldState } from './field-context.ts'

/** The way to put an open posy together where there is no room for more over the picture. */
export function OpenedWord() {
  const { session } = useField()
  const name = useFieldState(({ history: { meadow } }) => meadow.assets.find(({ id }) => id === meadow.opened?.asset)?.name ?? null)
  if (name === null) return null
  return (
    <span className="row opened-word" role="status">
      <em>{name}</em> is open
      <button type="button" className="text-action" onClick={() => putTogether(session)}>
        Put it together
      </button>
    </span>
  )
}

/** While a posy is open: which one, who follows it, and the way to put it together. */
export function OpenedPosy() {
  const { session } = useField()
  const opened = useFieldState((state) => state.history.meadow.opened)
  const assets = useFieldState((state) => state.history.meadow.assets)
  const posy = assets.find(({ id }) => id === opened?.asset)
  const left = useFieldState((state) => (opened ? state.plantings[opened.planting] : undefined))
  const around = useMemo(() => (posy ? posiesWith(assets, posy.id).size : 0), [assets, posy])
  if (!posy) return null
  return (
    <p className="opened-posy" data-over="" role="status">
      <span>
        {left?.phase === 'ready' && left.count === 0 && 'Nothing of it is left: a posy keeps its last part until another is placed. '}
        <em>{posy.name}</em> is open: move, turn, size, swap, copy or take out its {posy.parts.length === 1 ? 'one part' : `${posy.parts.length} parts`}. All that stand elsewhere follow
        {around > 0 && `, and ${around === 1 ? 'one posy' : `${around} posies`} that it is a part of`}.
      </span>
      <Action main onClick={() => putTogether(session)}>
        Put it together
      </Action>
    </p>
  )
}
