import { insertPoint, movePoint } from '../../document/edits/outlines.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../../state/own-task.ts'
import { aboveOf, pointsOf } from '../../core/outlines/outline.ts'
import type { Pointer, ToolView } from '../define.ts'
import type { GripKind } from './define.ts'
import { tidy } from './nudge.ts'

/** From where a point is held to where its foot is seen, px. */
function footFrom(view: ToolView, line: readonly number[], index: number, { x, y }: Pointer): readonly [number, number] {
  const foot = view.project(line[2 * index], line[2 * index + 1])
  return foot ? [foot[0] - x, foot[1] - y] : [0, 0]
}

/** A point of the selected outline is dragged over the ground. */
export const pointGrip: GripKind = {
  kind: 'point',
  take({ session, view, state }, [id, line, index], from) {
    const gesture = newGesture()
    const point = { line: Number(line), index: Number(index) }
    state.setState({ point })
    // A point off the ground is held where it is seen; what moves is its foot.
    const outline = session.meadow().outlines.find((one) => one.id === id)
    const held = outline && aboveOf(outline, point) !== 0 ? footFrom(view, pointsOf(outline)[point.line], point.index, from) : [0, 0]
    return {
      drag({ x, y }) {
        const on = view.pick(x + held[0], y + held[1])
        if (on) dragEdits.ask(() => movePoint(session, id, point, tidy(on.x), tidy(on.z), gesture))
      },
      release: () => dragEdits.flush(),
    }
  },
}

/** The middle between two points: pressed, it becomes a point, which the same drag moves. */
export const middleGrip: GripKind = {
  kind: 'middle',
  take(desk, [id, line, index, x, z], at) {
    insertPoint(desk.session, id, { line: Number(line), index: Number(index) }, Number(x), Number(z))
    return pointGrip.take(desk, [id, line, String(Number(index) + 1)], at)
  },
}
