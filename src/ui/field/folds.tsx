import { ChevronDown, ChevronRight, X } from 'lucide-react'
import type { ReactNode } from 'react'
import { useStore } from 'zustand'
import type { Fold, ParamSet } from '../../core/kinds.ts'
import { isShown } from '../../core/kinds.ts'
import type { Planting } from '../../core/meadow.ts'
import { meshGroundsOf } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { IconAction, WordAction } from '../parts/actions.tsx'
import { ParamField } from '../params/param-field.tsx'
import { TOOLS } from '../../tools/index.ts'
import { SHORTCUTS } from '../shortcuts.ts'
import { DriversEditor } from './drivers-editor.tsx'
import { useField, useFieldState } from './field-context.ts'
import { GroundsEditor } from './grounds-editor.tsx'
import { BaseSection } from './base-section.tsx'
import { LinesSection } from './lines-section.tsx'
import { HabitatEditor } from './habitat-editor.tsx'
import { StrokesSection } from './strokes-section.tsx'
import { TouchedSection } from './touched-section.tsx'
import { MixEditor } from './mix-editor.tsx'
import { setParam, throwAgain } from '../../document/edits/plantings.ts'

const FOLDS: readonly { readonly fold: Fold; readonly title: string; readonly guide: string }[] = [
  { fold: 'what', title: 'What', guide: 'what' },
  { fold: 'where', title: 'Where', guide: 'where' },
  { fold: 'how-many', title: 'How many', guide: 'how' },
  { fold: 'how-it-stands', title: 'How it stands', guide: 'how' },
]

/** What is done by hand to a planting first of all. */
const BY_BRUSH = { tool: 'sow', word: 'sow', label: 'Sow by hand: paint it over its ground' }
const BY_PATCH = { tool: 'draw', word: 'draw', label: 'Draw by hand: one more patch for it to fill' }
const BY_LINES = { tool: 'strew', word: 'strew', label: 'Strew by hand: draw one more line for it to lie along' }

/** The open card's whole set of fields; nothing when the planting is gone. */
export function Folds({ id }: { readonly id: string }) {
  const planting = useFieldState((state) => state.history.meadow.plantings.find((one) => one.id === id))
  return planting ? <FoldsOf planting={planting} /> : null
}

function FoldsOf({ planting }: { readonly planting: Planting }) {
  const { session, tool, setOpen } = useField()
  const probing = useStore(tool, (state) => state.active === 'ask')
  const open = useStore(tool, (state) => state.fold)
  const setFold = (fold: Fold | null) => tool.setState({ fold })
  const kind = PLANTINGS.get(planting.kind)
  const hand = kind.within ? BY_PATCH : kind.lineReach ? BY_LINES : BY_BRUSH
  const working = useStore(tool, (state) => state.active === hand.tool)
  const bodies: Record<Fold, ReactNode> = {
    what: (
      <>
        <MixEditor planting={planting} />
        {planting.mix.length > 1 && <Fields planting={planting} params={kind.params} fold="what" />}
      </>
    ),
    where: (
      <>
        {kind.based ? <BaseSection planting={planting} /> : kind.lineReach ? <LinesSection planting={planting} /> : null}
        {(kind.inOrder || (!kind.based && !kind.lineReach)) && <GroundsEditor planting={planting} />}
        {meshGroundsOf(planting).length > 0 && <Fields planting={planting} params={kind.params} fold="where" />}
        <HabitatEditor planting={planting.id} habitat={planting.habitat} combine={planting.combine} locked={planting.locked} />
        <StrokesSection planting={planting} />
        <TouchedSection planting={planting} />
      </>
    ),
    'how-many': <Fields planting={planting} params={kind.params} fold="how-many" />,
    'how-it-stands': (
      <>
        <Fields planting={planting} params={kind.params} fold="how-it-stands" />
        <DriversEditor planting={planting.id} drivers={planting.drivers} locked={planting.locked} />
      </>
    ),
  }
  return (
    <aside className="folds" aria-label={`All about ${planting.name}`}>
      <div className="drawer-head">
        <h2>{planting.name}</h2>
        <IconAction label="Close the card" onClick={() => setOpen(null)}>
          <X />
        </IconAction>
      </div>
      <div className="row card-acts">
        <WordAction label="Throw again: other places by the same rules" word="throw again" keys={SHORTCUTS.throwAgain.keys} disabled={planting.locked} onClick={() => throwAgain(session, planting.id)} />
        <WordAction label={hand.label} word={hand.word} keys={TOOLS.get(hand.tool).keys} pressed={working} onClick={() => tool.setState({ active: working ? 'look' : hand.tool })} />
        <WordAction label="Ask why here, why not here" word="ask why" keys={TOOLS.get('ask').keys} pressed={probing} onClick={() => tool.setState({ active: probing ? 'look' : 'ask' })} />
      </div>
      {FOLDS.map(({ fold, title, guide }) => (
        <section key={fold} className="fold" data-guide={guide}>
          <h3>
            <button type="button" aria-expanded={open === fold} onClick={() => setFold(open === fold ? null : fold)}>
              {open === fold ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
              {title}
            </button>
          </h3>
          {open === fold && <div className="fold-body">{bodies[fold]}</div>}
        </section>
      ))}
    </aside>
  )
}

function Fields({ planting, params, fold }: { readonly planting: Planting; readonly params: ParamSet; readonly fold: Fold }) {
  const { session } = useField()
  return Object.entries(params)
    .filter(([, param]) => param.fold === fold && isShown(param, planting.params))
    .map(([key, param]) => (
      <ParamField
        key={key}
        param={param}
        value={planting.params[key]}
        disabled={planting.locked}
        onChange={(value, gesture) => setParam(session, planting.id, param.label, key, value, gesture)}
      />
    ))
}
