import { registry } from '../../core/kinds.ts'
import { saltings } from '../demo-meadow.ts'
import { bog } from './bog.ts'
import { quarry } from './quarry.ts'
import { terraces } from './terraces.ts'

/** The meadows to start from. */
export const STARTERS = registry('starter', [bog, quarry, saltings, terraces])
