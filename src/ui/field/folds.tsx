import { Menu, Portal } from '@chakra-ui/react'
import { ChevronDown, ChevronRight, Dices, MessageCircleQuestion, Plus, Trash2, X } from 'lucide-react'
import type { ReactNode } from 'react'
import { memo, useState } from 'react'
import { useStore } from 'zustand'
import { CONDITIONS } from '../../core/conditions/index.ts'
import type { Fold, ParamSet, ParamValue, SpanParam } from '../../core/kinds.ts'
import { isShown } from '../../core/kinds.ts'
import type { Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { newCondition } from '../../document/new-planting.ts'
import type { GroundFacts, Histogram } from '../../engine/io-refs.ts'
import { IconAction } from '../parts/actions.tsx'
import type { FieldSession } from '../../state/field-session.ts'
import { ParamField } from '../params/param-field.tsx'
import { firstRef } from '../params/ref-field.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { useField, useFieldState } from './field-context.ts'
import { MixEditor } from './mix-editor.tsx'
import { addCondition, removeCondition, setConditionParam, setParam, switchCondition, throwAgain } from './planting-edits.ts'

const FOLDS: readonly { readonly fold: Fold; readonly title: string }[] = [
  { fold: 'what', title: 'What' },
  { fold: 'where', title: 'Where' },
  { fold: 'how-many', title: 'How many' },
  { fold: 'how-it-stands', title: 'How it stands' },
]

/** The open card's whole set of fields; nothing when the planting is gone. */
export function Folds({ id }: { readonly id: string }) {
  const planting = useFieldState((state) => state.history.meadow.plantings.find((one) => one.id === id))
  return planting ? <FoldsOf planting={planting} /> : null
}

function FoldsOf({ planting }: { readonly planting: Planting }) {
  const { session, tool, setOpen } = useField()
  const probing = useStore(tool, (state) => state.probing)
  const [open, setFold] = useState<Fold | null>('where')
  const kind = PLANTINGS.get(planting.kind)
  const bodies: Record<Fold, ReactNode> = {
    what: <MixEditor planting={planting} />,
    where: <HabitatEditor planting={planting.id} habitat={planting.habitat} locked={planting.locked} />,
    'how-many': <Fields planting={planting} params={kind.params} fold="how-many" />,
    'how-it-stands': <Fields planting={planting} params={kind.params} fold="how-it-stands" />,
  }
  return (
    <aside className="folds" aria-label={`All about ${planting.name}`}>
      <div className="drawer-head">
        <h2>{planting.name}</h2>
        <span className="row">
          <IconAction
            label="Throw again"
            keys={SHORTCUTS.throwAgain.keys}
            disabled={planting.locked}
            onClick={() => throwAgain(session, planting.id)}
          >
            <Dices />
          </IconAction>
          <IconAction label="Ask why here, why not here" keys={SHORTCUTS.probe.keys} pressed={probing} onClick={() => tool.setState({ probing: !probing, drawing: null })}>
            <MessageCircleQuestion />
          </IconAction>
          <IconAction label="Close the card" onClick={() => setOpen(null)}>
            <X />
          </IconAction>
        </span>
      </div>
      {FOLDS.map(({ fold, title }) => (
        <section key={fold} className="fold">
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

interface HabitatProps {
  /** The planting's id. */
  readonly planting: string
  readonly habitat: Planting['habitat']
  readonly locked: boolean
}

const HabitatEditor = memo(function HabitatEditor({ planting, habitat, locked }: HabitatProps) {
  const { session } = useField()
  return (
    <>
      {habitat.length === 0 && <p className="faded">It grows anywhere. Add conditions to say where it likes to be.</p>}
      {habitat.map((use) => (
        <ConditionFields key={use.id} planting={planting} use={use} locked={locked} />
      ))}
      <Menu.Root>
        <Menu.Trigger asChild>
          <button type="button" className="text-action add-condition" disabled={locked}>
            <Plus size={14} /> Add a condition
          </button>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Menu.Content>
              {CONDITIONS.all.map((condition) => (
                <Menu.Item
                  key={condition.kind}
                  value={condition.kind}
                  title={condition.help}
                  onClick={() => addCondition(session, planting, newCondition(condition.kind, firstRefs(condition.params, session)))}
                >
                  {condition.label}
                </Menu.Item>
              ))}
            </Menu.Content>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
    </>
  )
})

interface ConditionProps {
  /** The planting's id. */
  readonly planting: string
  readonly use: Planting['habitat'][number]
  readonly locked: boolean
}

const ConditionFields = memo(function ConditionFields({ planting, use, locked }: ConditionProps) {
  const { session } = useField()
  const facts = useFieldState((state) => state.facts)
  const water = useFieldState((state) => state.history.meadow.water.level)
  const kind = CONDITIONS.get(use.kind)
  const disabled = locked || !use.on
  return (
    <fieldset id={`condition-${use.id}`} className={use.on ? 'condition' : 'condition off'}>
      <legend>
        <label className="row">
          <input
            type="checkbox"
            checked={use.on}
            disabled={locked}
            aria-label={`${kind.label} on`}
            onChange={(event) => switchCondition(session, planting, use.id, event.target.checked)}
          />
          <span title={kind.help}>{kind.label}</span>
        </label>
        <IconAction label={`Remove ${kind.label.toLowerCase()}`} disabled={locked} onClick={() => removeCondition(session, planting, use.id)}>
          <Trash2 />
        </IconAction>
      </legend>
      {Object.entries(kind.params)
        .filter(([, param]) => isShown(param, use.params))
        .map(([key, param]) => (
          <ParamField
            key={key}
            param={param}
            value={use.params[key]}
            disabled={disabled}
            {...(param.type === 'span' && param.shownOver ? { distribution: distributionFor(param.shownOver, facts, water) } : {})}
            onChange={(value: ParamValue, gesture) =>
              setConditionParam(session, planting, use.id, param.label, key, value, gesture)
            }
          />
        ))}
    </fieldset>
  )
})

/** Chooses what there is to choose for a new condition. */
function firstRefs(params: ParamSet, session: FieldSession): Record<string, ParamValue> {
  const { meadow } = session.store.getState().history
  return Object.fromEntries(
    Object.entries(params).flatMap(([key, param]) => (param.type === 'ref' ? [[key, firstRef(param.to, meadow)]] : [])),
  )
}

/** The histogram that a span of this meaning is drawn over. */
function distributionFor(over: NonNullable<SpanParam['shownOver']>, facts: GroundFacts | null, water: number): Histogram | null {
  if (!facts) return null
  if (over === 'slope') return facts.slopes
  const shift = over === 'above-water' ? water : 0
  return { ...facts.heights, low: facts.heights.low - shift, high: facts.heights.high - shift }
}
