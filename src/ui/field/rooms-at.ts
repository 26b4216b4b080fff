import { groundOfTile } from '../../core/grow.ts'
import type { Planting } from '../../core/meadow.ts'
import { assetsByNumber, shareGround } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import type { FieldSession } from '../../state/field-session.ts'

/** Rooms reach no farther out of their tile, m. */
const FARTHEST = 60

/** Whose room keeps a place, in a sentence. */
export interface Taken {
  readonly sentence: string
  /** The planting whose it is. */
  readonly by: string
  /** Whether it keeps the planting asked for out, being another's that comes before it. */
  readonly refuses: boolean
}

/**
 * Who has the room at a place: the instance whose room leaves none for the smallest that the planting asked for could
 * set there; null when nobody has. Only that planting and those that take their room before it on the same ground count.
 */
export function takenBy(session: FieldSession, planting: Planting, seen: Seen): Taken | null {
  const { meadow } = session.store.getState().history
  const kind = PLANTINGS.get(planting.kind)
  const rooms = planting.mix.flatMap(({ asset }) => meadow.assets.find(({ id }) => id === asset)?.room ?? [])
  const own = rooms.length > 0 ? kind.leastRoom(planting.params, rooms) : 0
  const yields = kind.yieldsToEarlier(planting.params)
  const assets = assetsByNumber(meadow.assets)
  for (const one of meadow.plantings) {
    const itself = one.id === planting.id
    const counts = itself || (yields && shareGround(one, planting) && (one.visible || !one.freeWhileHidden))
    // Where it wants no room itself, others' rooms are no matter.
    const found = counts ? nearestRoom(session, one, seen, itself || own > 0 ? own : null) : null
    if (found) {
      const who = assets.get(found.asset)?.name ?? 'something'
      const near = `${who}, ${found.away.toFixed(2)} m away, with ${found.room.toFixed(2)} m of room`
      const hidden = one.visible ? '' : ', which is hidden but holds its room'
      return itself
        ? { by: one.id, refuses: false, sentence: found.away < found.room ? `One of its own stands here: ${near}.` : `One of its own is too near for another: ${near}.` }
        : { by: one.id, refuses: true, sentence: `The room here is taken by “${one.name}”${hidden}: ${near}${own > 0 ? `; the smallest of its own wants ${own.toFixed(2)} m` : ''}.` }
    }
    if (itself) return null
  }
  return null
}

/** The nearest instance whose room leaves less than `own` at a place; null when there is none. */
function nearestRoom(session: FieldSession, planting: Planting, { ground, place: { x, y, z, normal } }: Seen, own: number | null) {
  if (own === null) return null
  let nearest: { readonly asset: number; readonly away: number; readonly room: number } | null = null
  for (const [tile, { block, rect }] of session.instances.tiles.get(planting.id) ?? []) {
    if (x < rect.x0 - FARTHEST || x > rect.x1 + FARTHEST || z < rect.z0 - FARTHEST || z > rect.z1 + FARTHEST) continue
    // On one ground whose heights go by the plan rooms are settled in plan, else straight through space.
    const inPlan = normal === null && groundOfTile(tile) === ground
    for (let i = 0; i < block.count; i++) {
      const room = block.room[i]
      const [dx, dz] = [block.position[3 * i] - x, block.position[3 * i + 2] - z]
      const up = inPlan ? 0 : block.position[3 * i + 1] - y
      const away = Math.sqrt(dx * dx + up * up + dz * dz)
      if (room > 0 && away < room + own && (!nearest || away < nearest.away)) nearest = { asset: block.asset[i], away, room }
    }
  }
  return nearest
}
