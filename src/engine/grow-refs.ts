import type { Verdict } from '../core/plantings/habitat.ts'
import type { GrowSetup, GrowTileInput, GrowTileOutput, PreparedFacts, ProbeInput, TintInput, TintOutput } from './protocol.ts'
import { taskRef } from './tasks.ts'

/** What the conditions of a setup say to a place. */
export const PROBE = taskRef<ProbeInput, readonly Verdict[]>('probe')
/** Where the conditions of a setup hold, as weights over the ground. */
export const TINT = taskRef<TintInput, TintOutput>('tint')
export const PREPARE = taskRef<GrowSetup, PreparedFacts>('prepare')
export const GROW_TILE = taskRef<GrowTileInput, GrowTileOutput>('grow-tile')
