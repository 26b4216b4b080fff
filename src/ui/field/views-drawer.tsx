import { Maximize, PenLine, Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { newId } from '../../document/new-planting.ts'
import { IconAction } from '../parts/actions.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { useField, useMeadow } from './field-context.ts'

/** The saved views. */
export function ViewsDrawer() {
  const { session, landscape } = useField()
  const { views } = useMeadow()
  const [naming, setNaming] = useState<{ id: string; name: string } | null>(null)

  function keep() {
    if (!landscape) return
    const view = landscape.view()
    session.edit('Keep a view', (meadow) => void meadow.views.push({ id: newId(), name: `View ${meadow.views.length + 1}`, ...view }))
  }
  function rename() {
    if (naming && naming.name.trim() !== '')
      session.edit('Rename a view', (meadow) => {
        const view = meadow.views.find((one) => one.id === naming.id)
        if (view) view.name = naming.name.trim()
      })
    setNaming(null)
  }
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
            {naming?.id === view.id ? (
              <input
                aria-label="Name of the view"
                autoFocus
                value={naming.name}
                maxLength={120}
                onChange={(event) => setNaming({ id: view.id, name: event.target.value })}
                onBlur={rename}
                onKeyDown={(event) => {
                  if (event.key === 'Enter') rename()
                  if (event.key === 'Escape') setNaming(null)
                }}
              />
            ) : (
              <button type="button" className="view-name grow" onClick={() => landscape?.flyTo(view)}>
                {view.name}
              </button>
            )}
            <IconAction label={`Rename ${view.name}`} onClick={() => setNaming({ id: view.id, name: view.name })}>
              <PenLine />
            </IconAction>
            <IconAction
              label={`Remove ${view.name}`}
              onClick={() => session.edit('Remove a view', (meadow) => void (meadow.views = meadow.views.filter((one) => one.id !== view.id)))}
            >
              <Trash2 />
            </IconAction>
          </li>
        ))}
      </ul>
    </>
  )
}
