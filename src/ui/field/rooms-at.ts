import { groundOfTile } from '../../core/grow.ts'
import type { Planting } from '../../core/meadow.ts'
import { assetsByNumber, shareGround } from '../../core/meadow.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import type { FieldSession } from '../../state/field-session.ts'

/** Rooms reach no farther out of their tile, m. */
const FARTHEST = 60

/**
 * Who stands at a place: the instance whose room covers it, in a sentence; null when nobody does.
 * Only the planting asked for and those that take their room before it on the same ground count.
 */
export function takenBy(session: FieldSession, planting: Planting, { ground, place: { x, y, z, normal } }: Seen): string | null {
  const { meadow } = session.store.getState().history
  const { id } = planting
  const assets = assetsByNumber(meadow.assets)
  for (const one of meadow.plantings) {
    if (!shareGround(one, planting)) continue
    for (const [tile, { block, rect }] of session.instances.tiles.get(one.id) ?? []) {
      if (x < rect.x0 - FARTHEST || x > rect.x1 + FARTHEST || z < rect.z0 - FARTHEST || z > rect.z1 + FARTHEST) continue
      // On one ground whose heights go by the plan rooms are settled in plan, else straight through space.
      const inPlan = normal === null && groundOfTile(tile) === ground
      for (let i = 0; i < block.count; i++) {
        const up = inPlan ? 0 : block.position[3 * i + 1] - y
        const away = Math.hypot(block.position[3 * i] - x, up, block.position[3 * i + 2] - z)
        if (away >= block.room[i]) continue
        const who = assets.get(block.asset[i])?.name ?? 'something'
        const near = `${away.toFixed(2)} m away, with ${block.room[i].toFixed(2)} m of room`
        return one.id === id ? `One of its own stands here: ${who}, ${near}.` : `The room here is taken by “${one.name}”: ${who}, ${near}.`
      }
    }
    if (one.id === id) return null
  }
  return null
}
