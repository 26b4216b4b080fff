import type { GrowSetup, GrowTileInput, GrowTileOutput, PreparedFacts } from './protocol.ts'
import { taskRef } from './tasks.ts'

export const PREPARE = taskRef<GrowSetup, PreparedFacts>('prepare')
export const GROW_TILE = taskRef<GrowTileInput, GrowTileOutput>('grow-tile')
