import type { Vector } from '../../core/hand/frames.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import type { Desk, Pointer } from '../define.ts'
import { boxCorners, REACH } from '../snap/snapper.ts'

/** The place by which a thing is held that was grabbed: the corner of its box that is near the pointer, else where it stands. */
export function gripOf(desk: Desk, { x, y }: Pick<Pointer, 'x' | 'y'>, thing: InstanceAt): Vector {
  let best: Vector = thing.place
  let least = REACH
  for (const place of [thing.place, ...boxCorners(desk, thing)]) {
    const at = desk.view.project(place[0], place[2], place[1])
    const away = at ? Math.hypot(at[0] - x, at[1] - y) : Infinity
    if (away >= least) continue
    least = away
    best = place
  }
  return best
}
