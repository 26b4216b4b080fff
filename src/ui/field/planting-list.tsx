import { Menu } from '@chakra-ui/react'
import type { CollisionDetection, DragEndEvent } from '@dnd-kit/core'
import { DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { Copy, Dices, Eye, EyeOff, GripVertical, Lock, LockOpen, PenLine, Plus, Trash2 } from 'lucide-react'
import type { KeyboardEvent } from 'react'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { useStore } from 'zustand'
import type { Planting } from '../../core/meadow.ts'
import { Action, afterMenu, IconAction } from '../parts/actions.tsx'
import { ListMenu, ListMenuButton } from '../parts/list-menu.tsx'
import { Renamed } from '../parts/name-input.tsx'
import type { Entry } from '../parts/virtual-list.tsx'
import { VirtualList } from '../parts/virtual-list.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { dropPlace } from './drop-place.ts'
import { useField, useFieldState, useOpen } from './field-context.ts'
import { tellRemoved } from './tell.ts'
import { duplicatePlanting, movePlanting, removePlanting, renamePlanting, setSwitch, throwAgain } from '../../document/edits/plantings.ts'
import { PlantingSentence } from './planting-sentence.tsx'

/** One object for good: another one at every drawing would draw all cards anew. */
const GRIP = { activationConstraint: { distance: 4 } }

/** About how tall a closed card is, px. */
const CARD_HEIGHT = 44

/** The card in whose place the dragged one would land. */
const underneath: CollisionDetection = ({ active, collisionRect, droppableRects, droppableContainers }) => {
  const cards = droppableContainers
    .flatMap(({ id }) => {
      const rect = droppableRects.get(id)
      return rect ? [{ id, top: rect.top, height: rect.height }] : []
    })
    .sort((a, b) => a.top - b.top)
  const from = cards.findIndex(({ id }) => id === active.id)
  return from < 0 ? [] : [{ id: cards[dropPlace(cards, from, collisionRect)].id }]
}

/** The plantings as cards in their order of claim. */
export function PlantingList() {
  const { session, tool } = useField()
  const open = useOpen()
  const [naming, setNaming] = useState<string | null>(null)
  const choose = () => tool.setState({ choosing: true })
  // The list knows the order alone: what changes within a planting draws that one's card and no other.
  const order = useFieldState((state) => state.history.meadow.plantings.map(({ id }) => id).join(' '))
  const items = useMemo(() => (order ? order.split(' ') : []), [order])
  const sensors = useSensors(useSensor(PointerSensor, GRIP))
  const [dragged, setDragged] = useState<string | null>(null)
  // The open card, so that what is typed in it is not lost by scrolling, and the one that is dragged.
  const keep = useMemo(() => [open, dragged].filter((id) => id !== null), [open, dragged])
  const drawCard = useCallback(
    (id: string, place: number, entry: Entry) => <PlantingCard id={id} place={place} entry={entry} naming={naming === id} onNaming={(on) => setNaming(on ? id : null)} />,
    [naming],
  )
  const drop = ({ active, over }: DragEndEvent) => {
    setDragged(null)
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
      <DndContext sensors={sensors} collisionDetection={underneath} onDragStart={({ active }) => setDragged(String(active.id))} onDragEnd={drop} onDragCancel={() => setDragged(null)}>
        <SortableContext items={items} strategy={verticalListSortingStrategy}>
          <ListMenu items={(id) => <CardItems id={id} onRename={setNaming} />}>
            <VirtualList ordered className="cards" label="Plantings, first to claim first" keys={items} estimate={CARD_HEIGHT} keep={keep}>
              {drawCard}
            </VirtualList>
          </ListMenu>
        </SortableContext>
      </DndContext>
    </>
  )
}

interface CardProps {
  readonly id: string
  readonly place: number
  readonly entry: Entry
  /** Whether its name is being changed. */
  readonly naming: boolean
  readonly onNaming: (naming: boolean) => void
}

function PlantingCard({ id, ...rest }: CardProps) {
  const planting = useFieldState((all) => all.history.meadow.plantings.find((one) => one.id === id))
  return planting ? <CardOf planting={planting} {...rest} /> : null
}

function CardOf({ planting, place, entry, naming, onNaming }: Omit<CardProps, 'id'> & { readonly planting: Planting }) {
  const { session, tool, setOpen } = useField()
  const state = useFieldState((all) => all.plantings[planting.id])
  const { setNodeRef, transform, transition, listeners, setActivatorNodeRef, isDragging } = useSortable({ id: planting.id })
  const isOpen = useStore(tool, ({ open }) => open === planting.id)
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
      {...entry}
      ref={(node) => {
        sheet.current = node
        setNodeRef(node)
        entry.ref(node)
      }}
      className={['card', isOpen ? 'open' : '', isDragging ? 'dragged' : '', planting.visible ? '' : 'hidden-planting'].join(' ')}
      style={{ ...entry.style, transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
      onKeyDown={key}
    >
      <div className="card-head">
        <span ref={setActivatorNodeRef} {...listeners} className="grip" title="Drag to change the order of claim" aria-hidden="true">
          <GripVertical size={13} />
        </span>
        <span className="mark" style={{ background: planting.colour }} aria-hidden="true" />
        <Renamed className="card-name-input" label="Name of the planting" name={planting.name} naming={naming} onNaming={onNaming} onRename={(name) => renamePlanting(session, planting.id, name)}>
          <button
            type="button"
            className="card-name"
            aria-expanded={isOpen}
            title="Open; Alt with an arrow key changes the order"
            onClick={() => setOpen(isOpen ? null : planting.id)}
            onDoubleClick={() => onNaming(true)}
          >
            {planting.name}
          </button>
        </Renamed>
        {planting.locked && (
          <IconAction label="Locked against changes; unlock it" onClick={() => setSwitch(session, planting.id, 'locked', false)}>
            <Lock />
          </IconAction>
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
        <ListMenuButton id={planting.id} label={`What to do with ${planting.name}`} />
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
      {!planting.visible && <HiddenNote planting={planting} />}
      {isOpen && <PlantingSentence planting={planting} />}
    </li>
  )
}

/** What a hidden planting does to others, and the other choice. */
function HiddenNote({ planting: { id, freeWhileHidden } }: { readonly planting: Planting }) {
  const { session } = useField()
  return (
    <p className="card-note hidden-note" role="status">
      {freeWhileHidden ? 'Hidden; others may grow in its room meanwhile.' : 'Hidden; it still holds its room.'}
      <button type="button" className="text-action" onClick={() => setSwitch(session, id, 'freeWhileHidden', !freeWhileHidden)}>
        {freeWhileHidden ? 'Hold the room' : 'Give the room free while hidden'}
      </button>
    </p>
  )
}

/** What is done with a planting less often. */
function CardItems({ id, onRename }: { readonly id: string; readonly onRename: (id: string) => void }) {
  const { session, setOpen } = useField()
  const planting = useFieldState((all) => all.history.meadow.plantings.find((one) => one.id === id))
  if (!planting) return null
  const { name, locked } = planting
  return (
    <>
      <Menu.Item value="rename" onClick={() => afterMenu(() => onRename(id))}>
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
    </>
  )
}
