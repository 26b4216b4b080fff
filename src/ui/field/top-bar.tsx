import { MoonStar, Redo2, SunMedium, Undo2 } from 'lucide-react'
import { Link } from 'react-router'
import type { SaveState } from '../../state/field-state.ts'
import { attempt } from '../../state/notices.ts'
import { Action, IconAction } from '../parts/actions.tsx'
import { SHORTCUTS } from '../shortcuts.ts'
import { toggleTheme, useTheme } from '../theme-mode.ts'
import { useField, useFieldState } from './field-context.ts'

const SAVE_WORDS: Record<SaveState, string> = {
  saved: 'Saved',
  saving: 'Saving…',
  failed: 'Not saved; trying again',
  'tab-only': 'Only in this tab',
  gone: 'No longer kept',
  elsewhere: 'Open in another tab',
  taking: 'Taking it over…',
}

interface TopBarProps {
  readonly onHandoff: () => void
  readonly onTakeOut: () => void
  /** Leaving would lose something: asks first. */
  readonly onLeaving: () => void
}

/** Where one is, what can be undone, whether it is saved, and the way out. */
export function TopBar({ onHandoff, onTakeOut, onLeaving }: TopBarProps) {
  const { session } = useField()
  const name = useFieldState((state) => state.history.meadow.name)
  const past = useFieldState((state) => state.history.past.at(-1)?.name)
  const future = useFieldState((state) => state.history.future[0]?.name)
  const save = useFieldState((state) => state.save)
  const sentence = useFieldState((state) => state.saveSentence)
  const theme = useTheme()
  return (
    <header className="top-bar" data-guide="keeping">
      <Link
        to="/"
        className="text-action"
        onClick={(event) => {
          if (!session.wouldLose()) return
          event.preventDefault()
          onLeaving()
        }}
      >
        Gate
      </Link>
      <h1>{name}</h1>
      <IconAction label={past ? `Undo: ${past}` : 'Nothing to undo'} keys={SHORTCUTS.undo.keys} disabled={!past} onClick={session.undo}>
        <Undo2 />
      </IconAction>
      <IconAction label={future ? `Redo: ${future}` : 'Nothing to redo'} keys={SHORTCUTS.redo.keys} disabled={!future} onClick={session.redo}>
        <Redo2 />
      </IconAction>
      <span className={`save ${save}`} role="status" title={sentence ?? undefined} data-testid="save">
        {SAVE_WORDS[save]}
      </span>
      {save === 'gone' && (
        <button type="button" className="text-action" onClick={() => void attempt('Keeping it again', session.keepAgain)}>
          Keep it here again
        </button>
      )}
      {(save === 'failed' || save === 'gone' || save === 'tab-only') && (
        <button type="button" className="text-action" onClick={onTakeOut}>
          Take it out as a file
        </button>
      )}
      {save === 'elsewhere' && (
        <button type="button" className="text-action" onClick={session.takeOver}>
          Change it here
        </button>
      )}
      <span className="grow" />
      <Link className="text-action" to={`/field/${session.id}/guide`}>
        Guide
      </Link>
      <IconAction label={theme === 'dusk' ? 'Light paper' : 'Dusk paper'} onClick={toggleTheme}>
        {theme === 'dusk' ? <SunMedium /> : <MoonStar />}
      </IconAction>
      <Action main onClick={onHandoff}>
        Hand off
      </Action>
    </header>
  )
}
