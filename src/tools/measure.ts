import type { Vector } from '../core/hand/frames.ts'
import { defineTool } from './define.ts'
import { createEyes, groundsSeen } from './eyes.ts'

export const measure = defineTool({
  kind: 'measure',
  label: 'Measure',
  keys: 'M',
  help: 'How far it is from one place to another, how much higher, and how steep the way.',
  place: 7,
  drawing: 'M1.5 10.5 L10.5 1.5 L14.5 5.5 L5.5 14.5Z M4.5 7.5 L6.5 9.5 M7 5 L9 7 M9.5 2.5 L11.5 4.5',
  cursor: 'crosshair',
  grips: false,
  cross: true,
  params: {},
  sentence: () => ['from one place to another: distance, difference of height, slope'],
  begin(desk) {
    const { session, state } = desk
    const eyes = createEyes(desk)
    const grounds = groundsSeen(session.meadow())
    /** Whether the second place is still sought. */
    const open = () => state.getState().measured !== null && !state.getState().measured?.done
    const put = (to: Vector, done: boolean) => state.setState(({ measured }) => ({ measured: measured && { ...measured, to, done } }))
    return {
      words: () => (open() ? 'Click where it ends; Esc begins anew' : 'Click where it begins; Esc ends'),
      press: () => true,
      release(at) {
        eyes.look(at, grounds, (seen) => {
          if (!seen) return
          const place: Vector = [seen.place.x, seen.place.y, seen.place.z]
          if (open()) put(place, true)
          else state.setState({ measured: { from: place, to: place, done: false } })
        })
      },
      hover(at) {
        if (at && open()) eyes.look(at, grounds, (seen) => seen && open() && put([seen.place.x, seen.place.y, seen.place.z], false))
      },
      escape() {
        const some = state.getState().measured !== null
        state.setState({ measured: null })
        return some
      },
      end: () => state.setState({ measured: null }),
    }
  },
})

/** "12.40 m, 1.30 m higher, 6° up; 12.33 m in plan". */
export function measureWords(from: Vector, to: Vector): string {
  const [dx, dy, dz] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]]
  const plan = Math.hypot(dx, dz)
  const steep = (Math.atan2(Math.abs(dy), plan) * 180) / Math.PI
  const level = Math.abs(dy) < 0.005 ? 'level' : `${Math.abs(dy).toFixed(2)} m ${dy > 0 ? 'higher' : 'lower'}, ${steep.toFixed(1)}° ${dy > 0 ? 'up' : 'down'}`
  return `${Math.hypot(plan, dy).toFixed(2)} m; ${level}; ${plan.toFixed(2)} m in plan`
}
