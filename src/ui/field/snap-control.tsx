import { ChevronUp, X } from 'lucide-react'
import { useState } from 'react'
import { useStore } from 'zustand'
import { isShown } from '../../core/kinds.ts'
import { removePegs } from '../../document/edits/pegs.ts'
import { setToolValue } from '../../tools/define.ts'
import { SNAP, snapValues } from '../../tools/snap/settings.ts'
import { ParamField } from '../params/param-field.tsx'
import { IconAction, WordAction } from '../parts/actions.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { useField, useFieldState } from './field-context.ts'
import { tellRemoved } from './tell.ts'

/** Whether things are set to what is near, and to what: beside the sentence of a tool that does. */
export function SnapControl() {
  const { tool } = useField()
  const [open, setOpen] = useState(false)
  // Read anew when a setting changes.
  useStore(tool, (state) => state.settings)
  const { on } = snapValues(tool)
  return (
    <span className="row snap-control">
      <WordAction label="Set things to corners, faces, pegs and the grid; Ctrl holds it off" word="snap" keys={SHORTCUTS.snap.keys} pressed={on} onClick={() => setToolValue(tool, SNAP.kind, 'on', !on)} />
      <IconAction label="What things are set to" pressed={open} onClick={() => setOpen(!open)}>
        <ChevronUp />
      </IconAction>
      {open && <SnapPanel onClose={() => setOpen(false)} />}
    </span>
  )
}

function SnapPanel({ onClose }: { readonly onClose: () => void }) {
  const { session, tool } = useField()
  const values = snapValues(tool)
  const pegs = useFieldState((state) => state.history.meadow.pegs.length)
  return (
    <section className="snap-panel" data-over="" aria-label="What things are set to" onKeyDown={(event) => event.key === 'Escape' && (event.stopPropagation(), onClose())}>
      <div className="drawer-head">
        <h2>Set to what is near</h2>
        <IconAction label="Close what things are set to" onClick={onClose}>
          <X />
        </IconAction>
      </div>
      {Object.entries(SNAP.params).map(([key, param]) =>
        isShown(param, values) ? <ParamField key={key} param={param} value={values[key as keyof typeof values]} onChange={(value) => setToolValue(tool, SNAP.kind, key, value)} /> : null,
      )}
      <div className="row">
        <span className="grow faded">{pegs === 0 ? 'No pegs; Place sets them, too' : `${pegs.toLocaleString('en')} ${pegs === 1 ? 'peg' : 'pegs'}`}</span>
        {pegs > 0 && (
          <button type="button" className="text-action" onClick={() => tellRemoved(session, `${pegs.toLocaleString('en')} pegs`, removePegs(session), 'taken out')}>
            take all out
          </button>
        )}
      </div>
    </section>
  )
}
