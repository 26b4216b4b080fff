import { insertPoint, movePoint } from '../../document/edits/outlines.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../../state/own-task.ts'
import type { GripKind } from './define.ts'
import { tidy } from './nudge.ts'

/** A point of the selected outline is dragged over the ground. */
export const pointGrip: GripKind = {
  kind: 'point',
  take({ session, view, state }, [id, line, index]) {
    const gesture = newGesture()
    const point = { line: Number(line), index: Number(index) }
    state.setState({ point })
    return {
      drag({ x, y }) {
        const on = view.pick(x, y)
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
