import type { Answer, Seen } from '../core/plantings/ask.ts'
import type { GrowTileInput, GrowTileOutput, HoldsInput, PreparedFacts, ProbeInput, SeeInput, TintInput, TintOutput } from './protocol.ts'
import { taskRef } from './tasks.ts'

/** What a setup says to the place that a line of sight meets; null when it meets none. */
export const PROBE = taskRef<ProbeInput, Answer | null>('probe')
/** Where lines of sight first meet grounds; null where they meet none. */
export const SEE = taskRef<SeeInput, readonly (Seen | null)[]>('see')
/** Where the conditions of a setup hold, as weights over the ground. */
export const TINT = taskRef<TintInput, TintOutput>('tint')
/** Where the conditions of a setup hold, as weights 0…255 at places; nothing of a ground that it does not know. */
export const HOLDS = taskRef<HoldsInput, Uint8Array<ArrayBuffer>>('holds')
export const PREPARE = taskRef<string, PreparedFacts>('prepare')
export const GROW_TILE = taskRef<GrowTileInput, GrowTileOutput>('grow-tile')
