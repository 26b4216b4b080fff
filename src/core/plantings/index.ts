import { registry } from '../kinds.ts'
import { spread } from './spread.ts'

export const PLANTINGS = registry('planting', [spread])
