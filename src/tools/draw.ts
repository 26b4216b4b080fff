import { choice, length } from '../core/kinds.ts'
import type { Outline } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { addOutlines, OUTLINE_WORDS } from '../document/edits/outlines.ts'
import { notify } from '../state/notices.ts'
import type { ActiveTool, Desk } from './define.ts'
import { drawingLine } from './drawing-line.ts'
import type { FieldTool } from '../state/field-tool.ts'
import { tellTaken } from '../state/tell-taken.ts'
import { defineTool, openOf, setToolValue } from './define.ts'

const WORDS = 'Click puts a point, drag draws freehand, Backspace takes the last point back, Enter ends, Esc cancels; or arrow keys move a cross, Enter puts a point, Enter again ends'

interface DrawValues {
  what: Outline['kind']
  line: 'straight' | 'smooth'
  width: number
}

export const draw = defineTool({
  kind: 'draw',
  label: 'Draw',
  keys: 'D',
  help: 'Draw a patch or a path on the ground, point by point or freehand.',
  place: 5,
  drawing: 'M2 13 L4.5 5 L10.5 3.5 L13.5 10Z M2 13 L13.5 10',
  cursor: 'crosshair',
  grips: false,
  cross: true,
  params: {
    what: choice('patch', [{ value: 'patch', label: 'a patch' }, { value: 'path', label: 'a path' }], { label: 'What to draw', help: 'A patch encloses ground, a path runs over it.' }),
    line: choice('straight', [{ value: 'straight', label: 'with straight sides' }, { value: 'smooth', label: 'as a smooth curve' }], { label: 'Line between points', help: 'Freehand lines are always smooth.' }),
    width: length(2, { label: 'Width of the path', help: 'How wide the path is.', max: 1000, shownWhen: { param: 'what', is: ['path'] } }),
  },
  sentence: ({ what }) => [{ param: 'what' }, ', ', { param: 'line' }, ...(what === 'path' ? [', ', { param: 'width' }, ' wide'] : [])],
  begin: (desk, values) => drawing(desk, values),
})

/** Takes the tool up to draw a patch or a path. */
export function startDrawing(state: FieldTool, what: Outline['kind']): void {
  setToolValue(state, 'draw', 'what', what)
  state.setState({ active: 'draw' })
}

function drawing(desk: Desk, values: () => DrawValues): ActiveTool {
  const { session, state } = desk
  return drawingLine(desk, {
    words: WORDS,
    closes: () => values().what === 'patch',
    smooth: () => values().line === 'smooth',
    finish(line, smooth) {
      const { what, width } = values()
      const least = what === 'patch' ? 3 : 2
      if (line.length / 2 < least) return notify('word', `A ${OUTLINE_WORDS[what]} needs at least ${least} points; click on the ground to put more.`)
      const open = openOf(desk)
      // A patch that is drawn while what fills patches is open is filled by it.
      const fills = what === 'patch' && open && !open.locked && PLANTINGS.get(open.kind).within ? open.id : null
      const id = addOutlines(session, `Draw a ${OUTLINE_WORDS[what]}`, [{ kind: what, lines: [line], smooth, ...(what === 'path' && { width }) }], fills)
      state.setState({ active: 'look', selected: id, point: null })
      tellTaken(session, session.meadow().outlines.find((one) => one.id === id))
    },
  })
}
