import type { ComponentType } from 'react'
import { useState } from 'react'
import type { Chosen } from '../../state/chosen.ts'
import { NOTHING_CHOSEN } from '../../state/chosen.ts'
import { letGoOf, takeOut } from '../../tools/choose/acts.ts'
import { hintOf } from '../parts/hints.tsx'
import type { ActProps } from './act-props.ts'
import { AtRandom, Copies, Dropping, Like, Swapping, Tinting } from './chosen-change.tsx'
import { Numbers } from './chosen-numbers.tsx'
import { Grouping, Others, SpacingOut } from './chosen-order.tsx'
import { Gathering } from './chosen-posy.tsx'
import { useField } from './field-context.ts'

/** Acts with settings of their own: a word opens them, one at a time. */
const ACTS: readonly { readonly word: string; readonly help: string; readonly Part: ComponentType<ActProps> }[] = [
  { word: 'move, turn, size', help: 'By numbers, from where they stand or to places', Part: Numbers },
  { word: 'at random', help: 'Turn, size and lean each at random, from–to', Part: AtRandom },
  { word: 'tint', help: 'Colour them; white is as the asset is', Part: Tinting },
  { word: 'swap', help: 'Put another asset or a mix in their places', Part: Swapping },
  { word: 'duplicate', help: 'Copies, each a step from the one before', Part: Copies },
  { word: 'space out', help: 'Evenly in a row, round a ring or along a path; the spacing stays open to change', Part: SpacingOut },
  { word: 'match', help: 'Like another thing, onto it, or turned with a face', Part: Like },
  { word: 'drop', help: 'Along a direction onto what lies there', Part: Dropping },
  { word: 'group', help: 'Choose and move them as one from now on', Part: Grouping },
  { word: 'posy', help: 'Gather them into one asset that can be spread, placed and swapped; open it or take it apart', Part: Gathering },
  { word: 'choose', help: 'A random share, one sort, those in a patch, neighbours, the others', Part: Others },
]

/** What can be done with what is chosen, as few words; the one that is opened shows its settings. */
export function ChosenActs(props: Omit<ActProps, 'onChoose'>) {
  const { session, tool } = useField()
  const [open, setOpen] = useState(0)
  const onChoose = (next: Chosen) => tool.setState({ chosen: next })
  const { Part, word: opened } = ACTS[open]
  return (
    <>
      <div className="row chosen-words">
        {ACTS.map(({ word, help }, k) => (
          <button key={word} type="button" className="act-word" aria-expanded={open === k} onClick={() => setOpen(k)} {...hintOf(help)}>
            {word}
          </button>
        ))}
        <button type="button" className="act-word" onClick={() => void letGoOf(session, props.chosen).then((done) => done && onChoose(NOTHING_CHOSEN))} {...hintOf('Make singles of them: the rules let go')}>
          let go
        </button>
        <button type="button" className="act-word" onClick={() => void takeOut(session, props.chosen).then((done) => done && onChoose(NOTHING_CHOSEN))} {...hintOf('Take them out; they can be brought back')}>
          take out
        </button>
      </div>
      <div className="row chosen-part" role="group" aria-label={opened}>
        <Part {...props} onChoose={onChoose} />
      </div>
    </>
  )
}
