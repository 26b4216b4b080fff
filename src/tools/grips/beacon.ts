import { setBeacon } from '../../document/edits/beacons.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../../state/own-task.ts'
import type { GripKind } from './define.ts'
import { tidy } from './nudge.ts'

/** A beacon is dragged over the ground. */
export const beaconGrip: GripKind = {
  kind: 'beacon',
  take({ session, view, state }, [id]) {
    if (session.meadow().beacons.find((one) => one.id === id)?.locked !== false) return null
    const gesture = newGesture()
    state.setState({ beacon: id })
    return {
      drag({ x, y }) {
        const on = view.pick(x, y)
        if (on) dragEdits.ask(() => setBeacon(session, id, 'Move the beacon', { x: tidy(on.x), z: tidy(on.z) }, gesture))
      },
      release: () => dragEdits.flush(),
    }
  },
}
