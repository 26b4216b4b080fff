import { simplify } from '../core/outlines/simplify.ts'
import { notify } from '../state/notices.ts'
import type { ActiveTool, Desk, Pointer, ToolView } from './define.ts'

/** A press that moves farther than this draws freehand, px. */
const FREEHAND = 6
/** A click this near to the first or last point means that point, px. */
const NEAR = 9
/** Freehand lines are thinned out to within so many px. */
const TOLERANCE = 2.5

/** What a line is drawn for. */
export interface LineDrawing {
  readonly words: string
  /** Whether its end is joined to its beginning. */
  closes(): boolean
  /** Whether a line put down point by point is a curve; freehand ones always are. */
  smooth(): boolean
  /** The line has been drawn to its end: x z x z …, m. */
  finish(line: number[], smooth: boolean): void
}

/** Draws lines on the ground, point by point or freehand. */
export function drawingLine({ view, state }: Desk, { words, closes, smooth, finish }: LineDrawing): ActiveTool {
  /** Points of the stroke that is being drawn freehand; null between strokes. */
  let stroke: number[] | null = null
  /** How many numbers of the line shown are the stroke's. */
  let strokeShown = 0
  const points = () => state.getState().drawing ?? []
  const put = (next: readonly number[]) => state.setState({ drawing: next, closes: closes() })
  const end = (curved: boolean) => finish([...points()], curved)
  put([])
  state.setState({ selected: null, point: null })

  return {
    words: () => words,
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
        if (before.length === 0) end(true)
        return
      }
      const now = points()
      const n = now.length
      if (n >= 6 && isNear(view, at, now[0], now[1])) return end(smooth())
      if (n >= 2 && isNear(view, at, now[n - 2], now[n - 1])) return
      const on = placeUnder(view, at)
      if (on) put([...now, ...on])
      else notify('word', 'There is no ground there; click on the ground.')
    },
    cancel() {
      put(points().slice(0, points().length - strokeShown))
      stroke = null
    },
    double: () => end(smooth()),
    key({ key, target }) {
      if (key === 'Backspace') put(points().slice(0, -2))
      // A button with the focus keeps its Enter.
      else if (key === 'Enter' && points().length > 0 && !(target as Element | null)?.closest('button')) end(smooth())
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
