import { registry } from '../kinds.ts'
import { sown, spread } from './spread.ts'

export const PLANTINGS = registry('planting', [sown, spread])
