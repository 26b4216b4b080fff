import { registry } from '../kinds.ts'
import { bed } from './bed.ts'
import { perch } from './perch.ts'
import { ring } from './ring.ts'
import { row } from './row.ts'
import { sown, spread } from './spread.ts'
import { strewn } from './strewn.ts'
import { trail } from './trail.ts'

export const PLANTINGS = registry('planting', [bed, perch, ring, row, sown, spread, strewn, trail])
