import type { SpreadGround } from '../stages/plot.ts'
import type { Surroundings } from '../surroundings.ts'

/** A kind of ground: finds the grounds of its kind among what surrounds a planting. */
export interface GroundKind {
  readonly kind: string
  of(surroundings: Surroundings): readonly SpreadGround[]
}
