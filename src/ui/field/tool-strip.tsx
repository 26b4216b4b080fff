import { useStore } from 'zustand'
import { setToolValue, valuesOfTool } from '../../tools/define.ts'
import { TOOL_STRIP, TOOLS } from '../../tools/index.ts'
import { LivePhrase } from '../params/live-phrase.tsx'
import { hintOf } from '../parts/hints.tsx'
import { SnapControl } from './snap-control.tsx'
import { useField, useFieldState, useOpen } from './field-context.ts'

/** The tools at the foot of the picture, and the one in hand as a sentence with its settings live. */
export function ToolStrip() {
  const { tool } = useField()
  const open = useOpen()
  const active = useStore(tool, (state) => state.active)
  // Drawn anew when a setting changes.
  useStore(tool, (state) => state.settings)
  const planting = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === open)?.name ?? null)
  const kind = TOOLS.get(active)
  const phrase = kind.sentence(valuesOfTool(kind, tool), planting)
  return (
    <section className="tool-strip" aria-label="Tools" data-guide="keys">
      <div className="tools" role="radiogroup" aria-label="Tool in hand">
        {TOOL_STRIP.map((one) => (
          <button key={one.kind} type="button" role="radio" aria-checked={one.kind === active} onClick={() => tool.setState({ active: one.kind })} {...hintOf(one.help, one.keys)}>
            <svg viewBox="0 0 16 16" aria-hidden="true">
              <path d={one.drawing} />
            </svg>
            <span className="tool-label">{one.label}</span>
          </button>
        ))}
      </div>
      <p className={phrase.some((piece) => typeof piece !== 'string') ? 'tool-sentence live' : 'tool-sentence'}>
        <em>{kind.label}</em>{' '}
        <LivePhrase phrase={phrase} params={kind.params} values={valuesOfTool(kind, tool)} disabled={false} onChange={(param, value) => setToolValue(tool, kind.kind, param, value)} />
      </p>
      {kind.snaps && <SnapControl />}
    </section>
  )
}
