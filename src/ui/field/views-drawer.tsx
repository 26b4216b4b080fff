import { Maximize, PenLine, Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { removeView, renameView } from '../../document/edits/views.ts'
import { IconAction } from '../parts/actions.tsx'
import { Renamed } from '../parts/name-input.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { useField, useMeadow } from './field-context.ts'
import { keepThisView } from './makers.ts'
import { tellRemoved } from './tell.ts'

/** The saved views. */
export function ViewsDrawer() {
  const field = useField()
  const { session, landscape } = field
  const { views } = useMeadow()
  const [naming, setNaming] = useState<string | null>(null)

  const keep = () => keepThisView(field)
  return (
    <>
      <div className="drawer-head">
        <h2>Views</h2>
        <span className="row">
          <IconAction label="Show the whole meadow" keys={SHORTCUTS.whole.keys} onClick={() => landscape?.frameAll()}>
            <Maximize />
          </IconAction>
          <IconAction label="Keep this view" onClick={keep}>
            <Plus />
          </IconAction>
        </span>
      </div>
      {views.length === 0 && <p className="faded empty">No view is kept yet. Find a good one and keep it with the plus.</p>}
      <ul className="views">
        {views.map((view) => (
          <li key={view.id} className="row">
            <Renamed label="Name of the view" name={view.name} naming={naming === view.id} onNaming={(on) => setNaming(on ? view.id : null)} onRename={(name) => renameView(session, view.id, name)}>
              <button type="button" className="view-name grow" onClick={() => landscape?.flyTo(view)}>
                {view.name}
              </button>
            </Renamed>
            <IconAction label={`Rename ${view.name}`} onClick={() => setNaming(view.id)}>
              <PenLine />
            </IconAction>
            <IconAction
              label={`Remove ${view.name}`}
              onClick={() => tellRemoved(session, view.name, removeView(session, view.id))}
            >
              <Trash2 />
            </IconAction>
          </li>
        ))}
      </ul>
    </>
  )
}
