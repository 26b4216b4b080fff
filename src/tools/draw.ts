import { choice, length } from '../core/kinds.ts'
import type { Outline } from '../core/meadow.ts'
import { simplify } from '../core/outlines/simplify.ts'
import { addOutlines, OUTLINE_WORDS } from '../document/edits/outlines.ts'
import { notify } from '../state/notices.ts'
import type { ActiveTool, Desk, Pointer, ToolView } from './define.ts'
import type { FieldTool } from '../state/field-tool.ts'
import { tellTaken } from '../state/tell-taken.ts'
import { defineTool, setToolValue } from './define.ts'

/** A press that moves farther than this draws freehand, px. */
const FREEHAND = 6
/** A click this near to the first or last point means that point, px. */
const NEAR = 9
/** Freehand lines are thinned out to within so many px. */
const TOLERANCE = 2.5

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
  place: 4,
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

function drawing({ session, view, state }: Desk, values: () => DrawValues): ActiveTool {
  /** Points of the stroke that is being drawn freehand; null between strokes. */
  let stroke: number[] | null = null
  /** How many numbers of the line shown are the stroke's. */
  let strokeShown = 0
  const points = () => state.getState().drawing ?? []
  const put = (next: readonly number[]) => state.setState({ drawing: next })
  put([])
  state.setState({ selected: null, point: null })

  function finish(smooth: boolean): void {
    const { what, width } = values()
    const least = what === 'patch' ? 3 : 2
    const line = [...points()]
    if (line.length / 2 < least) {
      notify('word', `A ${OUTLINE_WORDS[what]} needs at least ${least} points; click on the ground to put more.`)
      return
    }
    const id = addOutlines(session, `Draw a ${OUTLINE_WORDS[what]}`, [{ kind: what, lines: [line], smooth, ...(what === 'path' && { width }) }])
    state.setState({ active: 'look', selected: id, point: null })
    tellTaken(session, session.meadow().outlines.find((one) => one.id === id))
  }
  const smooth = () => values().line === 'smooth'

  return {
    words: () => WORDS,
    press() {
      stroke = []
      strokeShown = 0
      return true
    },
    drag(at) {
      if (!stroke || (stroke.length === 0 && at.moved < FREEHAND)) return
      const on = placeUnder(view, at)
      if (on) stroke.push(...on)
      put([...points().slice(0, points().length - strokeShown), ...stroke])
      strokeShown = stroke.length
    },
    release(at) {
      const drawn = stroke ?? []
      stroke = null
      if (drawn.length > 0) {
        const before = points().slice(0, points().length - strokeShown)
        put([...before, ...simplify(drawn, TOLERANCE * metresAPixel(view, drawn))])
        if (before.length === 0) finish(true)
        return
      }
      const now = points()
      const n = now.length
      if (n >= 6 && isNear(view, at, now[0], now[1])) return finish(smooth())
      if (n >= 2 && isNear(view, at, now[n - 2], now[n - 1])) return
      const on = placeUnder(view, at)
      if (on) put([...now, ...on])
      else notify('word', 'There is no ground there; click on the ground.')
    },
    cancel() {
      put(points().slice(0, points().length - strokeShown))
      stroke = null
    },
    double: () => finish(smooth()),
    key({ key, target }) {
      if (key === 'Backspace') put(points().slice(0, -2))
      // A button with the focus keeps its Enter.
      else if (key === 'Enter' && !(target as Element | null)?.closest('button')) finish(smooth())
      else return false
      return true
    },
    end: () => state.setState({ drawing: null }),
  }
}

/** The place of the ground under the pointer, to the centimetre. */
function placeUnder(view: ToolView, { x, y }: Pointer): [number, number] | null {
  const on = view.pick(x, y)
  return on && [Math.round(on.x * 100) / 100, Math.round(on.z * 100) / 100]
}

function isNear(view: ToolView, { x, y }: Pointer, px: number, pz: number): boolean {
  const at = view.project(px, pz)
  return at !== null && Math.hypot(at[0] - x, at[1] - y) < NEAR
}

/** Size of a pixel on the ground along a stroke, m. */
function metresAPixel(view: ToolView, stroke: readonly number[]): number {
  let way = 0
  let pixels = 0
  for (let i = 2; i < stroke.length; i += 2) {
    way += Math.hypot(stroke[i] - stroke[i - 2], stroke[i + 1] - stroke[i - 1])
    const [p, q] = [view.project(stroke[i - 2], stroke[i - 1]), view.project(stroke[i], stroke[i + 1])]
    if (p && q) pixels += Math.hypot(p[0] - q[0], p[1] - q[1])
  }
  return pixels > 0 ? way / pixels : 0.1
}
