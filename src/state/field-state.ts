import type { Terrain } from '../core/grounds/terrain.ts'
import type { History } from '../document/history.ts'
import type { PlantingState } from '../growth/planting-state.ts'
import type { GroundFacts } from '../runner/io-refs.ts'

/**
 * Whether what is seen is kept: in the store; on its way there; not, and tried again; only in this tab, as
 * the browser keeps nothing or the meadow is gone from the store; written by another tab; being taken over.
 */
export type SaveState = 'saved' | 'saving' | 'failed' | 'tab-only' | 'gone' | 'elsewhere' | 'taking'

export interface FieldState {
  readonly history: History
  readonly save: SaveState
  /** Why it is not saved. */
  readonly saveSentence: string | null
  readonly plantings: Readonly<Record<string, PlantingState>>
  readonly growing: boolean
  /** Duration of the last growing, ms, and how many tiles it grew. */
  readonly lastGrowing: { readonly milliseconds: number; readonly tiles: number } | null
  readonly terrain: Terrain
  readonly facts: GroundFacts | null
}
