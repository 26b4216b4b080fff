import { Menu, Portal } from '@chakra-ui/react'
import type { DragEndEvent } from '@dnd-kit/core'
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { Copy, Dices, Ellipsis, Eye, EyeOff, GripVertical, Lock, LockOpen, PenLine, Plus, Trash2 } from 'lucide-react'
import type { KeyboardEvent } from 'react'
import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import type { Planting } from '../../core/meadow.ts'
import { Action, afterMenu, IconAction } from '../parts/actions.tsx'
import { NameInput } from '../parts/name-input.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { useField, useFieldState } from './field-context.ts'
import { tellRemoved } from './tell.ts'
import { duplicatePlanting, movePlanting, removePlanting, renamePlanting, setSwitch, throwAgain } from '../../document/edits/plantings.ts'
import { PlantingSentence } from './planting-sentence.tsx'

/** One object for good: another one at every drawing would draw all cards anew. */
const GRIP = { activationConstraint: { distance: 4 } }

/** The plantings as cards in their order of claim. */
export function PlantingList() {
  const { session, tool } = useField()
  const choose = () => tool.setState({ choosing: true })
  // The list knows the order alone: what changes within a planting draws that one's card and no other.
  const order = useFieldState((state) => state.history.meadow.plantings.map(({ id }) => id).join(' '))
  const items = useMemo(() => (order ? order.split(' ') : []), [order])
  const sensors = useSensors(useSensor(PointerSensor, GRIP))
  const drop = ({ active, over }: DragEndEvent) => {
    if (over) movePlanting(session, String(active.id), items.indexOf(String(over.id)))
  }
  return (
    <>
      <div className="drawer-head">
        <h2>Plantings</h2>
        <IconAction label="Add a planting" keys={SHORTCUTS.add.keys} onClick={choose}>
          <Plus />
        </IconAction>
      </div>
      {items.length === 0 && (
        <div className="empty">
          <p>Nothing grows here yet. A planting spreads assets over the ground by rule.</p>
          <Action main onClick={choose}>
            Add the first planting
          </Action>
        </div>
      )}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={items} strategy={verticalListSortingStrategy}>
          <ol className="cards" aria-label="Plantings, first to claim first">
            {items.map((id, place) => (
              <PlantingCard key={id} id={id} place={place} />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
    </>
  )
}

const PlantingCard = memo(function PlantingCard({ id, place }: { readonly id: string; readonly place: number }) {
  const planting = useFieldState((all) => all.history.meadow.plantings.find((one) => one.id === id))
  return planting ? <CardOf planting={planting} place={place} /> : null
})

function CardOf({ planting, place }: { readonly planting: Planting; readonly place: number }) {
  const { session, open, setOpen } = useField()
  const state = useFieldState((all) => all.plantings[planting.id])
  const [naming, setNaming] = useState(false)
  const startNaming = useCallback(() => setNaming(true), [])
  const { setNodeRef, transform, transition, listeners, setActivatorNodeRef, isDragging } = useSortable({ id: planting.id })
  const isOpen = open === planting.id
  const sheet = useRef<HTMLLIElement | null>(null)
  useEffect(() => {
    if (isOpen) sheet.current?.scrollIntoView({ block: 'nearest' })
  }, [isOpen])

  const key = (event: KeyboardEvent) => {
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
    event.preventDefault()
    movePlanting(session, planting.id, place + (event.key === 'ArrowUp' ? -1 : 1))
  }
  return (
    <li
      ref={(node) => {
        sheet.current = node
        setNodeRef(node)
      }}
      className={['card', isOpen ? 'open' : '', isDragging ? 'dragged' : '', planting.visible ? '' : 'hidden-planting'].join(' ')}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
      onKeyDown={key}
    >
      <div className="card-head">
        <span ref={setActivatorNodeRef} {...listeners} className="grip" title="Drag to change the order of claim" aria-hidden="true">
          <GripVertical size={13} />
        </span>
        <span className="mark" style={{ background: planting.colour }} aria-hidden="true" />
        {!naming ? (
          <button
            type="button"
            className="card-name"
            aria-expanded={isOpen}
            title="Open; Alt with an arrow key changes the order"
            onClick={() => setOpen(isOpen ? null : planting.id)}
            onDoubleClick={startNaming}
          >
            {planting.name}
          </button>
        ) : (
          <NameInput
            className="card-name-input"
            label="Name of the planting"
            name={planting.name}
            onDone={(name) => {
              setNaming(false)
              if (name) renamePlanting(session, planting.id, name)
            }}
          />
        )}
        <span className="card-count" aria-label={`${state?.count ?? 0} instances`} data-testid="count">
          {(state?.count ?? 0).toLocaleString('en')}
        </span>
        <IconAction
          label={planting.visible ? 'Hide' : 'Show'}
          pressed={!planting.visible}
          onClick={() => setSwitch(session, planting.id, 'visible', !planting.visible)}
        >
          {planting.visible ? <Eye /> : <EyeOff />}
        </IconAction>
        <CardMenu id={planting.id} name={planting.name} locked={planting.locked} onRename={startNaming} />
      </div>
      {state?.phase === 'growing' && state.total > 0 && (
        <div className="card-progress" role="progressbar" aria-label="Growing" aria-valuenow={Math.round((100 * state.done) / state.total)}>
          <span style={{ width: `${(100 * state.done) / state.total}%` }} />
        </div>
      )}
      {state?.sentence && (
        <p className={state.phase === 'failed' ? 'card-note alarm' : 'card-note'} role="status">
          {state.sentence}
        </p>
      )}
      {planting.locked && isOpen && (
        <p className="card-note">
          <Lock size={12} /> Locked against changes.
        </p>
      )}
      {isOpen && <PlantingSentence planting={planting} />}
    </li>
  )
}

interface CardMenuProps {
  /** The planting's id. */
  readonly id: string
  readonly name: string
  readonly locked: boolean
  readonly onRename: () => void
}

const CardMenu = memo(function CardMenu({ id, name, locked, onRename }: CardMenuProps) {
  const { session, setOpen } = useField()
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <button type="button" className="icon-action" aria-label={`What to do with ${name}`}>
          <Ellipsis size={15} />
        </button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            <Menu.Item value="rename" onClick={() => afterMenu(onRename)}>
              <PenLine size={14} /> Rename
            </Menu.Item>
            <Menu.Item value="throw" disabled={locked} onClick={() => throwAgain(session, id)}>
              <Dices size={14} /> Throw again
            </Menu.Item>
            <Menu.Item value="lock" onClick={() => setSwitch(session, id, 'locked', !locked)}>
              {locked ? <LockOpen size={14} /> : <Lock size={14} />} {locked ? 'Unlock' : 'Lock'}
            </Menu.Item>
            <Menu.Item value="duplicate" onClick={() => setOpen(duplicatePlanting(session, id))}>
              <Copy size={14} /> Duplicate
            </Menu.Item>
            <Menu.Item value="remove" disabled={locked} onClick={() => tellRemoved(session, name, removePlanting(session, id))}>
              <Trash2 size={14} /> Remove
            </Menu.Item>
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
})
