import type { RowOf } from '../../state/chosen.ts'
import { instanceUnder } from '../../state/chosen.ts'
import type { Desk, Pointer } from '../define.ts'
import { terrainHeight } from './acts.ts'

/** Things may stand so far behind the ground that is seen before them, m. */
const BEHIND = 0.6

/** The thing that is seen at a place of the picture. */
export function thingUnder({ session, view }: Desk, { x, y }: Pick<Pointer, 'x' | 'y'>): RowOf | null {
  const sight = view.sight(x, y)
  const ground = view.pick(x, y)
  // What stands behind a hill is not meant; what stands on it sinks into it a little.
  const limit = ground ? Math.hypot(ground.x - sight.origin[0], ground.y - sight.origin[1], ground.z - sight.origin[2]) + BEHIND : sight.reach
  return instanceUnder(session.instances, session.meadow(), sight, limit, terrainHeight(session))
}
