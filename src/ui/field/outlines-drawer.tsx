import { Menu, Portal, Switch } from '@chakra-ui/react'
import { Copy, Ellipsis, Eye, EyeOff, FileInput, FileOutput, Lock, LockOpen, PenLine, Spline, SquareDashed, Trash2 } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import { useStore } from 'zustand'
import { lengthOf } from '../../core/long-list.ts'
import type { Outline } from '../../core/meadow.ts'
import { outlineLength, patchArea } from '../../core/outlines/measure.ts'
import { OUTLINE_ENDINGS } from '../../formats/endings.ts'
import { OUTLINE_FORMATS } from '../../formats/outline-files.ts'
import { Action, afterMenu, IconAction } from '../parts/actions.tsx'
import { chooseFiles } from '../parts/files.ts'
import { hintOf } from '../parts/hints.tsx'
import { NameInput } from '../parts/name-input.tsx'
import { NumberField } from '../params/number-field.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { valuesOfTool } from '../../tools/define.ts'
import { startDrawing } from '../../tools/draw.ts'
import { TOOLS } from '../../tools/index.ts'
import { useField, useFieldState } from './field-context.ts'
import { takeOutOutlines } from './outline-files.ts'
import { tellRemoved } from './tell.ts'
import { duplicateOutline, OUTLINE_USES, removeOutline, setOutline, useOutline as give } from '../../document/edits/outlines.ts'

/** Patches and paths: drawn here, used by any number of plantings. */
export function OutlinesDrawer() {
  const { tool } = useField()
  const outlines = useFieldState((state) => state.history.meadow.outlines)
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
          <TakeOut disabled={outlines.length === 0} />
        </span>
      </div>
      {drawing && (
        <p className="faded" role="status">
          Click on the ground to put points, or draw with the button held. {drawing === 'patch' ? 'Click the first point' : 'Double click'} or press Enter to end, Esc to leave it.
        </p>
      )}
      {outlines.length === 0 && !drawing && (
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
      <ul className="outlines" aria-label="Patches and paths">
        {outlines.map((outline) => (
          <OutlineRow key={outline.id} outline={outline} />
        ))}
      </ul>
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
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            {OUTLINE_FORMATS.all.map((format) => (
              <Menu.Item key={format.kind} value={format.kind} onClick={() => takeOutOutlines(session, format)}>
                {format.label}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}

function OutlineRow({ outline }: { readonly outline: Outline }) {
  const { session, tool, open } = useField()
  const selected = useStore(tool, (state) => state.selected === outline.id)
  const planting = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === open))
  const [naming, setNaming] = useState(false)
  const { id, name, kind, locked, visible } = outline
  return (
    <li className={selected ? 'outline selected' : 'outline'}>
      <div className="card-head">
        <span className={kind === 'patch' ? 'outline-mark patch' : 'outline-mark'} style={{ color: outline.colour }} aria-hidden="true" />
        {naming ? (
          <NameInput
            className="card-name-input"
            label="Name of the outline"
            name={name}
            onDone={(next) => {
              setNaming(false)
              if (next) setOutline(session, id, 'Rename the outline', 'name', next)
            }}
          />
        ) : (
          <button
            type="button"
            className="card-name"
            aria-expanded={selected}
            title="Show its points"
            onClick={() => tool.setState({ active: 'look', selected: selected ? null : id, point: null })}
          >
            {name}
          </button>
        )}
        <IconAction
          label={visible ? `Hide ${name}` : `Show ${name}`}
          pressed={!visible}
          onClick={() => setOutline(session, id, visible ? 'Hide the outline' : 'Show the outline', 'visible', !visible)}
        >
          {visible ? <Eye /> : <EyeOff />}
        </IconAction>
        <Menu.Root>
          <Menu.Trigger asChild>
            <button type="button" className="icon-action" aria-label={`What to do with ${name}`}>
              <Ellipsis size={15} />
            </button>
          </Menu.Trigger>
          <Portal>
            <Menu.Positioner>
              <Menu.Content>
                {planting &&
                  OUTLINE_USES[kind].map((use) => (
                    <Menu.Item key={use.label} value={use.label} disabled={planting.locked} onClick={() => give(session, planting.id, outline, use)}>
                      {planting.name} {use.label}
                    </Menu.Item>
                  ))}
                <Menu.Item value="rename" disabled={locked} onClick={() => afterMenu(() => setNaming(true))}>
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
              </Menu.Content>
            </Menu.Positioner>
          </Portal>
        </Menu.Root>
      </div>
      {selected && <OutlineFields outline={outline} />}
    </li>
  )
}

function OutlineFields({ outline }: { readonly outline: Outline }) {
  const { session } = useField()
  const { id, kind, locked } = outline
  const size = useMemo(() => sizeWords(outline), [outline])
  const users = useFieldState((state) =>
    state.history.meadow.plantings.filter(({ habitat }) => habitat.some((use) => Object.values(use.params).includes(id))).map(({ name }) => name).join(', '),
  )
  return (
    <div className="outline-fields">
      <p className="faded">
        {size}. {users ? `Used by ${users}.` : 'No planting uses it yet.'}
        {locked ? ' Locked against changes.' : ''}
      </p>
      <Toggle label="Smooth" on={outline.smooth} disabled={locked} onChange={(on) => setOutline(session, id, on ? 'Make it smooth' : 'Make it straight', 'smooth', on)} />
      {kind === 'path' && (
        <>
          <Toggle label="Closed" on={outline.closed} disabled={locked} onChange={(on) => setOutline(session, id, on ? 'Close the path' : 'Open the path', 'closed', on)} />
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

function Toggle({ label, on, disabled, onChange }: { readonly label: string; readonly on: boolean; readonly disabled: boolean; readonly onChange: (on: boolean) => void }) {
  return (
    <div className="param">
      <span className="param-label">{label}</span>
      <Switch.Root size="sm" checked={on} disabled={disabled} onCheckedChange={({ checked }) => onChange(checked)}>
        <Switch.HiddenInput aria-label={label} />
        <Switch.Control>
          <Switch.Thumb />
        </Switch.Control>
      </Switch.Root>
    </div>
  )
}

/** "0.42 ha, 38 points" or "112 m long, 9 points". */
function sizeWords(outline: Outline): string {
  const points = outline.lines.reduce((sum, line) => sum + lengthOf(line) / 2, 0)
  const area = outline.kind === 'patch' ? patchArea(outline) : 0
  const size =
    outline.kind === 'path'
      ? `${outlineLength(outline).toFixed(0)} m long`
      : area >= 5000
        ? `${(area / 10000).toFixed(2)} ha`
        : `${area.toFixed(0)} m²`
  return `${size}, ${points.toLocaleString('en')} points`
}
