import { Menu } from '@chakra-ui/react'
import { Copy, Eye, EyeOff, FileInput, FileOutput, Lock, LockOpen, PenLine, Spline, SquareDashed, Trash2 } from 'lucide-react'
import { useCallback, useEffect, useMemo, useState } from 'react'
import { useStore } from 'zustand'
import { lengthOf } from '../../core/long-list.ts'
import type { Outline } from '../../core/meadow.ts'
import { OUTLINE_ENDINGS } from '../../formats/endings.ts'
import { OUTLINE_FORMATS } from '../../formats/outline-files.ts'
import { Action, afterMenu, IconAction } from '../parts/actions.tsx'
import { MenuLayer } from '../parts/menu-layer.tsx'
import { chooseFiles } from '../parts/files.ts'
import { hintOf } from '../parts/hints.tsx'
import { plantingsNaming } from '../../document/named-in.ts'
import type { Entry } from '../parts/virtual-list.tsx'
import { VirtualList } from '../parts/virtual-list.tsx'
import { ListMenu, ListMenuButton } from '../parts/list-menu.tsx'
import { SwitchRow } from '../parts/switch-row.tsx'
import { Renamed } from '../parts/name-input.tsx'
import { NumberField } from '../params/number-field.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { valuesOfTool } from '../../tools/define.ts'
import { startDrawing } from '../../tools/draw.ts'
import { TOOLS } from '../../tools/index.ts'
import { useField, useFieldState, useOpen } from './field-context.ts'
import { takeOutOutlines } from './outline-files.ts'
import { areaWords, lengthWords } from './outline-words.ts'
import { tellRemoved } from './tell.ts'
import { aboveOf, pointsOf } from '../../core/outlines/outline.ts'
import { duplicateOutline, OUTLINE_USES, removeOutline, setAbove, setOutline, useOutline as give } from '../../document/edits/outlines.ts'

/** About how tall a row is, px. */
const ROW_HEIGHT = 32

/** Patches and paths: drawn here, used by any number of plantings. */
export function OutlinesDrawer() {
  const { tool } = useField()
  const order = useFieldState((state) => state.history.meadow.outlines.map(({ id }) => id).join(' '))
  const ids = useMemo(() => (order ? order.split(' ') : []), [order])
  const selected = useStore(tool, (state) => state.selected)
  const keep = useMemo(() => (selected ? [selected] : []), [selected])
  const [naming, setNaming] = useState<string | null>(null)
  const drawRow = useCallback((id: string, _place: number, entry: Entry) => <OutlineRow id={id} entry={entry} naming={naming === id} onNaming={(on) => setNaming(on ? id : null)} />, [naming])
  const drawing = useStore(tool, (state) => (state.drawing ? valuesOfTool(TOOLS.get('draw'), tool).what : null))
  useEffect(() => {
    tool.setState({ all: true })
    return () => tool.setState({ all: false, selected: null, point: null })
  }, [tool])
  const draw = (kind: Outline['kind']) => startDrawing(tool, kind)
  return (
    <>
      <div className="drawer-head">
        <h2>Outlines</h2>
        <span className="row">
          <IconAction label="Draw a patch" keys={SHORTCUTS.drawPatch.keys} onClick={() => draw('patch')}>
            <SquareDashed />
          </IconAction>
          <IconAction label="Draw a path" keys={SHORTCUTS.drawPath.keys} onClick={() => draw('path')}>
            <Spline />
          </IconAction>
          <IconAction label="Bring in outlines (GeoJSON, SVG)" onClick={() => void chooseFiles(OUTLINE_ENDINGS).then(([file]) => file && tool.setState({ incoming: { as: 'outlines', file } }))}>
            <FileInput />
          </IconAction>
          <TakeOut disabled={ids.length === 0} />
        </span>
      </div>
      {drawing && (
        <p className="faded" role="status">
          Click on the ground to put points, or draw with the button held. {drawing === 'patch' ? 'Click the first point' : 'Double click'} or press Enter to end, Esc to cancel; or move a cross by the arrow keys and press Enter.
        </p>
      )}
      {ids.length === 0 && !drawing && (
        <div className="empty">
          <p>No patch or path yet. A patch says where something grows or keeps out; a path is a line to grow along or keep off.</p>
          <span className="row">
            <Action main onClick={() => draw('patch')}>
              Draw a patch
            </Action>
            <Action onClick={() => draw('path')}>Draw a path</Action>
          </span>
        </div>
      )}
      <ListMenu items={(id) => <OutlineItems id={id} onRename={setNaming} />}>
        <VirtualList className="outlines" label="Patches and paths" keys={ids} estimate={ROW_HEIGHT} keep={keep}>
          {drawRow}
        </VirtualList>
      </ListMenu>
    </>
  )
}

function TakeOut({ disabled }: { readonly disabled: boolean }) {
  const { session } = useField()
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <button type="button" className="icon-action" aria-label="Take the outlines out as a file" disabled={disabled} {...hintOf('Take the outlines out as a file')}>
          <FileOutput />
        </button>
      </Menu.Trigger>
      <MenuLayer>
        {OUTLINE_FORMATS.all.map((format) => (
          <Menu.Item key={format.kind} value={format.kind} onClick={() => takeOutOutlines(session, format)}>
            {format.label}
          </Menu.Item>
        ))}
      </MenuLayer>
    </Menu.Root>
  )
}

interface RowProps {
  readonly entry: Entry
  /** Whether its name is being changed. */
  readonly naming: boolean
  readonly onNaming: (naming: boolean) => void
}

function OutlineRow({ id, ...rest }: RowProps & { readonly id: string }) {
  const outline = useFieldState((state) => state.history.meadow.outlines.find((one) => one.id === id))
  return outline ? <RowOf outline={outline} {...rest} /> : null
}

function RowOf({ outline, entry, naming, onNaming }: RowProps & { readonly outline: Outline }) {
  const { session, tool } = useField()
  const selected = useStore(tool, (state) => state.selected === outline.id)
  const { id, name, kind, visible } = outline
  return (
    <li {...entry} className={selected ? 'outline selected' : 'outline'}>
      <div className="card-head">
        <span className={kind === 'patch' ? 'outline-mark patch' : 'outline-mark'} style={{ color: outline.colour }} aria-hidden="true" />
        <Renamed className="card-name-input" label="Name of the outline" name={name} naming={naming} onNaming={onNaming} onRename={(next) => setOutline(session, id, 'Rename the outline', 'name', next)}>
          <button
            type="button"
            className="card-name"
            aria-expanded={selected}
            title="Show its points"
            onClick={() => tool.setState({ active: 'look', selected: selected ? null : id, point: null })}
          >
            {name}
          </button>
        </Renamed>
        <IconAction
          label={visible ? `Hide ${name}` : `Show ${name}`}
          pressed={!visible}
          onClick={() => setOutline(session, id, visible ? 'Hide the outline' : 'Show the outline', 'visible', !visible)}
        >
          {visible ? <Eye /> : <EyeOff />}
        </IconAction>
        <ListMenuButton id={id} label={`What to do with ${name}`} />
      </div>
      {selected && <OutlineFields outline={outline} />}
    </li>
  )
}

/** What is done with an outline less often. */
function OutlineItems({ id, onRename }: { readonly id: string; readonly onRename: (id: string) => void }) {
  const { session, tool } = useField()
  const open = useOpen()
  const outline = useFieldState((state) => state.history.meadow.outlines.find((one) => one.id === id))
  const planting = useFieldState((state) => state.history.meadow.plantings.find((one) => one.id === open))
  if (!outline) return null
  const { name, kind, locked } = outline
  return (
    <>
      {planting &&
        OUTLINE_USES[kind].map((use) => (
          <Menu.Item key={use.label} value={use.label} disabled={planting.locked} onClick={() => give(session, planting.id, outline, use)}>
            {planting.name} {use.label}
          </Menu.Item>
        ))}
      <Menu.Item value="rename" disabled={locked} onClick={() => afterMenu(() => onRename(id))}>
        <PenLine size={14} /> Rename
      </Menu.Item>
      <Menu.Item value="lock" onClick={() => setOutline(session, id, locked ? 'Unlock the outline' : 'Lock the outline', 'locked', !locked)}>
        {locked ? <LockOpen size={14} /> : <Lock size={14} />} {locked ? 'Unlock' : 'Lock'}
      </Menu.Item>
      <Menu.Item value="duplicate" onClick={() => tool.setState({ selected: duplicateOutline(session, id), point: null })}>
        <Copy size={14} /> Duplicate
      </Menu.Item>
      <Menu.Item value="remove" disabled={locked} onClick={() => tellRemoved(session, name, removeOutline(session, id))}>
        <Trash2 size={14} /> Remove
      </Menu.Item>
    </>
  )
}

/** How high a path lies over the ground: the point that is chosen, or all of it. */
function AboveField({ outline }: { readonly outline: Outline }) {
  const { session, tool } = useField()
  const point = useStore(tool, (state) => state.point)
  const { id, locked } = outline
  const own = point && point.line < outline.lines.length ? point : null
  const all = pointsOf(outline).flatMap((line, l) => Array.from({ length: line.length / 2 }, (_, index) => aboveOf(outline, { line: l, index })))
  const value = own ? aboveOf(outline, own) : all.every((one) => one === all[0]) ? (all[0] ?? 0) : null
  return (
    <div className="param">
      <span className="param-label">{own ? `Point ${own.index + 1} off the ground` : 'Off the ground'}</span>
      <NumberField
        label="Off the ground"
        value={value}
        empty="varies"
        unit="m"
        min={-1000}
        max={1000}
        step={0.1}
        home={0}
        disabled={locked}
        onChange={(metres, gesture) => metres !== null && setAbove(session, id, own, metres, gesture)}
      />
    </div>
  )
}

function OutlineFields({ outline }: { readonly outline: Outline }) {
  const { session } = useField()
  const { id, kind, locked } = outline
  const size = useMemo(() => sizeWords(outline), [outline])
  const users = useFieldState((state) => plantingsNaming(state.history.meadow, id).map(({ name }) => name).join(', '))
  return (
    <div className="outline-fields">
      <p className="faded">
        {size}. {users ? `Used by ${users}.` : 'No planting uses it yet.'}
        {locked ? ' Locked against changes.' : ''}
      </p>
      <SwitchRow label="Smooth" on={outline.smooth} disabled={locked} onChange={(on) => setOutline(session, id, on ? 'Make it smooth' : 'Make it straight', 'smooth', on)} />
      {kind === 'path' && (
        <>
          <SwitchRow label="Closed" on={outline.closed} disabled={locked} onChange={(on) => setOutline(session, id, on ? 'Close the path' : 'Open the path', 'closed', on)} />
          <AboveField outline={outline} />
          <div className="param">
            <span className="param-label">Width</span>
            <NumberField
              label="Width"
              value={outline.width}
              unit="m"
              min={0}
              max={1000}
              step={0.1}
              home={2}
              disabled={locked}
              onChange={(width, gesture) => width !== null && setOutline(session, id, 'Change the width', 'width', width, gesture)}
            />
          </div>
        </>
      )}
      <label className="param">
        <span className="param-label">Colour</span>
        <input type="color" value={outline.colour} disabled={locked} onChange={(event) => setOutline(session, id, 'Change the colour', 'colour', event.target.value, `colour-${id}`)} />
      </label>
    </div>
  )
}

/** "0.42 ha, 38 points" or "112 m long, 9 points". */
function sizeWords(outline: Outline): string {
  const points = outline.lines.reduce((sum, line) => sum + lengthOf(line) / 2, 0)
  return `${outline.kind === 'path' ? lengthWords(outline) : areaWords(outline)}, ${points.toLocaleString('en')} points`
}
