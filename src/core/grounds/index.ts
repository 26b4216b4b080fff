import { registry } from '../kinds.ts'
import type { SpreadGround } from '../stages/plot.ts'
import type { Surroundings } from '../surroundings.ts'
import { meshGround } from './mesh-ground.ts'
import { terrainGround } from './terrain-ground.ts'

export const GROUNDS = registry('ground', [meshGround, terrainGround])

/** The grounds of these names, in their order, as far as they are there. */
export function groundsOf(ids: readonly string[], surroundings: Surroundings): SpreadGround[] {
  const all = GROUNDS.all.flatMap((kind) => kind.of(surroundings))
  return ids.flatMap((id) => all.find((ground) => ground.id === id) ?? [])
}
