import { useEffect, useMemo } from 'react'
import { throwAgain } from '../../document/edits/plantings.ts'
import type { Landscape } from '../../scene/landscape.ts'
import type { FieldSession } from '../../state/field-session.ts'
import type { FieldTool } from '../../state/field-tool.ts'
import { notify } from '../../state/notices.ts'
import type { Dispatcher } from '../../tools/dispatcher.ts'
import { startDrawing } from '../../tools/draw.ts'
import { setToolValue } from '../../tools/define.ts'
import { TOOLS } from '../../tools/index.ts'
import { SNAP, snapValues } from '../../tools/snap/settings.ts'
import type { ShortcutName } from '../shortcuts.ts'
import { shortcutOf, toolOfKey } from '../shortcuts.ts'
import type { Drawer } from './drawers.tsx'

interface Commands {
  readonly session: FieldSession
  readonly tool: FieldTool
  readonly landscape: Landscape | null
  readonly dispatcher: Dispatcher | null
  readonly showDrawer: (drawer: Drawer) => void
  /** Opens a drawer, or folds it when it is open. */
  readonly foldDrawer: (drawer: Drawer) => void
  /** Folds everything away, or brings it back. */
  readonly fold: () => void
  /** Folds the open card away, or brings it back. */
  readonly foldCard: () => void
  readonly handOff: () => void
  readonly stepBack: () => void
}

/** Listens to the keys of the field. */
export function useCommands({ session, tool, landscape, dispatcher, showDrawer, foldDrawer, fold, foldCard, handOff, stepBack }: Commands): void {
  const run = useMemo(
    (): Record<ShortcutName, () => void> => ({
      undo: session.undo,
      redo: session.redo,
      plantings: () => foldDrawer('plantings'),
      ground: () => foldDrawer('ground'),
      outlines: () => foldDrawer('outlines'),
      beacons: () => foldDrawer('beacons'),
      nursery: () => foldDrawer('nursery'),
      views: () => foldDrawer('views'),
      drawPatch: () => {
        showDrawer('outlines')
        startDrawing(tool, 'patch')
      },
      drawPath: () => {
        showDrawer('outlines')
        startDrawing(tool, 'path')
      },
      clear: fold,
      card: () => {
        if (tool.getState().open) foldCard()
        else notify('word', 'No planting is open; open one by a click on its name.')
      },
      add: () => tool.setState({ choosing: true }),
      person: () => landscape?.standPerson(dispatcher?.at()),
      throwAgain: () => {
        const planting = session.meadow().plantings.find((one) => one.id === tool.getState().open)
        if (planting && !planting.locked) throwAgain(session, planting.id)
      },
      tint: () => {
        const { open, tint } = tool.getState()
        if (!open) notify('word', 'Open a planting first: its habitat is shown on the ground.')
        else tool.setState({ tint: tint?.planting === open && tint.use === null ? null : { planting: open, use: null } })
      },
      snap: () => {
        const { on } = snapValues(tool)
        setToolValue(tool, SNAP.kind, 'on', !on)
        // The strip shows it beside tools that do.
        if (!TOOLS.get(tool.getState().active).snaps) notify('word', on ? 'Things stand where the pointer is.' : 'Things are set to what is near the pointer while they are placed and moved.')
      },
      whole: () => landscape?.frameAll(),
      handoff: handOff,
    }),
    [session, tool, landscape, dispatcher, showDrawer, foldDrawer, fold, foldCard, handOff],
  )
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const name = shortcutOf(event)
      const wanted = name ? null : toolOfKey(event, TOOLS.all)
      if (name) run[name]()
      else if (wanted) tool.setState(({ active }) => ({ active: active === wanted.kind ? 'look' : wanted.kind }))
      else {
        if (event.key === 'Escape' && !event.defaultPrevented) stepBack()
        return
      }
      event.preventDefault()
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [run, tool, stepBack])
}
