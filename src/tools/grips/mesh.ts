import type { GripKind } from './define.ts'

/** The handles at the mesh that is held: they move, turn or size it. */
export const meshGrip: GripKind = {
  kind: 'mesh',
  under: ({ view }, { x, y }) => view.handles.hover(x, y),
  take({ view }, _named, { x, y }) {
    view.handles.press(x, y)
    return {
      drag: (at) => view.handles.drag(at.x, at.y),
      release: (at) => view.handles.release(at.x, at.y),
    }
  },
}
