import { Menu } from '@chakra-ui/react'
import { ArrowDown, ArrowUp, ClipboardCopy, Ellipsis, PenLine, Plus, Trash2 } from 'lucide-react'
import type { KeyboardEvent } from 'react'
import { memo, useState } from 'react'
import { useStore } from 'zustand'
import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import type { ParamSet, ParamValue, SpanParam } from '../../core/kinds.ts'
import { isShown } from '../../core/kinds.ts'
import type { Combine, Planting, SavedHabitat } from '../../core/meadow.ts'
import { newCondition } from '../../document/new-planting.ts'
import type { GroundFacts, Histogram } from '../../runner/io-refs.ts'
import { notify } from '../../state/notices.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { afterMenu, WordAction } from '../parts/actions.tsx'
import { MenuLayer } from '../parts/menu-layer.tsx'
import { hintOf } from '../parts/hints.tsx'
import { Renamed } from '../parts/name-input.tsx'
import { SubjectItems } from '../parts/subject-menu.tsx'
import { ParamField } from '../params/param-field.tsx'
import { firstRef } from '../params/ref-field.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { useField, useFieldState } from './field-context.ts'
import { tellKept, tellRemoved } from './tell.ts'
import { addConditions, applyHabitat, invertCondition, keepHabitat, moveCondition, removeHabitat, renameHabitat, setCombine } from '../../document/edits/habitats.ts'
import { removeCondition, setConditionParam, switchCondition } from '../../document/edits/plantings.ts'

interface HabitatProps {
  /** The planting's id. */
  readonly planting: string
  readonly habitat: Planting['habitat']
  readonly combine: Combine
  readonly locked: boolean
}

/** All conditions of a planting. */
export const HabitatEditor = memo(function HabitatEditor({ planting, habitat, combine, locked }: HabitatProps) {
  const { session, tool } = useField()
  const tint = useStore(tool, (state) => state.tint)
  const clip = useStore(tool, (state) => state.clip)
  const whole = tint?.planting === planting && tint.use === null
  return (
    <>
      <select
        className="how-together"
        aria-label="How the conditions go together"
        value={combine}
        disabled={locked || habitat.length < 2}
        onChange={(event) => setCombine(session, planting, event.target.value as Combine)}
      >
        <option value="all">All conditions must hold</option>
        <option value="any">One condition is enough</option>
      </select>
      <div className="row habitat-head">
        <WordAction label="Show on the ground where all conditions hold" keys={SHORTCUTS.tint.keys} pressed={whole} word="show" onClick={() => tool.setState({ tint: whole ? null : { planting, use: null } })} />
        <WordAction
          label="Copy all conditions"
          word="copy"
          disabled={habitat.length === 0}
          onClick={() => {
            tool.setState({ clip: habitat })
            notify('word', `${habitat.length} ${habitat.length === 1 ? 'condition is' : 'conditions are'} copied; paste them into another planting.`)
          }}
        />
        <WordAction label="Paste the copied conditions" word="paste" disabled={locked || !clip} onClick={() => clip && addConditions(session, planting, clip, 'Paste conditions')} />
        <KeptHabitats planting={planting} locked={locked} empty={habitat.length === 0} />
      </div>
      {habitat.length === 0 && <p className="faded">It grows anywhere. Add conditions to say where it likes to be.</p>}
      {habitat.map((use, place) => (
        <ConditionFields key={use.id} planting={planting} use={use} place={place} last={place === habitat.length - 1} locked={locked} />
      ))}
      <Menu.Root>
        <Menu.Trigger asChild>
          <button type="button" className="text-action add-condition" disabled={locked}>
            <Plus size={14} /> Add a condition
          </button>
        </Menu.Trigger>
        <MenuLayer>
          <SubjectItems
            kinds={CONDITIONS.all}
            onChoose={(kind) => addConditions(session, planting, [newCondition(kind, firstRefs(CONDITIONS.get(kind).params, session, planting))], 'Add a condition')}
          />
        </MenuLayer>
      </Menu.Root>
    </>
  )
})

interface KeptProps {
  readonly planting: string
  readonly locked: boolean
  readonly empty: boolean
}

/** Habitats kept under a name, for any planting of the meadow. */
function KeptHabitats({ planting, locked, empty }: KeptProps) {
  const { session } = useField()
  const habitats = useFieldState((state) => state.history.meadow.habitats)
  const [renaming, setRenaming] = useState<SavedHabitat | null>(null)
  return (
    <Renamed
      className="grow"
      label="Name of the kept habitat"
      name={renaming?.name ?? ''}
      naming={renaming !== null}
      onNaming={(on) => !on && setRenaming(null)}
      onRename={(name) => renaming && renameHabitat(session, renaming, name)}
    >
    <Menu.Root>
      <Menu.Trigger asChild>
        <button type="button" className="word-action" aria-label="Keep this habitat, or take a kept one" {...hintOf('Keep this habitat, or take a kept one')}>
          kept…
        </button>
      </Menu.Trigger>
      <MenuLayer>
        <Menu.Item value="keep" disabled={empty} onClick={() => tellKept(keepHabitat(session, planting))}>
          <Plus size={14} /> Keep this habitat
        </Menu.Item>
        {habitats.map((one) => (
          <Menu.Item key={one.id} value={one.id} disabled={locked} onClick={() => applyHabitat(session, planting, one)}>
            Take “{one.name}” ({one.uses.length})
          </Menu.Item>
        ))}
        {habitats.map((one) => (
          <Menu.Item key={`rename-${one.id}`} value={`rename-${one.id}`} onClick={() => afterMenu(() => setRenaming(one))}>
            <PenLine size={14} /> Rename “{one.name}”
          </Menu.Item>
        ))}
        {habitats.map((one) => (
          <Menu.Item key={`remove-${one.id}`} value={`remove-${one.id}`} onClick={() => tellRemoved(session, one.name, removeHabitat(session, one), 'forgotten')}>
            <Trash2 size={14} /> Forget “{one.name}”
          </Menu.Item>
        ))}
      </MenuLayer>
    </Menu.Root>
    </Renamed>
  )
}

interface ConditionProps {
  /** The planting's id. */
  readonly planting: string
  readonly use: Planting['habitat'][number]
  readonly place: number
  readonly last: boolean
  readonly locked: boolean
}

const ConditionFields = memo(function ConditionFields({ planting, use, place, last, locked }: ConditionProps) {
  const { session, tool } = useField()
  const facts = useFieldState((state) => state.facts)
  const water = useFieldState((state) => state.history.meadow.water.level)
  const tinted = useStore(tool, (state) => state.tint?.use === use.id)
  const kind = CONDITIONS.get(use.kind)
  const disabled = locked || !use.on
  const key = (event: KeyboardEvent) => {
    if (!event.altKey || locked || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
    event.preventDefault()
    moveCondition(session, planting, use.id, place + (event.key === 'ArrowUp' ? -1 : 1))
  }
  return (
    <fieldset id={`condition-${use.id}`} className={use.on ? 'condition' : 'condition off'}>
      <legend onKeyDown={key}>
        <label className="row">
          <input
            type="checkbox"
            checked={use.on}
            disabled={locked}
            aria-label={`${kind.label} on`}
            onChange={(event) => switchCondition(session, planting, use.id, event.target.checked)}
          />
          <span title={kind.help}>
            {use.invert ? 'Not: ' : ''}
            {kind.label}
          </span>
        </label>
        <span className="row condition-actions">
          <WordAction label={`${kind.label}: show it on the ground`} word="show" pressed={tinted} onClick={() => tool.setState({ tint: tinted ? null : { planting, use: use.id } })} />
          <WordAction label={`${kind.label}: not, the other way round`} word="not" pressed={use.invert} disabled={locked} onClick={() => invertCondition(session, planting, use.id)} />
          <ConditionMenu planting={planting} use={use} label={kind.label} place={place} last={last} locked={locked} />
        </span>
      </legend>
      {Object.entries(kind.params)
        .filter(([, param]) => isShown(param, use.params))
        .map(([name, param]) => (
          <ParamField
            key={name}
            param={param}
            value={use.params[name]}
            disabled={disabled}
            {...(param.type === 'span' && param.shownOver ? { distribution: distributionFor(param.shownOver, facts, water) } : {})}
            onChange={(value: ParamValue, gesture) => setConditionParam(session, planting, use.id, param.label, name, value, gesture)}
          />
        ))}
    </fieldset>
  )
})

interface ConditionMenuProps extends ConditionProps {
  readonly label: string
}

/** What is done with a condition less often. */
function ConditionMenu({ planting, use, label, place, last, locked }: ConditionMenuProps) {
  const { session, tool } = useField()
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <button type="button" className="icon-action" aria-label={`What to do with the condition ${label.toLowerCase()}`}>
          <Ellipsis />
        </button>
      </Menu.Trigger>
      <MenuLayer>
        <Menu.Item value="up" disabled={locked || place === 0} onClick={() => moveCondition(session, planting, use.id, place - 1)}>
          <ArrowUp size={14} /> Move up (Alt+↑)
        </Menu.Item>
        <Menu.Item value="down" disabled={locked || last} onClick={() => moveCondition(session, planting, use.id, place + 1)}>
          <ArrowDown size={14} /> Move down (Alt+↓)
        </Menu.Item>
        <Menu.Item value="copy" onClick={() => tool.setState({ clip: [use] })}>
          <ClipboardCopy size={14} /> Copy
        </Menu.Item>
        <Menu.Item value="remove" disabled={locked} onClick={() => removeCondition(session, planting, use.id)}>
          <Trash2 size={14} /> Remove
        </Menu.Item>
      </MenuLayer>
    </Menu.Root>
  )
}

/** Chooses what there is to choose for a new condition or driver of a planting. */
export function firstRefs(params: ParamSet, session: FieldSession, planting: string): Record<string, ParamValue> {
  const { meadow } = session.store.getState().history
  return Object.fromEntries(
    Object.entries(params).flatMap(([key, param]) => (param.type === 'ref' ? [[key, firstRef(param.to, meadow, planting)]] : [])),
  )
}

/** The histogram that a span of this meaning is drawn over. */
function distributionFor(over: NonNullable<SpanParam['shownOver']>, facts: GroundFacts | null, water: number): Histogram | null {
  if (!facts) return null
  if (over === 'slope') return facts.slopes
  const shift = over === 'above-water' ? water : 0
  return { ...facts.heights, low: facts.heights.low - shift, high: facts.heights.high - shift }
}
