import { registry } from '../kinds.ts'
import { sown, spread } from './spread.ts'
import { strewn } from './strewn.ts'

export const PLANTINGS = registry('planting', [sown, spread, strewn])
