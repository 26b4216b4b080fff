import type { InstanceAt } from '../../document/edits/hands.ts'
import type { Chosen } from '../../state/chosen.ts'

/** What acts are told. */
export interface ActProps {
  readonly chosen: Chosen
  /** How many of each asset stand, by its number. */
  readonly kinds: ReadonlyMap<number, number>
  /** Those that stand, one by one; none of very many. */
  readonly instances: readonly InstanceAt[]
  /** Chooses others instead. */
  readonly onChoose: (next: Chosen) => void
}
