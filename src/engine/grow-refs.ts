import type { Verdict } from '../core/plantings/habitat.ts'
import type { GrowSetup, GrowTileInput, GrowTileOutput, PreparedFacts } from './protocol.ts'
import { taskRef } from './tasks.ts'

/** What the conditions of a setup say to a place. */
export const PROBE = taskRef<{ readonly setup: GrowSetup; readonly x: number; readonly z: number }, readonly Verdict[]>('probe')
export const PREPARE = taskRef<GrowSetup, PreparedFacts>('prepare')
export const GROW_TILE = taskRef<GrowTileInput, GrowTileOutput>('grow-tile')
